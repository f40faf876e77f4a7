"""Breaks the code of four rooms at places drawn by a seed, and lists what no test notices.

Ends with 1 where more survive than are allowed. Survivors that change nothing anybody can see stand
in known.toml with the reason.
"""

from __future__ import annotations

import json
import sys
import tempfile
import tomllib
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import Queue
from typing import Final

from tools.mutants.reached import Reach, measured
from tools.mutants.sites import Mutant, chosen, mutants_of
from tools.mutants.trying import SURVIVED, copied, tried

HOME: Final = Path(__file__).parents[2]
STATE: Final = HOME / ".mutants"  # what an earlier run measured; `make clean` forgets it
ROOMS: Final = ("rules", "shape", "compose", "draw")
MAX_SURVIVORS: Final = 10
COPIES: Final = 2


def all_mutants() -> list[Mutant]:
    """Every mutant of the four rooms."""
    paths = [path for room in ROOMS for path in sorted((HOME / "src/yuzen" / room).rglob("*.py"))]
    return [one for path in paths for one in mutants_of(path, str(path.relative_to(HOME)))]


def main(count: int = 200, seed: int = 1) -> int:
    """Try `count` mutants; returns the exit code."""
    listed = tomllib.loads(Path(__file__).with_name("known.toml").read_text("utf-8"))
    known = {one["name"] for one in listed.get("mutant", ())}
    mutants = all_mutants()
    sample = chosen([one for one in mutants if one.name not in known], count, seed)
    print(f"{len(mutants):,} places to break; {len(sample)} are tried", flush=True)
    survivors: list[Mutant] = []
    with tempfile.TemporaryDirectory() as folder:
        copies: Queue[Path] = Queue()
        for place in range(COPIES):
            copies.put(copied(HOME, Path(folder) / f"copy-{place}"))
        reach = measured(Path(folder) / "copy-0", STATE)
        with ThreadPoolExecutor(COPIES) as pool:
            ends = pool.map(lambda mutant: _end(mutant, reach, copies), sample)
            for place, (mutant, end) in enumerate(zip(sample, ends, strict=True), start=1):
                change = f"{mutant.path}:{mutant.line}  {mutant.before} -> {mutant.after}"
                print(f"{place:4} {change}  {end}", flush=True)
                if end == SURVIVED:
                    survivors.append(mutant)
    print(f"\n{len(survivors)} of {len(sample)} survived:")
    for mutant in survivors:
        print(json.dumps(mutant.name, ensure_ascii=False))
    return int(len(survivors) > MAX_SURVIVORS)


def _end(mutant: Mutant, reach: Reach, copies: Queue[Path]) -> str:
    """Try a mutant in a copy that is free."""
    home = copies.get()
    try:
        last = mutant.line + mutant.before.count("\n")
        return tried(mutant, home, reach.tests_of(mutant.path, mutant.line, last))
    finally:
        copies.put(home)


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
