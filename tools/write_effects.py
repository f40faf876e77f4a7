"""Writes the table of effects into docs/rules.md, between its two marks.

With --check it only compares.
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Final

from yuzen.brief.sections.effects import EFFECT_TABLE, Effect
from yuzen.page.shapes import AREA, BAR, CELL, DOT, LINE, POINT, SLICE, TICK, TREND

PAGE: Final = Path(__file__).parent.parent / "docs" / "rules.md"
BEGIN: Final = "<!-- the table of effects, written by make format -->\n"
END: Final = "<!-- end of the table -->\n"
PLURALS: Final = {
    BAR: "bars",
    LINE: "lines",
    AREA: "areas",
    TICK: "ticks",
    CELL: "cells of tables",
    SLICE: "slices",
    DOT: "dots",
    POINT: "points of scatters",
    TREND: "small lines",
}
LAYERS: Final = {shape for shape in PLURALS if shape.drawn}
MARKS: Final = LAYERS - {TICK}  # what a chart's own marks can be; ticks are layers


def table() -> str:
    """The table as Markdown."""
    rows = [
        f"| `{effect.name}` | {effect.about} | {_targets(effect)} |\n" for effect in EFFECT_TABLE
    ]
    return "".join(["| key | what it does | on |\n", "|---|---|---|\n", *rows])


def _targets(effect: Effect) -> str:
    targets = []
    for family, needed in effect.shown.items():
        shapes = {shape for shape in PLURALS if shape.traits & needed}
        whole = LAYERS if family == "layer NAME" else MARKS
        some = [plural for shape, plural in PLURALS.items() if shape in shapes & (whole | {TREND})]
        targets.append(family if shapes >= whole else f"{family} ({', '.join(some)})")
    return ", ".join(targets)


def main() -> int:
    """Write the page, or say that it is not as it would be written."""
    page = PAGE.read_text(encoding="utf-8")
    before, _, rest = page.partition(BEGIN)
    after = rest.partition(END)[2]
    wanted = f"{before}{BEGIN}{table()}{END}{after}"
    if "--check" in sys.argv:
        return int(wanted != page)
    PAGE.write_text(wanted, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
