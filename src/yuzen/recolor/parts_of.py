"""Where the charts of a deck or a workbook are: on which slide or sheet, in which part."""

from __future__ import annotations

import posixpath
from collections.abc import Iterator
from pathlib import Path
from typing import Final

from yuzen.errors import make_error
from yuzen.office.parts.markup import NAMESPACES, Xml, parsed
from yuzen.office.parts.package import Package, checked
from yuzen.paths import read_file
from yuzen.value import Value

MOST_FILE: Final = 500_000_000  # bytes of a deck or a workbook
ENDINGS: Final = frozenset({"pptx", "xlsx"})
RELATIONS: Final = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
STRICT_RELATIONS: Final = "http://purl.oclc.org/ooxml/officeDocument/relationships"
OTHER_CHART: Final = "chartEx"  # ends the relation of charts that are drawn by other parts
PRESENTATION: Final = "{http://schemas.openxmlformats.org/presentationml/2006/main}"
SPREADSHEET: Final = "{http://schemas.openxmlformats.org/spreadsheetml/2006/main}"


class PartRelation(Value):
    """A relation of a part: its kind by its last word, and the part that it leads to."""

    kind: str
    target: str
    external: bool


class ChartPlace(Value):
    """A chart of a file: its part, its slide from 1 or its sheet by name, and what that is called.

    other: what kind of chart it is, where it is none that can be read; '' else.
    """

    part: str
    slide: int = 0
    sheet: str = ""
    heading: str = ""
    other: str = ""

    @property
    def called(self) -> str:
        """What messages call the place."""
        return f"slide {self.slide}" if self.slide else f"sheet {self.sheet}"


def opened(path: Path) -> Package:
    """A deck or a workbook, none of which is unpacked yet. Raises YuzenError (paint-file)."""
    kind = path.suffix.casefold().lstrip(".")
    if kind in {"pptm", "xlsm", "potm", "xltm"}:
        message = "The file may hold macros, and is left alone. Save it as .pptx or .xlsx first."
        raise make_error("paint-file", message, where=str(path))
    if kind not in ENDINGS:
        message = "Charts are painted in .pptx and .xlsx files."
        raise make_error("paint-file", message, where=str(path))
    data = read_file(path, MOST_FILE, "paint-file", "file")
    # Sizes are looked at before anything is unpacked.
    package = checked(data, str(path))
    # Macros would run when the painted file is opened, and would seem to come from us.
    if package.has_macros:
        message = "The file holds macros, and is left alone. Save it without them first."
        raise make_error("paint-file", message, where=str(path))
    return package


def chart_places(package: Package) -> list[ChartPlace]:
    """The charts of a file in the order of its slides or sheets. Raises YuzenError (paint-file)."""
    if "ppt/presentation.xml" in package.names:
        return list(_of_slides(package))
    if "xl/workbook.xml" in package.names:
        return list(_of_sheets(package))
    message = "The file is neither a deck nor a workbook that can be read."
    raise make_error("paint-file", message, where=package.where)


def relations_of(package: Package, part: str) -> dict[str, PartRelation]:
    """The relations of a part by their ids; none where it has none."""
    folder, name = posixpath.split(part)
    # Relations stand in a part beside the part that has them (ISO/IEC 29500-2, 9.3).
    listed = f"{folder}/_rels/{name}.rels"
    if listed not in package.names:
        return {}
    relations = {}
    for relation in parsed(package.part(listed), package.where):
        target, kind = relation.get("Target", ""), relation.get("Type", "")
        external = relation.get("TargetMode") == "External"
        # Targets are told from the folder of the part, or from the root.
        if not external:
            joined = target if target.startswith("/") else f"{folder}/{target}"
            target = posixpath.normpath(joined).lstrip("/")
        relations[relation.get("Id", "")] = PartRelation(kind.rpartition("/")[2], target, external)
    return relations


def _of_slides(package: Package) -> Iterator[ChartPlace]:
    """The charts of a deck, slide by slide in the order in which they are shown."""
    root = parsed(package.part("ppt/presentation.xml"), package.where)
    relations = relations_of(package, "ppt/presentation.xml")
    entries = root.iterfind(f"{PRESENTATION}sldIdLst/{PRESENTATION}sldId")
    for number, entry in enumerate(entries, start=1):
        relation = relations.get(_relation_id(entry))
        # A slide that is elsewhere is never followed.
        if relation is None or relation.external:
            continue
        heading = _heading(parsed(package.part(relation.target), package.where))
        for part, other in _charts_of(package, relation.target):
            yield ChartPlace(part, number, heading=heading, other=other)


def _of_sheets(package: Package) -> Iterator[ChartPlace]:
    """The charts of a workbook, sheet by sheet."""
    root = parsed(package.part("xl/workbook.xml"), package.where)
    relations = relations_of(package, "xl/workbook.xml")
    for entry in root.iterfind(f"{SPREADSHEET}sheets/{SPREADSHEET}sheet"):
        relation = relations.get(_relation_id(entry))
        if relation is None or relation.external:
            continue
        for part, other in _charts_of(package, relation.target):
            yield ChartPlace(part, sheet=entry.get("name", ""), other=other)


def _charts_of(package: Package, part: str) -> Iterator[tuple[str, str]]:
    """The parts of the charts on a slide or a sheet, and the kind of those that cannot be read."""
    for relation in relations_of(package, part).values():
        if relation.external:
            continue
        if relation.kind == "chart":
            yield relation.target, ""
        elif relation.kind == OTHER_CHART:
            yield relation.target, _other_kind(package, relation.target)
        # In sheets charts lie in a drawing, on slides they are related directly.
        elif relation.kind == "drawing":
            yield from _charts_of(package, relation.target)


def _other_kind(package: Package, part: str) -> str:
    """What a chart of the newer kinds is called: "waterfall", "treemap", ..."""
    root = parsed(package.part(part), package.where)
    for element in root.iter():
        layout = element.get("layoutId") if isinstance(element.tag, str) else None
        if layout:
            return str(layout)[:40]
    return "of a newer kind"


def _relation_id(entry: Xml) -> str:
    """The id of a relation, in the namespace of either edition of the standard."""
    for space in (RELATIONS, STRICT_RELATIONS):
        found = entry.get(f"{{{space}}}id")
        if found:
            return str(found)
    return ""


def _heading(slide: Xml) -> str:
    """What a slide is called: the text of its title."""
    for shape in slide.iter(f"{PRESENTATION}sp"):
        place = shape.find(f"{PRESENTATION}nvSpPr/{PRESENTATION}nvPr/{PRESENTATION}ph")
        if place is not None and place.get("type") in {"title", "ctrTitle"}:
            texts = [text.text or "" for text in shape.iter(f"{{{NAMESPACES['a']}}}t")]
            return " ".join("".join(texts).split())
    return ""
