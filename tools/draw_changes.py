"""Draws docs/screenshots/changes.png: what the busiest routes' chart shows new in June."""

from __future__ import annotations

from pathlib import Path

import yuzen as yz
from yuzen.charts.comparison import compare

DEMO = Path(yz.__file__).parent / "demo"
TARGET = Path(__file__).parents[1] / "docs" / "screenshots" / "changes.png"


def main() -> None:
    """Compare two months of the demo's routes."""
    chart = yz.chart(
        DEMO / "data" / "routes.csv",
        category="route",
        value="passengers",
        title='{names "busiest"} were busiest, '
        'and {count "loss":.0f} of {count:.0f} routes lost money',
        subtitle="Passengers by route, June 2026",
    )
    chart = chart.rule("surplus negative", name="loss", key="Ran at a loss", color="adverse")
    chart = chart.rule("top 3", name="busiest", key="Top 3 by passengers", color="favorable")
    may, june = (
        chart.keep(f'service = "ferry" and month = "2026-{month}"') for month in ("05", "06")
    )
    found = compare(may, june)
    print(found)
    print(found.pictured("May").save(TARGET))


if __name__ == "__main__":
    main()
