"""Painting decks and workbooks: rules colour the charts that are in them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Final

from yuzen.brief.sections.rule import RuleSection
from yuzen.charts.verdicts import Verdicts
from yuzen.color.themes import Theme, theme_of
from yuzen.errors import YuzenError, make_error, suggestion
from yuzen.files.whole import made_folder, write_whole
from yuzen.office.parts.markup import parsed, unchanged_names
from yuzen.office.parts.package import Package
from yuzen.office.parts.records import PAINTED_PART
from yuzen.paths import path_of
from yuzen.recolor.book_cells import cells_of
from yuzen.recolor.chart_numbers import OfficeChart, Unreadable, read_chart
from yuzen.recolor.judged import JudgedOffice, judged_chart
from yuzen.recolor.kept import Kept, KeptChart, before_painting, kept_in, summed
from yuzen.recolor.parts_of import ChartPlace, chart_places, opened, relations_of
from yuzen.recolor.point_looks import write_looks
from yuzen.recolor.rules_file import ChartRules, PaintFile, PaintRules, load_paint_file
from yuzen.sources.inputs import RowsLike, frame_of

MOST_CHARTS: Final = 2_000  # of one file


@dataclass(frozen=True, eq=False)
class FoundChart:
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


@dataclass(frozen=True, eq=False)
class PaintedChart(Verdicts):
    """A chart of a file and what rules decided of it: its flags and its reasons.

    place: where it is, such as "slide 2"; name: by which the painted file can be asked.
    """

    place: str = field(kw_only=True)
    name: str = field(kw_only=True)
    remarks: tuple[str, ...] = field(default=(), kw_only=True)

    def notes(self) -> list[str]:
        """What is not seen of the rules, and which rules do not apply."""
        return list(self.remarks)


@dataclass(frozen=True, eq=False)
class PaintedFile:
    """A deck or a workbook whose charts are painted, until it is saved nowhere.

    charts: those that were painted; skipped: the others, each with the reason.
    """

    charts: tuple[PaintedChart, ...]
    skipped: tuple[tuple[str, str], ...]
    data: bytes = field(repr=False)
    kind: str = "pptx"

    def __repr__(self) -> str:
        return f"<PaintedFile of {len(self.charts)} charts, left alone: {len(self.skipped)}>"

    def notes(self) -> list[str]:
        """What is not seen, chart by chart, and which charts were left alone."""
        told = [f"{chart.name}: {note}" for chart in self.charts for note in chart.remarks]
        left = [f"{name} is left as it is: {why}" for name, why in self.skipped]
        return [*told, *left]

    def save(self, to: str | Path) -> Path:
        """Write the painted file, whole or not at all; returns its path. Raises YuzenError."""
        path = path_of(to)
        if path.suffix.casefold().lstrip(".") != self.kind:
            message = f"What was a .{self.kind} stays one; '{path.name[:60]}' ends in another way."
            raise make_error("call-format", message)
        made_folder(path.parent)
        write_whole(path, self.data)
        return path


def found_charts(path: str | Path) -> list[FoundChart]:
    """The charts of a deck or a workbook, in the order of its slides or sheets."""
    package = opened(path_of(path))
    return list(_found(package, kept_in(package)))


def _found(package: Package, kept: Kept) -> Iterator[FoundChart]:
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


def paint_file(
    path: str | Path,
    rules: PaintRules,
    data: RowsLike | None = None,
    theme: str | None = None,
) -> PaintedFile:
    """A deck or a workbook with its charts in the colours of rules; the file itself stays.

    data:  rows with further columns, joined by the categories, instead of those of the rules.
    theme: instead of that of the rules.
    Raises YuzenError where the file cannot be read, no chart is painted, or rules are wrong.
    """
    source = path_of(path)
    package = opened(source)
    kept = kept_in(package)
    found = [*_found(package, kept)]
    unused = rules.unused([(one.place, one.title) for one in found])
    if unused:
        _refuse_unused(unused, found)
    # A theme of the call is found from where it is called, that of the rules from their file.
    if theme is not None:
        colors = theme_of(theme, Path.cwd(), rules.colors)
    else:
        colors = theme_of(rules.file.theme or "linen", rules.folder, rules.colors)
    painter = _Painter(rules, data, colors)
    painting = _Painting(dict(kept.charts))
    for one, name in zip(found, _names(found), strict=True):
        office = None if one.chart is None else painter.judged(one, name)
        if office is None:
            painting.leave(one, name)
        else:
            painting.paint(one, office, name)
    if not painting.charts:
        why = "; ".join(f"{name}: {why}" for name, why in painting.skipped) or "It has no charts."
        raise make_error("paint-chart", f"No chart is painted. {why[:600]}", where=str(source))
    kind = source.suffix[1:].casefold()
    return PaintedFile(
        tuple(painting.charts), tuple(painting.skipped), painting.written(package), kind
    )


@dataclass
class _Painting:
    """What painting makes of the charts of a file, one after the other."""

    held: dict[str, KeptChart]
    parts: dict[str, bytes] = field(default_factory=dict)
    charts: list[PaintedChart] = field(default_factory=list)
    skipped: list[tuple[str, str]] = field(default_factory=list)
    records: list[str] = field(default_factory=list)

    def leave(self, found: FoundChart, name: str) -> None:
        """Leave a chart as it was before it was painted."""
        self.skipped.append((name, found.why_not or "no rule is for it."))
        # It may have been painted by other rules before.
        if self.held.pop(found.place.part, None) is not None and found.data:
            self.parts[found.place.part] = found.data

    def paint(self, found: FoundChart, office: JudgedOffice, name: str) -> None:
        """Paint a chart."""
        notes = write_looks(office)
        painted = unchanged_names(office.chart.root)
        self.parts[found.place.part] = painted
        self.held[found.place.part] = KeptChart(found.data, summed(painted))
        self.records.append(office.record.packed())
        chart = PaintedChart(office.judged, place=found.place.called, name=name,
                             remarks=(*office.notes, *notes))  # fmt: skip
        self.charts.append(chart)

    def written(self, package: Package) -> bytes:
        """The file with what was painted, and with what gives it back."""
        kept = Kept(self.held).part(self.records)
        return package.having({**self.parts, PAINTED_PART: kept})


def unpainted(path: str | Path) -> tuple[bytes, int]:
    """A file with its charts as they were before they were painted, and how many these are.

    Raises YuzenError (paint-file) where it was never painted.
    """
    package = opened(path_of(path))
    kept = kept_in(package)
    if not kept.charts:
        message = "Yuzen has not painted this file, so there is nothing to give back."
        raise make_error("paint-file", message, where=package.where)
    # Somebody may have deleted a chart since.
    there = set(package.names())
    parts = {part: before_painting(package, part, kept) for part in kept.charts if part in there}
    without = frozenset({PAINTED_PART})
    return package.having(parts, without), len(parts)


def _names(found: Sequence[FoundChart]) -> list[str]:
    """What each chart is called: by its place, and its number where several are there."""
    names: list[str] = []
    seen: dict[str, int] = {}
    for one in found:
        place = one.place.called
        seen[place] = seen.get(place, 0) + 1
        several = sum(other.place.called == place for other in found) > 1
        names.append(f"{place}, chart {seen[place]}" if several else place)
    return names


def _refuse_unused(unused: Sequence[ChartRules], found: Sequence[FoundChart]) -> None:
    """Raise YuzenError (paint-chart) for rules of charts that the file does not have."""
    section = unused[0]
    titles = [one.title for one in found if one.title]
    hint = suggestion(section.title, titles) if section.title else ""
    listed = "; ".join(f"{one.place.called} '{one.title}'" for one in found[:8]) or "none"
    message = f"No chart has {section.called}.{hint} The file has {listed}."
    raise make_error("paint-chart", message, where="chart")


class _Painter:
    """Judges charts by the rules of a file, whose data is read once."""

    def __init__(self, rules: PaintRules, data: RowsLike | None, theme: Theme) -> None:
        self.rules, self.theme = rules, theme
        self._data = data
        self._frames: dict[str, Any] = {}

    def judged(self, found: FoundChart, name: str) -> JudgedOffice | None:
        """The verdict of a chart; None where no rule is for it. Raises YuzenError."""
        assert found.chart is not None  # noqa: S101 - only what was read is judged
        sections = self.rules.of_chart(found.place, found.title)
        own = [rule for section in sections for rule in section.rule]
        shared = list(self.rules.file.rule)
        if not own and not shared:
            return None
        parameters = self.rules.parameters(sections)
        try:
            office = judged_chart(
                found.chart, own, shared, self._rows(sections), parameters, self.theme,
                self.rules.written, name,
            )  # fmt: skip
        except YuzenError as error:
            raise error.at(name) from None
        return office if office.judged.verdict.rules else None

    def _rows(self, sections: Sequence[ChartRules]) -> Any:  # noqa: ANN401 - a DataFrame, or none
        """The rows with further columns."""
        if self._data is not None:
            return self._frame("", self._data)
        own = next((section.data for section in sections if section.data), None)
        named = own or self.rules.file.data
        if named is None:
            return None
        return self._frame(named, self.rules.folder / named)

    def _frame(self, key: str, rows: RowsLike) -> Any:  # noqa: ANN401 - a DataFrame
        if key not in self._frames:
            self._frames[key] = frame_of(rows)
        return self._frames[key]


def rules_of(rules: Sequence[RuleSection] | str | Path) -> PaintRules:
    """The rules of a call: themselves, or a file of them."""
    if isinstance(rules, str | Path):
        return load_paint_file(path_of(rules))
    return PaintRules(PaintFile(rule=tuple(rules)), Path.cwd())
