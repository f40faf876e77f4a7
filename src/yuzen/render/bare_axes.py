"""Axes without ticks: charts draw their own, and Matplotlib's take a fifth of the time."""

from matplotlib.axes import Axes
from matplotlib.axis import Axis, XAxis, YAxis


class _Bare(Axis):
    """An axis whose ticks are made when somebody shows them."""

    def reset_ticks(self) -> None:
        """Forget all ticks, and make no first one that others would be like."""
        super().reset_ticks()
        self.majorTicks, self.minorTicks = [], []


class _BareX(_Bare, XAxis):
    """From left to right."""


class _BareY(_Bare, YAxis):
    """From bottom to top."""


class BareAxes(Axes):
    """Axes as any others, made faster."""

    def _init_axis(self) -> None:
        """Make the two axes; this is where Matplotlib lets its projections put their own."""
        self.xaxis = _BareX(self, clear=False)
        self.yaxis = _BareY(self, clear=False)
        for name in ("bottom", "top"):
            self.spines[name].register_axis(self.xaxis)
        for name in ("left", "right"):
            self.spines[name].register_axis(self.yaxis)
