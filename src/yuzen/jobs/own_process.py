"""Settings of a process of our own, which draws, answers and ends.

In somebody's own process all of this has to be there, so only the command line leaves it out.
"""

import sys
from importlib.abc import Loader
from importlib.machinery import ModuleSpec, PathFinder
from types import ModuleType
from typing import Any, Final

FIRST_WITH_TABLES: Final = "matplotlib.patches"
WITH_TYPED_DICTS: Final = "pydantic_core.core_schema"
TYPING: Final = ("typing", "typing_extensions")


def begin_lean() -> None:
    """Load less from here on, which saves more than an eighth of a small picture's time."""
    _stand_in(
        "mpl_toolkits.mplot3d", Axes3D=type("Axes3D", (), {"name": "3d"})
    )  # what is asked of it
    _stand_in(
        "pydantic.plugin._loader", get_plugins=tuple
    )  # it would ask all that is installed for plugins
    # They write NumPy's help, which nobody reads here, into its functions.
    _stand_in("numpy._core._add_newdocs")
    _stand_in("numpy._core._add_newdocs_scalars")
    sys.meta_path[:0] = [WithoutTables, WithPlainDicts]


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


class WithPlainDicts:
    """A finder of the one module in which pydantic describes its schemas for type checkers."""

    @classmethod
    def find_spec(cls, name: str, path: Any, *_: object) -> ModuleSpec | None:  # noqa: ANN401 - the import system's
        """The module where it is installed, loaded in another way."""
        if name != WITH_TYPED_DICTS:
            return None
        sys.meta_path.remove(cls)
        spec = PathFinder.find_spec(name, path)
        if spec is not None and spec.loader is not None:
            spec.loader = PlainDictsLoader(spec.loader)
        return spec


class PlainDictsLoader(Loader):
    """Loads a module whose typed dictionaries nobody asks for their types.

    To make a hundred of them takes longer than all else in the module.
    """

    def __init__(self, loader: Loader) -> None:
        self._loader = loader

    def exec_module(self, module: ModuleType) -> None:
        """Run the module."""
        # pydantic takes them from the first or from the second, by the version of Python.
        sources = [vars(sys.modules[name]) for name in TYPING if name in sys.modules]
        kept = [source["TypedDict"] for source in sources]
        for source in sources:
            source["TypedDict"] = PlainDict
        try:
            self._loader.exec_module(module)
        finally:
            for source, typed_dict in zip(sources, kept, strict=True):
                source["TypedDict"] = typed_dict


class PlainDict(dict[str, Any]):
    """What stands for a typed dictionary."""

    def __init_subclass__(cls, *, total: bool = True) -> None:
        """Take what a typed dictionary takes."""
