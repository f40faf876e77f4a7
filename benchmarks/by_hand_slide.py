"""A slide by a script as an analyst writes it: python by_hand_slide.py ROUTES.CSV OUT.PPTX."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING

import pandas as pd
from pptx import Presentation
from pptx.chart.data import CategoryChartData
from pptx.dml.color import RGBColor
from pptx.enum.chart import XL_CHART_TYPE, XL_LABEL_POSITION
from pptx.util import Inches, Pt

if TYPE_CHECKING:
    from pathlib import Path

BARS = 12


def slide(rows: pd.DataFrame, path: str | Path) -> None:
    """Twelve bars of routes: losses red, the largest three blue, the rest grey; numbers at them."""
    routes = rows.groupby("route")[["passengers", "surplus"]].sum()
    routes = routes.sort_values("passengers", ascending=False).head(BARS)
    deck = Presentation()
    page = deck.slides.add_slide(deck.slide_layouts[5])
    page.shapes.title.text = "The busiest routes"
    data = CategoryChartData()
    data.categories = list(routes.index)
    data.add_series("passengers", routes["passengers"].tolist())
    place = (Inches(0.5), Inches(1.5), Inches(9), Inches(5.5))
    chart = page.shapes.add_chart(XL_CHART_TYPE.BAR_CLUSTERED, *place, data).chart
    chart.has_legend = False
    chart.category_axis.reverse_order = True
    chart.value_axis.visible = False
    plot = chart.plots[0]
    plot.gap_width = 45
    for number, (point, loss) in enumerate(
        zip(plot.series[0].points, routes["surplus"] < 0, strict=False)
    ):
        color = "C63E2F" if loss else "0A4A80" if number < 3 else "C9CCD0"
        point.format.fill.solid()
        point.format.fill.fore_color.rgb = RGBColor.from_string(color)
        label = point.data_label
        label.has_text_frame = True
        label.position = XL_LABEL_POSITION.OUTSIDE_END
        run = label.text_frame.paragraphs[0].add_run()
        run.text = f"{routes['passengers'].iloc[number]:,.0f}"
        run.font.size, run.font.bold = Pt(11), color != "C9CCD0"
        run.font.color.rgb = RGBColor.from_string("22272C" if color == "C9CCD0" else color)
    deck.save(str(path))


if __name__ == "__main__":
    table = pd.read_csv(sys.argv[1])
    table = table[(table["service"] == "ferry") & (table["month"] > "2025-06")]
    slide(table, sys.argv[2])
