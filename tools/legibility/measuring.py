"""Charts by their seeds, examined in as many processes as there are processors."""

from __future__ import annotations

import time
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from os import cpu_count
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Final

import yuzen as yz
from tools.legibility.charts import chart_of
from tools.legibility.fault import Fault
from tools.legibility.faults import faults_of
from tools.legibility.read_back import READER, read_faults
from yuzen.errors import YuzenError
from yuzen.render.scenes import scene_of
from yuzen.scene.scene import Scene

SLOW: Final = 5.0  # seconds
MAX_READ_PX: Final = 8_000  # pixels of a page that is read back, as a long one takes long
SHOWN: Final = 6  # seeds of each fault


@dataclass(frozen=True)
class Examined:
    """The faults of one chart; `refused`: there is a message instead of a picture."""

    seed: int
    faults: tuple[Fault, ...]
    refused: bool = False


def examined(seed: int) -> Examined:
    """The faults of a seed's chart."""
    began = time.monotonic()
    try:
        chart = chart_of(seed)
        page = chart.stages.page
        scene = scene_of(page)
        faults = [*faults_of(scene, page), *_read_back(chart, scene)]
    except YuzenError:
        return Examined(seed, (), refused=True)
    except Exception as error:  # noqa: BLE001 - whatever it is, it is what is looked for
        faults = [Fault(f"crash {type(error).__name__}", str(error)[:80])]
    if time.monotonic() - began > SLOW:
        faults.append(Fault("slow", f"{time.monotonic() - began:.0f} s"))
    return Examined(seed, tuple(faults))


def _read_back(chart: yz.Chart, scene: Scene) -> list[Fault]:
    """What is wrong in the chart's PDF, read by another program where it is installed."""
    if READER is None or scene.height > MAX_READ_PX:
        return []
    with TemporaryDirectory() as folder:
        pdf = Path(folder) / "chart.pdf"
        pdf.write_bytes(chart.image("pdf"))
        return list(read_faults(pdf, scene))


def report(count: int, first: int = 0) -> list[str]:
    """A line for each fault: how many of a thousand charts have it, and the first seeds that do."""
    with ProcessPoolExecutor(cpu_count()) as pool:
        found = list(pool.map(examined, range(first, first + count), chunksize=10))
    seeds = defaultdict(list)
    for one in found:
        for what in sorted({fault.what for fault in one.faults}):
            seeds[what].append(one.seed)
    lines = []
    for what, own in sorted(seeds.items(), key=lambda item: -len(item[1])):
        shown = ", ".join(map(str, own[:SHOWN]))
        lines.append(f"{1000 * len(own) / count:7.1f} in 1,000  {what}: seeds {shown}")
    refused = sum(one.refused for one in found)
    return [*(lines or ["nothing found"]), f"{count:,} charts, of which {refused:,} are a message"]
