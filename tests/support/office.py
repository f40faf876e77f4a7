"""Reading decks and workbooks back by the standard alone: no library that writes them has a part."""

from __future__ import annotations

import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from xml.etree import ElementTree as ET

C = "{http://schemas.openxmlformats.org/drawingml/2006/chart}"
A = "{http://schemas.openxmlformats.org/drawingml/2006/main}"
P = "{http://schemas.openxmlformats.org/presentationml/2006/main}"
X = "{http://schemas.openxmlformats.org/spreadsheetml/2006/main}"

# The children of elements in the order of their types' sequences (ISO/IEC 29500-1, annex A): one
# word for each, and choices as one place.
DRAWN = "barChart|lineChart|areaChart|scatterChart|doughnutChart|pieChart|bubbleChart|radarChart"
AXES = "valAx|catAx|dateAx|serAx"
FILLS = "noFill|solidFill|gradFill|blipFill|pattFill|grpFill"
AXIS = (
    "axId scaling delete axPos majorGridlines minorGridlines title numFmt majorTickMark "
    "minorTickMark tickLblPos spPr txPr crossAx crosses|crossesAt "
)
SHOWN = "showLegendKey showVal showCatName showSerName showPercent showBubbleSize separator "
SERIES = {
    "barChart": "idx order tx spPr invertIfNegative pictureOptions dPt dLbls trendline errBars "
    "cat val shape extLst",
    "lineChart": "idx order tx spPr marker dPt dLbls trendline errBars cat val smooth extLst",
    "areaChart": "idx order tx spPr pictureOptions dPt dLbls trendline errBars cat val extLst",
    "scatterChart": "idx order tx spPr marker dPt dLbls trendline errBars xVal yVal smooth extLst",
    "doughnutChart": "idx order tx spPr explosion dPt dLbls cat val extLst",
    "pieChart": "idx order tx spPr explosion dPt dLbls cat val extLst",
}
ORDERS = {
    "chartSpace": "date1904 lang roundedCorners AlternateContent style clrMapOvr pivotSource "
    "protection chart spPr txPr externalData printSettings userShapes extLst",
    "chart": "title autoTitleDeleted pivotFmts view3D floor sideWall backWall plotArea legend "
    "plotVisOnly dispBlanksAs extLst",
    "plotArea": f"layout {DRAWN} {AXES} dTable spPr extLst",
    "barChart": "barDir grouping varyColors ser dLbls gapWidth overlap serLines axId extLst",
    "lineChart": "grouping varyColors ser dLbls dropLines hiLowLines upDownBars marker smooth "
    "axId extLst",
    "areaChart": "grouping varyColors ser dLbls dropLines axId extLst",
    "scatterChart": "scatterStyle varyColors ser dLbls axId extLst",
    "doughnutChart": "varyColors ser dLbls firstSliceAng holeSize extLst",
    "catAx": AXIS + "auto lblAlgn lblOffset tickLblSkip tickMarkSkip noMultiLvlLbl extLst",
    "dateAx": AXIS + "auto lblOffset baseTimeUnit majorUnit majorTimeUnit minorUnit "
    "minorTimeUnit extLst",
    "valAx": AXIS + "crossBetween majorUnit minorUnit dispUnits extLst",
    "scaling": "logBase orientation max min extLst",
    "title": "tx layout overlay spPr txPr extLst",
    "dPt": "idx invertIfNegative marker bubble3D explosion spPr pictureOptions extLst",
    "marker": "symbol size spPr extLst",
    "dLbls": f"dLbl delete numFmt spPr txPr dLblPos {SHOWN} showLeaderLines leaderLines extLst",
    "dLbl": f"idx delete layout tx numFmt spPr txPr dLblPos {SHOWN} extLst",
    "errBars": "errDir errBarType errValType noEndCap plus minus val spPr extLst",
    "numCache": "formatCode ptCount pt extLst",
    "strCache": "ptCount pt extLst",
    "numRef": "f numCache extLst",
    "strRef": "f strCache extLst",
    "manualLayout": "layoutTarget xMode yMode wMode hMode x y w h extLst",
    "spPr": f"xfrm custGeom|prstGeom {FILLS} ln effectLst|effectDag scene3d sp3d extLst",
    "ln": f"{FILLS} prstDash|custDash round|bevel|miter headEnd tailEnd extLst",
    "rPr": f"ln {FILLS} effectLst|effectDag highlight latin ea cs sym hlinkClick extLst",
    "defRPr": f"ln {FILLS} effectLst|effectDag highlight latin ea cs sym hlinkClick extLst",
    "pattFill": "fgClr bgClr",
    "rich": "bodyPr lstStyle p",
    "txPr": "bodyPr lstStyle p",
    "p": "pPr r|br|fld endParaRPr",
    "r": "rPr t",
    "tbl": "tblPr tblGrid tr",
    "tc": "txBody tcPr extLst",
    "tcPr": f"lnL lnR lnT lnB lnTlToBr lnBlToTr cell3D {FILLS} headers extLst",
    "graphicFrame": "nvGraphicFramePr xfrm graphic extLst",
    "sld": "cSld clrMapOvr transition timing extLst",
    "cSld": "bg spTree custDataLst controls extLst",
}
# Where programs refuse a file for a label that stands where its kind has no such place.
LABEL_PLACES = {
    "clustered": {"outEnd", "inEnd", "inBase", "ctr"},
    "stacked": {"inEnd", "inBase", "ctr"},
    "lineChart": {"t", "b", "l", "r", "ctr"},
    "scatterChart": {"t", "b", "l", "r", "ctr"},
    "areaChart": set(),
    "doughnutChart": set(),
}


