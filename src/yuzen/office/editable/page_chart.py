"""A page as one chart that can be edited, or why it cannot be one."""

from __future__ import annotations

from yuzen.office.editable.chart import EditableChart, NotEditable
from yuzen.office.editable.plots import plot_chart
from yuzen.office.editable.rings import ring_chart
from yuzen.office.editable.scatters import dots_chart, scatter_chart
from yuzen.page.page import Page
from yuzen.page.plot import Plot
from yuzen.page.ring import Ring
from yuzen.page.scatter import Scatter

MAX_POINTS = 10_000  # of a chart that can be edited; more make a program wait for minutes


def page_chart(page: Page) -> EditableChart:
    """The chart of a page. Raises NotEditable for what such charts cannot show."""
    if len(page.plots) != 1:
        raise NotEditable("several small charts beside one another")
    plot = page.plots[0]
    if plot.note:
        raise NotEditable("an empty plot")
    if isinstance(plot, Ring):
        chart = ring_chart(plot, page.theme)
    elif isinstance(plot, Scatter):
        chart = scatter_chart(plot, page.theme, page.key)
    elif isinstance(plot, Plot) and plot.layers[0].shape.name == "dot":
        chart = dots_chart(plot, page.theme)
    elif isinstance(plot, Plot):
        chart = plot_chart(plot, page.theme)
    else:
        raise NotEditable("a table")
    if sum(len(series.values) for series in chart.series) > MAX_POINTS:
        raise NotEditable(f"more than {MAX_POINTS:,} points")
    return chart
