"""Prints for each benchmark our time, the script's, the libraries' own, the ratio and its limit.

The floor is the same work by the fewest calls of the libraries that it cannot do without.
"""

from __future__ import annotations

import sys
from typing import Final

from benchmarks import (
    charts,
    desk,
    elsewhere,
    files,
    judging,
    kinds,
    office,
    processes,
    reading,
    reports,
    servers,
)
from benchmarks.timing import measure

PARTS: Final = {
    part.__name__.rpartition(".")[2]: part
    for part in (
        processes,
        reading,
        files,
        servers,
        charts,
        kinds,
        desk,
        judging,
        elsewhere,
        reports,
        office,
    )
}


def main() -> int:
    """Run a part by its name, or every case whose name contains the words of the call.

    Returns 1 if some ratio is over its limit.
    """
    wanted = " ".join(sys.argv[1:])
    parts = list(PARTS.values())
    if wanted in PARTS:
        parts, wanted = [PARTS[wanted]], ""
    head = f"{'benchmark':<42} {'ours':>10} {'by hand':>10} {'floor':>10}"
    print(f"{head} {'ratio':>7} {'at most':>8}", flush=True)
    over = 0
    for case in [case for part in parts for case in part.cases()]:
        if wanted not in case.name:
            continue
        ours, theirs, *floor = measure(case)
        ratio = ours / theirs
        kept = case.most is None or ratio <= case.most
        over += not kept
        limit = "" if case.most is None else f"{case.most:>8.2f}"
        times = " ".join(f"{seconds * 1e3:>7.1f} ms" for seconds in (ours, theirs, *floor))
        times += " " * 11 * (not floor)
        print(
            f"{case.name:<42} {times} {ratio:>7.3f} {limit}{'' if kept else '  over'}", flush=True
        )
    if wanted in "memory" and files in parts:
        print(judging.memory())
        print(files.memory(10))
        print(files.memory(50))
    return int(over > 0)


if __name__ == "__main__":
    sys.exit(main())