def local(element: ET.Element) -> str:
    """The name of an element without its namespace."""
    return element.tag.rpartition("}")[2]


def parts(path: Path) -> dict[str, bytes]:
    """The parts of a file by their names."""
    with zipfile.ZipFile(path) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def wrong_order(root: ET.Element, parent: str = "") -> Iterator[str]:
    """What stands in another order than the standard asks, or where it does not belong."""
    name = local(root)
    order = SERIES[parent] if name == "ser" else ORDERS.get(name)
    # The marker of a group of lines is a truth, that of a series an element of its own.
    if order is not None and not (name == "marker" and parent == "lineChart"):
        places = {
            one: place for place, words in enumerate(order.split()) for one in words.split("|")
        }
        children = [local(child) for child in root]
        unknown = [child for child in children if child not in places]
        if unknown:
            yield f"{name} has {unknown}"
        known = [places[child] for child in children if child in places]
        if known != sorted(known):
            yield f"{name}: {children}"
    for child in root:
        yield from wrong_order(child, name)


def misplaced_labels(root: ET.Element) -> Iterator[str]:
    """Labels whose place their kind of chart does not have."""
    for group in root.iter():
        kind = local(group)
        if kind == "barChart":
            kind = str(group.find(f"{C}grouping").get("val"))  # type: ignore[union-attr]
        if kind in LABEL_PLACES:
            told = [str(place.get("val")) for place in group.iter(f"{C}dLblPos")]
            yield from (f"{kind}: {place}" for place in told if place not in LABEL_PLACES[kind])


@dataclass
class ReadSeries:
    """A series as a reader sees it: its name, its values and categories, the colour of each point."""

    kind: str
    name: str
    numbers: list[float | None]
    categories: list[str | None]
    colors: list[str]
    labels: dict[int, list[tuple[str, str, bool]]] = field(default_factory=dict)
    codes: dict[int, str] = field(default_factory=dict)
    outlines: dict[int, str] = field(default_factory=dict)
    patterns: dict[int, str] = field(default_factory=dict)
    markers: dict[int, str] = field(default_factory=dict)
    references: dict[str, str] = field(default_factory=dict)

    @property
    def seen(self) -> bool:
        """Whether something is drawn of its points."""
        return any(self.colors) or bool(self.markers)


def read_charts(path: Path) -> list[list[ReadSeries]]:
    """The series of every chart of a file, in the order of the charts' numbers."""
    charts = [
        (int(match[1]), data)
        for name, data in parts(path).items()
        if (match := re.search(r"charts/chart(\d+)\.xml$", name))
    ]
    return [read_series(ET.fromstring(data)) for _, data in sorted(charts)]


