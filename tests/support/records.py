"""What a chart says and shows as lines of text, which are recorded, and held against what it says now.

`python -m tests.support.records` writes the records anew; what has changed is then read in the diff.
"""

from __future__ import annotations

import io
import re
import sys
from collections.abc import Callable, Iterator
from dataclasses import fields
from functools import partial
from itertools import zip_longest
from pathlib import Path
from typing import Any, Final

import numpy as np
import pandas as pd

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.many_charts import MANY
from tests.support.random_charts import random_chart
from yuzen.color.gradient import hexes
from yuzen.scene.primitives import Filled, Primitive
from yuzen.scene.writing import Writing, WrittenLine

FOLDER = Path(__file__).parents[1] / "recorded"
SKETCHES = FOLDER / "random.txt"
TOLERANCE_PX = 0.6  # by which fonts of another release may move what stands beside a text
MOST_ROWS = 24  # of an array, of which more are recorded by their sums
MOST_NAMED = 6
REMEDY = "If it is meant to be so, run python -m tests.support.records, and read the diff."
SKETCHED = 300  # random charts
WORDS = ("strokes", "patterns", "forms", "names", "stroke")
UNSAID: Final = {"role", "layer", "order", "clipped", "blended", "pattern_ink"}
NUMBER = re.compile(r"-?\d+\.\d")
RECORDED: dict[str, Callable[[], yz.Chart]] = {
    **{name: partial(CHARTS.__getitem__, name) for name in CHARTS},
    **MANY,
}


def record_of(chart: yz.Chart) -> str:
    """All that a chart says and shows: its words, flags, reasons and findings, and every shape."""
    return "\n".join([*_said(chart), "", *_shown(chart)]) + "\n"


def sketch_of(seed: int) -> str:
    """What a random chart says and shows, in a few lines: shapes and texts by their means."""
    chart, refused = random_chart(seed)
    lines = [f"refused: {' '.join(message.split())}" for message in refused]
    try:
        lines += [line for line in _said(chart) if not line.startswith("flags:")]
        flags = chart.flags()
        counts = flags.groupby(["target", "rule", "also", "color"], sort=False).size()
        lines += [f"flags: {key}: {count}" for key, count in counts.to_dict().items()]
        lines += _sketched(chart)
    except yz.YuzenError as error:
        lines.append(f"never drawn: {' '.join(str(error).split())}")
    return "\n".join([f"chart {seed}: {chart!r}", *lines]) + "\n"


def _sketched(chart: yz.Chart) -> Iterator[str]:
    scene = chart.stages.scene
    yield f"page: {scene.width} x {scene.height} on {scene.paper}, {len(scene.groups)} groups"
    for shape in scene.shapes:
        if isinstance(shape, Writing):
            for role in dict.fromkeys(line.role for line in shape.lines):
                of_role = [line for line in shape.lines if line.role == role]
                places = np.array(
                    [[line.left, line.foot, line.width, line.font.size] for line in of_role]
                )
                bold = sum(line.font.bold for line in of_role)
                inks = " ".join(_counted(hexes(np.array([line.ink[:3] for line in of_role]))))
                words = " / ".join(line.text for line in of_role)
                yield f"{role}: {_means(places)} bold {bold} {inks} | {words}"
        else:
            described = [
                _means(value) if value.dtype.kind == "f" and not _is_color(value) else _plain(value)
                for of in fields(shape)
                if isinstance(value := getattr(shape, of.name), np.ndarray) and len(value)
            ]
            described += [
                _plain(getattr(shape, name)) for name in WORDS if getattr(shape, name, ())
            ]
            yield f"{type(shape).__name__} {shape.name}: {len(shape)} {' '.join(described)}"


def _means(value: np.ndarray[Any, Any]) -> str:
    rows = np.atleast_2d(value.T).T.astype(float)
    return " ".join(f"{mean:.1f}" for mean in np.nan_to_num(rows).mean(axis=0).tolist())


def _is_color(value: np.ndarray[Any, Any]) -> bool:
    return value.ndim == 2 and value.shape[1] == 4 and bool(np.all((value >= 0) & (value <= 1)))


def differences(recorded: str, now: str) -> list[str]:
    """The lines that are another than they were: words, or numbers of pixels by more than a little."""
    pairs = zip_longest(recorded.splitlines(), now.splitlines(), fillvalue="")
    return [f"- {old}\n+ {new}" for old, new in pairs if not _alike(old, new)]


def _alike(old: str, new: str) -> bool:
    if old == new:
        return True
    if NUMBER.sub("#", old) != NUMBER.sub("#", new):
        return False
    both = zip(NUMBER.findall(old), NUMBER.findall(new), strict=True)
    return all(abs(float(one) - float(other)) <= TOLERANCE_PX for one, other in both)


