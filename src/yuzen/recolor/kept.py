"""What a painted file keeps: the charts as they were, so that they can be given back."""

from __future__ import annotations

import base64
import hashlib
import json
import zlib
from collections.abc import Mapping, Sequence
from copy import deepcopy
from dataclasses import field
from typing import Any, Final

from yuzen.errors import make_error
from yuzen.office.parts.markup import Xml, parsed, unchanged_names
from yuzen.office.parts.package import Package
from yuzen.office.parts.records import PAINTED_PART, records_xml
from yuzen.recolor.chart_numbers import C
from yuzen.recolor.point_looks import BEFORE_POINT, BEFORE_SERIES_LOOK
from yuzen.regex import regex
from yuzen.value import Value

MOST_KEPT: Final = 200_000_000  # bytes when they are unpacked
_KEPT: Final = regex(rb"yuzen-painted:1:([A-Za-z0-9+/=]*):end")
LOOKS: Final = ("spPr", "dPt", "dLbls")  # the children of a series that painting writes into


class KeptChart(Value):
    """The part of a chart as it was, and what a sum over its painted bytes is."""

    original: bytes = field(repr=False)
    painted: str


class Kept(Value):
    """The charts of a file as they were before it was painted, by their parts."""

    charts: Mapping[str, KeptChart]

    def part(self, records: Sequence[str]) -> bytes:
        """The part that keeps them, with the records of what was painted."""
        plain = {
            name: [base64.b64encode(zlib.compress(kept.original, 6)).decode(), kept.painted]
            for name, kept in self.charts.items()
        }
        packed = base64.b64encode(zlib.compress(json.dumps(plain).encode(), 6)).decode()
        return records_xml([*records, f"yuzen-painted:1:{packed}:end"])


def kept_in(package: Package) -> Kept:
    """What a file keeps; nothing where it was never painted. Raises YuzenError (paint-file)."""
    if PAINTED_PART not in package.names:
        return Kept({})
    match = _KEPT.search(package.part(PAINTED_PART))
    message = "What the file keeps of its charts as they were is damaged."
    if match is None:
        raise make_error("paint-file", message, where=package.where)
    try:
        plain = json.loads(_inflated(base64.b64decode(match[1])))
        charts = {
            str(name): KeptChart(_inflated(base64.b64decode(original)), str(painted))
            for name, (original, painted) in plain.items()
        }
    except (ValueError, TypeError, AttributeError, zlib.error):
        raise make_error("paint-file", message, where=package.where) from None
    return Kept(charts)


def summed(data: bytes) -> str:
    """A sum over the bytes of a part, by which it is seen whether it has changed since."""
    return hashlib.sha256(data).hexdigest()


def before_painting(package: Package, part: str, kept: Kept) -> bytes:
    """The part of a chart as it was before it was painted.

    What has changed in it since, such as its numbers, stays: then only the looks are given back,
    series by series.
    """
    data = package.part(part)
    held = kept.charts.get(part)
    if held is None:
        return data
    # Nobody has touched the chart since, so every byte of it can be given back.
    if summed(data) == held.painted:
        return held.original
    now, before = parsed(data, package.where), parsed(held.original, package.where)
    # Series may have come or gone since; those that are left are known by their numbers.
    originals = {_number(series): series for series in before.iter(f"{C}ser")}
    for series in now.iter(f"{C}ser"):
        original = originals.get(_number(series))
        if original is not None:
            _give_back(series, original)
    return unchanged_names(now)


def _number(series: Xml) -> str:
    """The number of a series, by which it is known again."""
    number = series.find(f"{C}idx")
    return "" if number is None else str(number.get("val"))


def _give_back(series: Xml, original: Xml) -> None:
    """The looks of a series as they were."""
    for name in LOOKS:
        # The looks stand where ours stood, so that the order of the standard is kept.
        old = series.findall(f"{C}{name}")
        place = series.index(old[0]) if old else _place(series, name)
        for one in old:
            series.remove(one)
        for offset, one in enumerate(original.findall(f"{C}{name}")):
            series.insert(place + offset, deepcopy(one))


def _place(series: Xml, name: str) -> int:
    """Where the looks of a name stand among the children of a series."""
    before = BEFORE_SERIES_LOOK if name == "spPr" else BEFORE_POINT
    tags = {f"{C}{one}" for one in before}
    return max((place + 1 for place, child in enumerate(series) if child.tag in tags), default=0)


def _inflated(data: bytes) -> bytes:
    """Unpacked bytes, bounded."""
    unpacker: Any = zlib.decompressobj()
    # A small text may hold gigabytes.
    inflated: bytes = unpacker.decompress(data, MOST_KEPT)
    if unpacker.unconsumed_tail or not unpacker.eof:
        raise ValueError("more than is read, or cut short")
    return inflated
