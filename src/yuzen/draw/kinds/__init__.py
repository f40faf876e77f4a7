"""How each kind of chart is drawn: a file of the kind's name, with its PLOT."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING

from yuzen.draw.plot import AxesKind

if TYPE_CHECKING:
    from yuzen.draw.plot import PlotKind


def plot_kind(name: str) -> PlotKind:
    """How a kind of the table of kinds is drawn."""
    found: PlotKind = import_module(f"{__name__}.{name}").PLOT
    return found


def axes_kind(name: str) -> AxesKind:
    """How a kind that stands on axes is drawn, alone or in panels."""
    kind = plot_kind(name)
    assert isinstance(kind, AxesKind)  # noqa: S101 - panels of others are refused when the brief is read
    return kind
