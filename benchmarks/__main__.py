"""Prints a line for each benchmark: our time, the hand-written script's, their ratio, and its limit."""

from __future__ import annotations

import sys

from benchmarks import charts, elsewhere, files, judging, kinds, processes, reading
from benchmarks.timing import measure


def main() -> int:
    """Run every case whose name contains the words of the call; 1 if some ratio is over its limit."""
    wanted = " ".join(sys.argv[1:])
    print(f"{'benchmark':<42} {'ours':>10} {'by hand':>10} {'ratio':>7} {'at most':>8}")
    over = 0
    parts = (processes, reading, files, charts, kinds, judging, elsewhere)
    for case in [case for part in parts for case in part.cases()]:
        if wanted not in case.name:
            continue
        ours, theirs = measure(case)
        ratio = ours / theirs
        kept = case.most is None or ratio <= case.most
        over += not kept
        limit = "" if case.most is None else f"{case.most:>8.2f}"
        times = f"{ours * 1e3:>7.1f} ms {theirs * 1e3:>7.1f} ms"
        print(f"{case.name:<42} {times} {ratio:>7.3f} {limit}{'' if kept else '  over'}", flush=True)
    if wanted in "memory":
        print(judging.memory())
        print(files.memory(10))
        print(files.memory(50))
    return int(over > 0)


if __name__ == "__main__":
    sys.exit(main())