def _said(chart: yz.Chart) -> Iterator[str]:
    """The words about a chart."""
    stages = chart.stages
    yield f"alt: {chart.alt()}"
    yield from (f"sentence: {sentence.text}" for sentence in chart.summary())
    yield from (f"note: {note}" for note in chart.notes())
    yield from (f"finding: {one.code}: {one.where}: {one.message}" for one in chart.check())
    flags = io.StringIO()
    chart.flags().head(MOST_ROWS).to_csv(flags, index=False, float_format="%.12g")
    yield from (f"flags: {line}" for line in flags.getvalue().splitlines())
    names = [str(name) for name in pd.unique(np.asarray(stages.marks.names(), dtype=object))]
    yield from (f"why: {line}" for line in str(chart.why(*names[:MOST_NAMED])).splitlines())


def _shown(chart: yz.Chart) -> Iterator[str]:
    """Every shape and text of the picture, from the lowest to the uppermost."""
    scene = chart.stages.scene
    yield f"page: {scene.width} x {scene.height} on {scene.paper}"
    for group in scene.groups:
        if group.area is not None:
            box, x, y = group.area.box.ends, group.area.x, group.area.y
            yield f"plot: {_numbers(np.array([box]))} x {x[0]:.6g} {x[1]:.6g} y {y[0]:.6g} {y[1]:.6g}"
        for shape in group.layered():
            if isinstance(shape, Writing):
                yield from (f"text: {_text(line)}" for line in shape.lines)
            else:
                yield from _shape(shape)


def _text(line: WrittenLine) -> str:
    """A line of text: its role and mark, its letters, where its foot begins, and how wide it is."""
    of_mark = f" {line.layer}#{line.mark}" if line.mark >= 0 else ""
    weight = " bold" if line.font.bold else ""
    ink = hexes(np.array([line.ink[:3]]))[0]
    place = f"at {line.left:.1f} {line.foot:.1f} wide {line.width:.1f}"
    return f"{line.role}{of_mark} {line.font.size:g} pt{weight} {ink} {place} | {line.text}"


def _shape(shape: Primitive) -> Iterator[str]:
    """A shape, and its fields that are not as they mostly are."""
    over = "" if shape.order == 1 else f" order {shape.order:g}"
    yield f"{type(shape).__name__} {shape.name}: {len(shape)}{over}{' clipped' * shape.clipped}"
    has_edges = not isinstance(shape, Filled) or bool((shape.edge[:, 3:] > 0).any())
    for of in fields(shape):
        value = getattr(shape, of.name)
        if of.name in UNSAID or (of.name.startswith("edge") and not has_edges):
            continue
        if np.size(value) and (np.ndim(value) or value):
            yield f"  {of.name}: {_plain(value)}"


def _plain(value: Any) -> str:
    """A field as text: colours as such, arrays row by row or by their sums, numbers with a decimal."""
    if isinstance(value, np.ndarray):
        if _is_color(value):
            colors = hexes(value[:, :3])
            opacities = value[:, 3].tolist()
            both = [f"{c}/{a:.2g}" for c, a in zip(colors, opacities, strict=True)]
            return " ".join(_counted(both))
        if value.dtype.kind == "i":
            return " ".join(map(str, value.tolist()[:MOST_ROWS]))
        return _numbers(value)
    if isinstance(value, tuple | list) and value and isinstance(value[0], str):
        return " ".join(_counted(list(value)))
    if isinstance(value, float):
        return f"{value:.1f}"
    return " ".join(str(value).split())


def _counted(words: list[str]) -> Iterator[str]:
    """Words, of which equal ones that follow one another are counted."""
    start = 0
    for place in range(1, len(words) + 1):
        if place == len(words) or words[place] != words[start]:
            yield f"{place - start}x {words[start]}"
            start = place


def _numbers(value: np.ndarray[Any, Any]) -> str:
    """Rows of numbers; of many the count, the sums and every tenth."""
    rows = np.atleast_2d(value.T).T.astype(float)
    summed = ""
    if len(rows) > MOST_ROWS:
        means = " ".join(f"{mean:.1f}" for mean in np.nan_to_num(rows).mean(axis=0).tolist())
        summed = f"{len(rows)} rows, mean {means}; "
        rows = rows[:: len(rows) // 10]
    return summed + "; ".join(" ".join(f"{cell:.1f}" for cell in row) for row in rows.tolist())


def main() -> int:
    """Write every record anew."""
    FOLDER.mkdir(exist_ok=True)
    for name, make in RECORDED.items():
        (FOLDER / f"{name}.txt").write_text(record_of(make()), "utf-8")
    SKETCHES.write_text("\n".join(map(sketch_of, range(SKETCHED))), "utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
