"""Settings of a process of our own, which draws, answers and ends.

In somebody's own process all of this has to be there, so only the command line leaves it out.
"""

import sys
from types import ModuleType

FIRST_WITH_TABLES = "matplotlib.patches"


def begin_lean() -> None:
    """Load less from here on, which saves an eighth of the time of drawing a small file."""
    _stand_in(
        "mpl_toolkits.mplot3d", Axes3D=type("Axes3D", (), {"name": "3d"})
    )  # what is asked of it
    _stand_in(
        "pydantic.plugin._loader", get_plugins=tuple
    )  # it would ask all that is installed for plugins
    sys.meta_path.insert(0, WithoutTables)


def _stand_in(name: str, **has: object) -> None:
    """Let a module be there that has only this, and is not looked for."""
    module = ModuleType(name)
    vars(module).update(has)
    sys.modules.setdefault(name, module)


class WithoutTables:
    """A finder of no modules that keeps Matplotlib from writing property tables into its help."""

    @classmethod
    def find_spec(cls, name: str, *_: object) -> None:
        """Leave modules to others; the first one with tables shows that their writer is loaded."""
        if name == FIRST_WITH_TABLES:
            sys.meta_path.remove(cls)
            vars(sys.modules["matplotlib.artist"])["kwdoc"] = lambda _: ""
