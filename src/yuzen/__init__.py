"""Data rules in plain words that colour the exceptions of static business charts."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from yuzen.charts import Chart, chart, load, load_picture
    from yuzen.errors import Fault, YuzenError

__version__ = "0.1.0"
__all__ = ["Chart", "Fault", "YuzenError", "chart", "load", "load_picture"]

# A name is loaded when it is first used, so that the command line's help needs neither pandas nor
# Matplotlib.
_HOMES = {
    "Chart": "yuzen.charts",
    "Fault": "yuzen.errors",
    "YuzenError": "yuzen.errors",
    "chart": "yuzen.charts",
    "load": "yuzen.charts",
    "load_picture": "yuzen.charts",
}


def __getattr__(name: str) -> object:
    if name not in _HOMES:
        raise AttributeError(f"module 'yuzen' has no attribute '{name}'")
    return getattr(import_module(_HOMES[name]), name)


def __dir__() -> list[str]:
    return sorted([*__all__, "__version__"])
