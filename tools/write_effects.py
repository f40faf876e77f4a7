"""Writes the table of effects into docs/rules.md, between its two marks; with --check it only compares."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Final

from yuzen.brief.sections.effects import ALL_SHAPES, EFFECT_TABLE, TREND, Effect

PAGE: Final = Path(__file__).parent.parent / "docs" / "rules.md"
BEGIN: Final = "<!-- the table of effects, written by make format -->\n"
END: Final = "<!-- end of the table -->\n"
SHAPES: Final = {
    "bar": "bars",
    "line": "lines",
    "area": "areas",
    "tick": "ticks",
    "cell": "cells of tables",
    "slice": "slices",
    "dot": "dots",
    "point": "points of scatters",
    "trend": "small lines",
}
MARKS: Final = ALL_SHAPES - {"tick"}  # what a chart's own marks can be; ticks are layers


def table() -> str:
    """The table as Markdown."""
    rows = [
        f"| `{effect.name}` | {effect.takes} | {_targets(effect)} |\n" for effect in EFFECT_TABLE
    ]
    return "".join(["| key | takes | on |\n", "|---|---|---|\n", *rows])


def _targets(effect: Effect) -> str:
    told = []
    for target, shapes in effect.shown.items():
        whole = ALL_SHAPES if target == "layer NAME" else MARKS
        some = [plural for shape, plural in SHAPES.items() if shape in shapes & (whole | TREND)]
        told.append(target if shapes >= whole else f"{target} ({', '.join(some)})")
    return ", ".join(told)


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
