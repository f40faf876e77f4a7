"""The charts of a file: where each is, what it shows, or why it cannot be painted."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import field
from pathlib import Path
from typing import Any, Final

from yuzen.errors import YuzenError, make_error
from yuzen.office.parts.markup import parsed
from yuzen.office.parts.package import Package
from yuzen.paths import path_of
from yuzen.recolor.book_cells import cells_of
from yuzen.recolor.chart_numbers import OfficeChart, Unreadable, read_chart
from yuzen.recolor.kept import Kept, before_painting, kept_in
from yuzen.recolor.parts_of import ChartPlace, chart_places, opened, relations_of
from yuzen.value import Value

MOST_CHARTS: Final = 2_000  # of one file


class FoundChart(Value, eq=False):
    """A chart of a file: where it is, what it shows, or why it cannot be painted.

    data: its part as it was before it was painted.
    """

    place: ChartPlace
    chart: OfficeChart | None
    data: bytes = field(repr=False)
    why_not: str = ""

    @property
    def title(self) -> str:
        """Its own title, else that of its slide."""
        own = self.chart.title if self.chart is not None else ""
        return own or self.place.heading

    def facts(self) -> dict[str, Any]:
        """What a list of charts says of it, as plain values."""
        chart = self.chart
        return {
            "place": self.place.called,
            "slide": self.place.slide or None,
            "sheet": self.place.sheet or None,
            "title": self.title,
            "kind": self.place.other if chart is None else chart.kind,
            "series": [] if chart is None else [series.name for series in chart.series],
            "points": 0 if chart is None else sum(len(series.numbers) for series in chart.series),
            "not painted": self.why_not,
        }


def found_charts(path: str | Path) -> list[FoundChart]:
    """The charts of a deck or a workbook, in the order of its slides or sheets."""
    package = opened(path_of(path))
    return list(charts_in(package, kept_in(package)))


def charts_in(package: Package, kept: Kept) -> Iterator[FoundChart]:
    """Each chart of a file as it was before it was painted."""
    places = chart_places(package)
    if len(places) > MOST_CHARTS:
        message = f"The file has {len(places):,} charts, and {MOST_CHARTS:,} are read at the most."
        raise make_error("paint-file", message, where=package.where)
    for place in places:
        if place.other:
            why = f"it is a {place.other} chart, whose kind cannot be painted."
            yield FoundChart(place, None, b"", why)
            continue
        yield _read(package, place, kept)


def _read(package: Package, place: ChartPlace, kept: Kept) -> FoundChart:
    """A chart of a file; one that is damaged is left alone, and the others are not."""
    data = b""
    try:
        # Looks that painting gave are none of the chart's own, and are taken off first.
        data = before_painting(package, place.part, kept)
        root = parsed(data, package.where)
        chart = read_chart(root, cells_of(package, _workbook(package, place)))
    except Unreadable as reason:
        return FoundChart(place, None, data, reason.why)
    except YuzenError as error:
        if error.code != "paint-file":
            raise
        return FoundChart(place, None, data, f"it cannot be read: {error.faults[0].message}")
    return FoundChart(place, chart, data)


def _workbook(package: Package, place: ChartPlace) -> str | None:
    """The part of the workbook with a chart's numbers: '' for the file itself, None for none.

    A workbook that is elsewhere is never opened.
    """
    # Charts of workbooks refer to the cells of their own file.
    if place.sheet:
        return ""
    relations = relations_of(package, place.part).values()
    inside = [one.target for one in relations if one.kind == "package" and not one.external]
    return inside[0] if inside else None


def chart_names(found: Sequence[FoundChart]) -> list[str]:
    """What each chart is called: by its place, and its number where several are there."""
    names: list[str] = []
    seen: dict[str, int] = {}
    for one in found:
        place = one.place.called
        seen[place] = seen.get(place, 0) + 1
        several = sum(other.place.called == place for other in found) > 1
        names.append(f"{place}, chart {seen[place]}" if several else place)
    return names