def read_series(root: ET.Element) -> list[ReadSeries]:
    """The series of a chart's part."""
    area = root.find(f"{C}chart/{C}plotArea")
    assert area is not None
    return [
        _one(local(group), series)
        for group in area
        if local(group).endswith("Chart")
        for series in group.iterfind(f"{C}ser")
    ]


def _one(kind: str, series: ET.Element) -> ReadSeries:
    """A series with its points."""
    tag = "val" if series.find(f"{C}val") is not None else "yVal"
    numbers = [None if text is None else float(text) for text in _cached(series.find(f"{C}{tag}"))]
    own = _fill(series.find(f"{C}spPr"))
    name = (_cached(series.find(f"{C}tx")) or [""])[0] or ""
    found = ReadSeries(kind, name, numbers, _cached(series.find(f"{C}cat")), [own] * len(numbers))
    _read_points(found, series)
    _read_markers(found, series)
    for label in series.iterfind(f"{C}dLbls/{C}dLbl"):
        place = _index(label)
        found.labels[place] = list(_runs(label))
        code = label.find(f"{C}numFmt")
        if code is not None:
            found.codes[place] = str(code.get("formatCode"))
    for tag in ("tx", "cat", "val", "xVal", "yVal"):
        reference = series.find(f"{C}{tag}")
        named = None if reference is None else next(iter(reference.iter(f"{C}f")), None)
        if named is not None:
            found.references[tag] = str(named.text)
    return found


def _index(element: ET.Element) -> int:
    """The number of the point that an element is of."""
    number = element.find(f"{C}idx")
    assert number is not None
    return int(number.get("val", "-1"))


def _read_points(found: ReadSeries, series: ET.Element) -> None:
    """The looks of the points that differ from their series."""
    for point in series.iterfind(f"{C}dPt"):
        place, look = _index(point), point.find(f"{C}spPr")
        marker = point.find(f"{C}marker")
        if marker is not None:
            found.markers[place] = _fill(marker.find(f"{C}spPr"))
        if look is None:
            continue
        if found.kind not in {"lineChart", "scatterChart"}:
            found.colors[place] = _fill(look)
        line = look.find(f"{A}ln/{A}solidFill/{A}srgbClr")
        if line is not None:
            found.outlines[place] = f"#{line.get('val')}"
        pattern = look.find(f"{A}pattFill")
        if pattern is not None:
            found.patterns[place] = str(pattern.get("prst"))


def _read_markers(found: ReadSeries, series: ET.Element) -> None:
    """The markers that all points of a series have."""
    whole = series.find(f"{C}marker")
    symbol = None if whole is None else whole.find(f"{C}symbol")
    if whole is None or symbol is None or symbol.get("val") == "none":
        return
    for place, value in enumerate(found.numbers):
        if value is not None:
            found.markers.setdefault(place, _fill(whole.find(f"{C}spPr")))


def _cached(source: ET.Element | None) -> list[str | None]:
    """The points of a cache in their places."""
    if source is None:
        return []
    direct = source.find(f"{C}v")
    if direct is not None:
        return [direct.text or ""]
    count = next(iter(source.iter(f"{C}ptCount")), None)
    points: list[str | None] = [None] * (int(count.get("val", "0")) if count is not None else 0)
    for point in source.iter(f"{C}pt"):
        points[int(point.get("idx", "-1"))] = point.findtext(f"{C}v")
    return points


def _fill(look: ET.Element | None) -> str:
    """The fill of a look as '#RRGGBB', '' for none; of a pattern the colour behind it."""
    if look is None:
        return ""
    for tag in (f"{A}solidFill/{A}srgbClr", f"{A}pattFill/{A}bgClr/{A}srgbClr"):
        color = look.find(tag)
        if color is not None:
            return f"#{color.get('val')}"
    return ""


def _runs(label: ET.Element) -> Iterator[tuple[str, str, bool]]:
    """The pieces of a label: their texts, inks and weights; of what a program writes '' as text."""
    runs = [*label.iter(f"{A}r")]
    for run in runs:
        looks = run.find(f"{A}rPr")
        assert looks is not None
        yield run.findtext(f"{A}t") or "", _fill(looks), looks.get("b") == "1"
    if not runs:
        for looks in label.iter(f"{A}defRPr"):
            yield "", _fill(looks), looks.get("b") == "1"
