"""What a process of ours does without: it draws, answers and ends, and nobody asks Python for help in it.

In somebody's own process all of this has to be there, so only the command line leaves it out.
"""

from __future__ import annotations

import sys
from types import ModuleType
from typing import Final

FIRST_WITH_TABLES: Final = "matplotlib.patches"


def begin_lean() -> None:
    """Load less from here on: together this is an eighth of the time that drawing a small file takes."""
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
    """Finds no module; keeps Matplotlib from writing tables of properties into the help on its classes."""

    @classmethod
    def find_spec(cls, name: str, *_: object) -> None:
        """Let others find it. When the first module with tables is loaded, what writes them is there."""
        if name == FIRST_WITH_TABLES:
            sys.meta_path.remove(cls)
            vars(sys.modules["matplotlib.artist"])["kwdoc"] = lambda _: ""
