"""How each kind of chart is drawn: a file of the kind's name, with its PLOT."""

from importlib import import_module

from yuzen.draw.plots.plot import PlotKind


def plot_kind(name: str) -> PlotKind:
    """How a kind of the table of kinds is drawn."""
    kind: PlotKind = import_module(f"{__name__}.{name}").PLOT
    return kind
