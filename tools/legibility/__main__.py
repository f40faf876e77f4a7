"""Draws random charts and reports what cannot be read.

python -m tools.legibility [COUNT] [FIRST SEED]

Prints how many of a thousand charts have each fault, with seeds that show it. With --draw SEED the
chart of a seed is drawn into legibility-SEED.png, to be looked at, and its faults are told.
"""

from __future__ import annotations

import sys
from pathlib import Path

from tools.legibility.charts import chart_of
from tools.legibility.measuring import examined, report


def main(words: list[str]) -> None:
    """Measure, or draw one."""
    if words[:1] == ["--draw"]:
        for seed in map(int, words[1:]):
            print(chart_of(seed).save(Path(f"legibility-{seed}.png")))
            print(*examined(seed).faults, sep="\n")
        return
    print("\n".join(report(*(int(word) for word in words or ["2000"]))))


if __name__ == "__main__":
    main(sys.argv[1:])
