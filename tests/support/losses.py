"""A chart of routes that run at a loss, and the briefs of a small report."""

from __future__ import annotations

from typing import Any

import yuzen as yz

SMALL = ("busiest", "complaints", "within_waters")


def losses(rows: Any = None, **keys: Any) -> yz.Chart:
    rows = rows or {"route": ["Brinewick", "Kelpwick", "Larkholm"], "surplus": [-300, 120, 7]}
    chart = yz.chart(rows, category="route", value="surplus", **keys)
    return chart.rule("negative", name="loss", key="Runs at a loss", color="adverse")
