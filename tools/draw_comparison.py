"""Draws docs/screenshots/exact.png: the same line by a masked column, and by a rule.

python tools/draw_comparison.py
"""

from __future__ import annotations

import io
from pathlib import Path

import pandas as pd
from matplotlib.figure import Figure
from PIL import Image

import yuzen as yz

ROUTES = Path(yz.__file__).parent / "demo" / "data" / "routes.csv"
SIZE = (640, 520)


def by_hand(rows: pd.DataFrame) -> Image.Image:
    """What masking the values gives: red begins and ends at months, and leaves holes at the crossings."""
    surplus = rows.groupby(pd.to_datetime(rows["month"]))["surplus"].sum()
    figure = Figure(figsize=(SIZE[0] / 100, SIZE[1] / 100), dpi=100)
    axes = figure.add_axes((0.13, 0.12, 0.84, 0.68))
    above, below = surplus.where(surplus >= 0), surplus.where(surplus < 0)
    axes.fill_between(surplus.index, above, 0, color="#0A4A80", alpha=0.25, linewidth=0)
    axes.fill_between(surplus.index, below, 0, color="#C63E2F", alpha=0.25, linewidth=0)
    axes.plot(surplus.index, above, color="#0A4A80", linewidth=2)
    axes.plot(surplus.index, below, color="#C63E2F", linewidth=2)
    axes.axhline(0, color="#22272C", linewidth=1)
    figure.text(0.03, 0.92, "By masked columns: holes at every crossing", fontsize=13, fontweight="bold")
    buffer = io.BytesIO()
    figure.savefig(buffer, format="png")
    return Image.open(buffer)


def by_rule(rows: pd.DataFrame) -> Image.Image:
    """What two rules give."""
    chart = yz.chart(
        rows,
        kind="area",
        category="month",
        value="surplus",
        title="By two rules: cut at zero",
        size={"width": SIZE[0], "height": SIZE[1]},
        footer="",
    )
    chart = chart.rule("positive", color="favorable").rule("negative", color="adverse").label("")
    return Image.open(io.BytesIO(chart.image("png")))


def main() -> None:
    """Both, side by side."""
    rows = pd.read_csv(ROUTES)
    rows = rows[rows["route"] == "Brinewick"]
    sheet = Image.new("RGB", (2 * SIZE[0], SIZE[1]), "white")
    for place, picture in enumerate((by_hand(rows), by_rule(rows))):
        sheet.paste(picture.convert("RGB"), (place * SIZE[0], 0))
    sheet.save(Path(__file__).parents[1] / "docs" / "screenshots" / "exact.png", optimize=True)


if __name__ == "__main__":
    main()
