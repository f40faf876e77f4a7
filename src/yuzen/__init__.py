"""Data rules in plain words that colour the exceptions of static business charts."""

from __future__ import annotations

import sys
from importlib import import_module
from types import ModuleType

from yuzen.release import VERSION

TYPE_CHECKING = False  # type checkers take it for True; `typing` takes half the time of a help page
if TYPE_CHECKING:
    from typing import TypeAlias

    from yuzen.artists.painted import Painted, paint
    from yuzen.brief.rule_objects import reference, rule
    from yuzen.call_limits import limits
    from yuzen.charts.begin import chart, load, load_picture, loads
    from yuzen.charts.chart import Chart
    from yuzen.charts.comparison import Comparison, compare
    from yuzen.charts.judging import colors, ink, judge
    from yuzen.charts.verdicts import Verdicts
    from yuzen.checks.finding import Finding
    from yuzen.documents.report import Report, load_report, report
    from yuzen.errors import Fault, YuzenError
    from yuzen.explain.summary import ChartSummary
    from yuzen.explain.why import Why
    from yuzen.files.insets import Inset
    from yuzen.jobs.batches import DrawResult, save_all
    from yuzen.recolor.painted_file import PaintedFile
    from yuzen.rules.grammar.builders import (
        above,
        always,
        average,
        below,
        between,
        bottom,
        deviation,
        every,
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
    from yuzen.starts.starting import Start, start

    Edition: TypeAlias = DrawResult  # the names that old scripts use
    Outcome: TypeAlias = Verdicts

__version__ = VERSION
__all__ = [
    "Chart",
    "ChartSummary",
    "Comparison",
    "Database",
    "DrawResult",
    "Fault",
    "Finding",
    "Inset",
    "Painted",
    "PaintedFile",
    "Report",
    "Start",
    "Verdicts",
    "Why",
    "YuzenError",
    "above",
    "always",
    "average",
    "below",
    "between",
    "bottom",
    "chart",
    "colors",
    "compare",
    "deviation",
    "every",
    "falls",
    "first",
    "ink",
    "judge",
    "last",
    "limits",
    "load",
    "load_picture",
    "load_report",
    "loads",
    "measure",
    "median",
    "outlier",
    "paint",
    "percent",
    "position",
    "previous",
    "rank",
    "reference",
    "report",
    "rises",
    "rule",
    "save_all",
    "start",
    "top",
]

# A name is loaded when it is first used, so that the command line's help needs neither pandas nor
# Matplotlib.
_BUILDERS = "yuzen.rules.grammar.builders"
_HOMES = {
    "yuzen.artists.painted": ("Painted", "paint"),
    "yuzen.brief.rule_objects": ("reference", "rule"),
    "yuzen.charts.begin": ("chart", "load", "load_picture", "loads"),
    "yuzen.charts.chart": ("Chart",),
    "yuzen.charts.comparison": ("Comparison", "compare"),
    "yuzen.charts.judging": ("colors", "ink", "judge"),
    "yuzen.charts.verdicts": ("Verdicts",),
    "yuzen.checks.finding": ("Finding",),
    "yuzen.explain.why": ("Why",),
    "yuzen.explain.summary": ("ChartSummary",),
    "yuzen.files.insets": ("Inset",),
    "yuzen.recolor.painted_file": ("PaintedFile",),
    "yuzen.documents.report": ("Report", "load_report", "report"),
    "yuzen.errors": ("Fault", "YuzenError"),
    "yuzen.call_limits": ("limits",),
    "yuzen.jobs.batches": ("DrawResult", "save_all"),
    "yuzen.sources.sql.database": ("Database",),
    "yuzen.starts.starting": ("Start", "start"),
}
_FORMER_NAMES = {"Edition": "DrawResult", "Outcome": "Verdicts"}  # which old scripts may use
_FORMER_MODULES = {"yuzen.comparing": "yuzen.charts.comparison"}


def __getattr__(name: str) -> object:
    current = _FORMER_NAMES.get(name, name)
    if current not in __all__:
        raise AttributeError(f"module 'yuzen' has no attribute '{name}'")
    home = next((home for home, names in _HOMES.items() if current in names), _BUILDERS)
    return getattr(import_module(home), current)


def __dir__() -> list[str]:
    return sorted([*__all__, "__version__"])


class _FormerModule(ModuleType):
    """A module that was here; its names are looked up where they are now."""

    def __getattr__(self, name: str) -> object:
        return getattr(import_module(_FORMER_MODULES[self.__name__]), name)


sys.modules.update({name: _FormerModule(name) for name in _FORMER_MODULES})
comparing = sys.modules["yuzen.comparing"]
