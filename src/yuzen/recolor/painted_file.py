"""Painting decks and workbooks: rules colour the charts that are in them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from yuzen.brief.sections.rule import RuleSection
from yuzen.charts.verdicts import Verdicts
from yuzen.color.themes import theme_of
from yuzen.errors import make_error, suggestion
from yuzen.files.whole import made_folder, write_whole
from yuzen.office.parts.markup import unchanged_names
from yuzen.office.parts.package import Package
from yuzen.office.parts.records import PAINTED_PART
from yuzen.paths import path_of
from yuzen.recolor.found import FoundChart, chart_names, charts_in
from yuzen.recolor.judged import JudgedOffice
from yuzen.recolor.kept import Kept, KeptChart, before_painting, kept_in, summed
from yuzen.recolor.painter import Painter
from yuzen.recolor.parts_of import opened
from yuzen.recolor.point_looks import write_looks
from yuzen.recolor.rules_file import ChartRules, PaintFile, PaintRules, load_paint_file
from yuzen.sources.inputs import RowsLike
from yuzen.value import Value


class PaintedChart(Verdicts, eq=False):
    """A chart of a file and what rules decided of it: its flags and its reasons.

    place: where it is, such as "slide 2"; name: by which the painted file can be asked.
    """

    place: str = field(kw_only=True)
    name: str = field(kw_only=True)
    remarks: tuple[str, ...] = field(default=(), kw_only=True)

    def notes(self) -> list[str]:
        """What is not seen of the rules, and which rules do not apply."""
        return list(self.remarks)


class PaintedFile(Value, eq=False):
    """A deck or a workbook whose charts are painted, until it is saved nowhere.

    charts: those that were painted; skipped: the others, each with the reason.

    >>> import pathlib, tempfile
    >>> import yuzen as yz
    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> deck = pathlib.Path(tempfile.mkdtemp()) / "june.pptx"
    >>> _ = yz.chart(rows, category="route", value="surplus").save(deck)
    >>> painted = yz.paint(deck, yz.rule("negative", color="adverse"))
    >>> len(painted.charts), len(painted.skipped)
    (1, 0)
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
    found = [*charts_in(package, kept)]
    unused = rules.unused([(one.place, one.title) for one in found])
    if unused:
        _refuse_unused(unused, found)
    # A theme of the call is found from where it is called, that of the rules from their file.
    if theme is not None:
        colors = theme_of(theme, Path.cwd(), rules.colors)
    else:
        colors = theme_of(rules.file.theme or "linen", rules.folder, rules.colors)
    painter = Painter(rules, data, colors)
    painting = _Painting(dict(kept.charts))
    for one, name in zip(found, chart_names(found), strict=True):
        office = one.why_not if one.chart is None else painter.judged(one, name)
        if isinstance(office, str):
            painting.leave(one, name, office)
        else:
            painting.paint(one, office, name)
    if not painting.charts and painter.errors:
        raise painter.errors[0]
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

    def leave(self, found: FoundChart, name: str, why: str) -> None:
        """Leave a chart as it was before it was painted."""
        self.skipped.append((name, why))
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
    there = [part for part in kept.charts if part in package.names]
    parts = {part: before_painting(package, part, kept) for part in there}
    without = frozenset({PAINTED_PART})
    return package.having(parts, without), len(parts)


def _refuse_unused(unused: Sequence[ChartRules], found: Sequence[FoundChart]) -> None:
    """Raise YuzenError (paint-chart) for rules of charts that the file does not have."""
    section = unused[0]
    titles = [one.title for one in found if one.title]
    hint = suggestion(section.title, titles) if section.title else ""
    listed = "; ".join(f"{one.place.called} '{one.title}'" for one in found[:8]) or "none"
    message = f"No chart has {section.called}.{hint} The file has {listed}."
    raise make_error("paint-chart", message, where="chart")


def rules_of(rules: Sequence[RuleSection] | str | Path) -> PaintRules:
    """The rules of a call: themselves, or a file of them."""
    if isinstance(rules, str | Path):
        return load_paint_file(path_of(rules))
    return PaintRules(PaintFile(rule=tuple(rules)), Path.cwd())
