"""Data rules in plain words that colour the exceptions of static business charts."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING

from yuzen.release import VERSION

if TYPE_CHECKING:
    from yuzen.artists.painted import Painted, paint
    from yuzen.brief.rule_objects import reference, rule
    from yuzen.charts.begin import chart, load, load_picture
    from yuzen.charts.chart import Chart
    from yuzen.charts.judging import colors, ink, judge
    from yuzen.charts.verdicts import Outcome
    from yuzen.errors import Fault, YuzenError
    from yuzen.jobs.batches import Edition, save_all
    from yuzen.rules.language.builders import (
        above,
        always,
        average,
        below,
        between,
        bottom,
        deviation,
        falls,
        first,
        last,
        measure,
        median,
        outlier,
        percent,
        position,
        previous,
        rank,
        rises,
        top,
    )
    from yuzen.sources.sql.database import Database

__version__ = VERSION
__all__ = [
    "Chart",
    "Database",
    "Edition",
    "Fault",
    "Outcome",
    "Painted",
    "YuzenError",
    "above",
    "always",
    "average",
    "below",
    "between",
    "bottom",
    "chart",
    "colors",
    "deviation",
    "falls",
    "first",
    "ink",
    "judge",
    "last",
    "load",
    "load_picture",
    "measure",
    "median",
    "outlier",
    "paint",
    "percent",
    "position",
    "previous",
    "rank",
    "reference",
    "rises",
    "rule",
    "save_all",
    "top",
]

# A name is loaded when it is first used, so that the command line's help needs neither pandas nor
# Matplotlib.
_HOMES = {
    "yuzen.jobs.batches": ("Edition", "save_all"),
    "yuzen.brief.rule_objects": ("reference", "rule"),
    "yuzen.charts.chart": ("Chart",),
    "yuzen.charts.begin": ("chart", "load", "load_picture"),
    "yuzen.errors": ("Fault", "YuzenError"),
    "yuzen.charts.verdicts": ("Outcome",),
    "yuzen.artists.painted": ("Painted", "paint"),
    "yuzen.sources.sql.database": ("Database",),
    "yuzen.charts.judging": ("colors", "ink", "judge"),
}


def __getattr__(name: str) -> object:
    if name not in __all__:
        raise AttributeError(f"module 'yuzen' has no attribute '{name}'")
    home = next(
        (home for home, names in _HOMES.items() if name in names), "yuzen.rules.language.builders"
    )
    return getattr(import_module(home), name)


def __dir__() -> list[str]:
    return sorted([*__all__, "__version__"])
