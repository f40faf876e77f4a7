"""`make fuzz`: thousands of runs with hostile input, counted by how they ended."""

from __future__ import annotations

import gc
import os
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path

from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from tests.support.hostile import KINDS, lay_out, outcome

RUNS = 10_000


def main(runs: int) -> int:
    """Run so many, print what came of them; 1 where one was a defect."""
    counts: Counter[tuple[str, str]] = Counter()
    defects: Counter[str] = Counter()
    slowest = (0.0, "")
    begun = time.monotonic()
    told = os.fdopen(
        os.dup(sys.stdout.fileno()), "w"
    )  # a call that ends early closes what it writes to

    @settings(max_examples=runs, deadline=None, database=None, derandomize=False, phases=[Phase.generate],
              suppress_health_check=list(HealthCheck))  # fmt: skip
    @given(st.sampled_from(sorted(KINDS)), st.integers(0, 2**32))
    def one(kind: str, seed: int) -> None:
        nonlocal slowest
        started = time.monotonic()
        found = outcome(kind, seed, folder)
        slowest = max(slowest, (time.monotonic() - started, f"{kind} {seed}"))
        counts[kind, found.kind] += 1
        if found.is_defect:
            defects[f"{kind} {seed}: {found.kind} {found.what}"] += 1

    with tempfile.TemporaryDirectory() as made:
        folder = lay_out(Path(made))
        one()
    gc.collect()
    for (kind, ended), count in sorted(counts.items()):
        print(f"{kind:<14}{ended:<16}{count:>7,}", file=told)
    seconds = time.monotonic() - begun
    print(
        f"{counts.total():,} runs in {seconds:,.0f} s, the slowest {slowest[0]:.1f} s ({slowest[1]})",
        file=told,
    )
    for defect in defects:
        print(f"DEFECT {defect}", file=told)
    told.close()
    return int(bool(defects))


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else RUNS))
