"""Colours written into a chart that is there: of points, segments and labels, and nothing else."""

from __future__ import annotations

from copy import deepcopy
from typing import Final

from yuzen.arrays import Floats
from yuzen.color.named import rgba_of
from yuzen.office.editable.chart import LineLook
from yuzen.office.parts.looks import EMU_PER_POINT, color_node, fill_node, line_node
from yuzen.office.parts.markup import Xml, element, node
from yuzen.page.layer import PATTERN_NAMES
from yuzen.recolor.chart_numbers import A, C
from yuzen.recolor.judged import JudgedOffice
from yuzen.rules.target import MARK, Target

LABEL: Final = Target("label")
OUTLINE_PT: Final = 1.5
LINE_PT: Final = 2.25
MARKER_PT: Final = 7
FILLS: Final = ("noFill", "solidFill", "gradFill", "blipFill", "pattFill", "grpFill")
# What stands before a point, a look or a label among the children of its element (ISO/IEC 29500-1,
# annex A.5.1: CT_BarSer and the other series, CT_DPt, CT_DLbl, CT_ShapeProperties).
BEFORE_POINT: Final = ("idx", "order", "tx", "spPr", "invertIfNegative", "pictureOptions", "marker",
                       "explosion", "dPt")  # fmt: skip
BEFORE_LOOK: Final = ("idx", "invertIfNegative", "marker", "bubble3D", "explosion")
BEFORE_SERIES_LOOK: Final = ("idx", "order", "tx")
BEFORE_FILL: Final = ("xfrm", "custGeom", "prstGeom")
LABEL_ORDER: Final = ("idx", "delete", "layout", "tx", "numFmt", "spPr", "txPr", "dLblPos",
                      "showLegendKey", "showVal", "showCatName", "showSerName", "showPercent",
                      "showBubbleSize", "separator", "extLst")  # fmt: skip
SHOWN_PARTS: Final = ("showVal", "showCatName", "showSerName", "showPercent", "showBubbleSize")


def write_looks(office: JudgedOffice) -> list[str]:
    """Write what rules decided into the elements of a chart; returns notes on what is not seen."""
    judged, notes = office.judged, []
    verdict = judged.verdict
    won = verdict.winner(MARK) >= 0
    alone = len(office.chart.series) == 1 and office.chart.marks != "slices"
    # Rules on opacity alone change a mark too.
    fills = verdict.rgba(MARK)
    outlines = verdict.outline(verdict.winner(MARK, "outline"))
    patterns = verdict.patterns(MARK)
    paper = verdict.theme.color("paper")
    if alone and office.chart.marks == "lines":
        _quiet_line(office, verdict.theme.for_lines.color("quiet"))
    spots = [_Numbered(one.element, "dPt", BEFORE_POINT) for one in office.chart.series]
    for mark, (series, point) in enumerate(office.places.tolist()):
        # Of a single series the rest is quiet; of several it keeps what tells the series apart.
        changed = won[mark] or outlines[mark, 3] > 0 or patterns[mark] > 0
        if not changed and (not alone or office.chart.marks == "lines"):
            continue
        own, spot = office.chart.series[series].element, spots[series].point(point)
        pattern = PATTERN_NAMES[int(patterns[mark])]
        # Lines and points have no area but their markers.
        if office.chart.marks in {"lines", "points"}:
            _mark_point(own, spot, fills[mark], outlines[mark])
            continue
        _never_inverted(office, spot)
        look = _look(own, spot)
        if won[mark] or alone or pattern:
            _set_fill(look, fill_node(fills[mark], pattern, paper))
        if outlines[mark, 3] > 0:
            _set_line(look, LineLook(tuple(outlines[mark].tolist()), OUTLINE_PT))
    if office.chart.marks == "lines":
        _color_segments(office, spots, fills)
    for numbered in spots:
        numbered.put()
    if LABEL in verdict.whole.targets:
        notes += _write_labels(office)
    return notes


def _insert(parent: Xml, child: Xml, before: tuple[str, ...]) -> None:
    """Insert a child after all those that stand before it by the standard."""
    place = 0
    for index, other in enumerate(parent):
        if isinstance(other.tag, str) and other.tag.rpartition("}")[2] in before:
            place = index + 1
    parent.insert(place, child)


class _Numbered:
    """The elements of the points of a series, or of its labels, by the numbers of the points.

    They are put into the series at once, in the order of their numbers: to look for the place of
    each among all others takes as long as there are points, for each of them.
    """

    def __init__(self, parent: Xml, tag: str, before: tuple[str, ...]) -> None:
        self.parent, self._tag, self._before = parent, tag, before
        self._held = {_index(one): one for one in parent.findall(f"{C}{tag}")}

    def of(self, point: int) -> Xml | None:
        """The element of a point, None for none."""
        return self._held.get(point)

    def add(self, point: int, made: Xml) -> Xml:
        """Add the element of a point, which has none yet."""
        self._held[point] = made
        return made

    def point(self, point: int) -> Xml:
        """The element of a point, made if there is none."""
        held = self.of(point)
        if held is None:
            return self.add(point, element(node(f"c:{self._tag}", node("c:idx", val=point))))
        return held

    def put(self) -> None:
        """Put all elements into the series, in their order."""
        for one in self.parent.findall(f"{C}{self._tag}"):
            self.parent.remove(one)
        previous = None
        for _, one in sorted(self._held.items()):
            if previous is None:
                _insert(self.parent, one, self._before)
            else:
                previous.addnext(one)
            previous = one


def _index(element: Xml) -> int:
    """The number of the point that an element is of, −1 where it says none."""
    number = element.find(f"{C}idx")
    told = "" if number is None else number.get("val", "")
    return int(told) if told.isdecimal() else -1


def _never_inverted(office: JudgedOffice, spot: Xml) -> None:
    """A bar below zero keeps its colour, where programs would paint it white."""
    if office.chart.marks != "bars":
        return
    inverted = spot.find(f"{C}invertIfNegative")
    if inverted is None:
        _insert(spot, element(node("c:invertIfNegative", val=False)), ("idx",))
    else:
        inverted.set("val", "0")


def _look(series: Xml, spot: Xml) -> Xml:
    """The look of a point; a new one is that of its series."""
    look = spot.find(f"{C}spPr")
    # A point without a look of its own has that of its series, outline and shadow too.
    if look is None:
        own = series.find(f"{C}spPr")
        look = element(node("c:spPr")) if own is None else deepcopy(own)
        _insert(spot, look, BEFORE_LOOK)
    return look


def _set_fill(look: Xml, fill: str) -> None:
    """Replace the fill of a look."""
    for name in FILLS:
        for old in look.findall(f"{A}{name}"):
            look.remove(old)
    _insert(look, element(fill), BEFORE_FILL)


def _set_line(look: Xml, line: LineLook) -> None:
    """Replace the colour of a line, and its width where it has none."""
    # What else is said of the line, such as its dashes, stays.
    old = look.find(f"{A}ln")
    if old is None:
        _insert(look, element(line_node(line)), (*BEFORE_FILL, *FILLS))
        return
    _set_fill(old, node("a:solidFill", color_node(line.color)))
    if old.get("w") is None:
        old.set("w", str(round(line.width * EMU_PER_POINT)))


def _mark_point(series: Xml, spot: Xml, fill: Floats, outline: Floats) -> None:
    """Colour the marker of a point; where the series has none, the point gets a circle."""
    marker = spot.find(f"{C}marker")
    if marker is None:
        own = series.find(f"{C}marker")
        marker = element(node("c:marker")) if own is None else deepcopy(own)
        _insert(spot, marker, ("idx", "invertIfNegative"))
    # A line without markers gets one where a rule holds.
    symbol = marker.find(f"{C}symbol")
    if symbol is None or symbol.get("val") == "none":
        if symbol is not None:
            marker.remove(symbol)
        marker.insert(0, element(node("c:symbol", val="circle")))
    if marker.find(f"{C}size") is None:
        _insert(marker, element(node("c:size", val=MARKER_PT)), ("symbol",))
    look = marker.find(f"{C}spPr")
    if look is None:
        look = element(node("c:spPr"))
        _insert(marker, look, ("symbol", "size"))
    _set_fill(look, fill_node(fill))
    line = outline if outline[3] > 0 else fill
    _set_line(look, LineLook(tuple(line.tolist()), OUTLINE_PT))


def _quiet_line(office: JudgedOffice, quiet: str) -> None:
    """A single line is quiet where no rule colours it."""
    series = office.chart.series[0].element
    look = series.find(f"{C}spPr")
    if look is None:
        look = element(node("c:spPr"))
        _insert(series, look, BEFORE_SERIES_LOOK)
    _set_line(look, LineLook(rgba_of(quiet), LINE_PT))


def _color_segments(office: JudgedOffice, spots: list[_Numbered], fills: Floats) -> None:
    """Colour the stretches of lines between two neighbours that one rule has won."""
    winner = office.judged.verdict.winner(MARK)
    # A stretch is the part of a line that leads to a point.
    at = {tuple(place): mark for mark, place in enumerate(office.places.tolist())}
    for (series, point), mark in at.items():
        before = at.get((series, point - 1))
        if before is None or winner[mark] < 0 or winner[mark] != winner[before]:
            continue
        own = office.chart.series[series].element
        look = _look(own, spots[series].point(point))
        _set_line(look, LineLook(tuple(fills[mark].tolist()), LINE_PT))


def _write_labels(office: JudgedOffice) -> list[str]:
    """Colour the labels that a chart has; returns a note where it has none."""
    verdict = office.judged.verdict
    winner, heavy = verdict.winner(LABEL), verdict.winner(LABEL, "weight")
    inks = verdict.ink(winner)
    found = [_labels(one.element) for one in office.chart.series]
    numbered = [
        None if labels is None else _Numbered(labels, "dLbl", ("dLbl",)) for labels in found
    ]
    bare = 0
    for mark, (series, point) in enumerate(office.places.tolist()):
        if winner[mark] < 0 and heavy[mark] < 0:
            continue
        labels = numbered[series]
        label = None if labels is None else _label(labels, point)
        if label is None:
            bare += 1
            continue
        ink = rgba_of_row(inks[mark]) if winner[mark] >= 0 else None
        _set_text(label, ink, bold=heavy[mark] >= 0)
    for labels in numbered:
        if labels is not None:
            labels.put()
    if bare:
        what = "1 mark has no label" if bare == 1 else f"{bare:,} marks have no labels"
        return [f"{what}, so rules on labels are not seen there."]
    return []


def _labels(series: Xml) -> Xml | None:
    """The labels of a series; where its whole group has some, its own are made like these."""
    labels = series.find(f"{C}dLbls")
    shared = series.getparent().find(f"{C}dLbls")
    if labels is not None or shared is None:
        return labels
    labels = deepcopy(shared)
    _insert(series, labels, BEFORE_POINT)
    return labels


def rgba_of_row(ink: Floats) -> tuple[float, ...]:
    """Red, green and blue with an opacity of 1."""
    return (*ink.tolist(), 1.0)


def _label(labels: _Numbered, point: int) -> Xml | None:
    """The label of a point, made like those of its series; None where none is shown."""
    held = labels.of(point)
    if held is not None:
        return None if held.find(f"{C}delete") is not None else held
    # Labels that show nothing are none, though programs write their elements.
    shown = [labels.parent.find(f"{C}{name}") for name in SHOWN_PARTS]
    if not any(one is not None and one.get("val", "1") in {"1", "true"} for one in shown):
        return None
    label = element(node("c:dLbl", node("c:idx", val=point)))
    for child in labels.parent:
        name = child.tag.rpartition("}")[2] if isinstance(child.tag, str) else ""
        # A label says all that it shows; the position of its group is its own too.
        if name in LABEL_ORDER[4:-1]:
            label.append(deepcopy(child))
    return labels.add(point, label)


def _set_text(label: Xml, ink: tuple[float, ...] | None, *, bold: bool) -> None:
    """The ink and the weight of a label: of its own pieces, and of what the program writes."""
    text = label.find(f"{C}txPr")
    if text is None:
        made = node(
            "c:txPr", node("a:bodyPr"), node("a:lstStyle"),
            node("a:p", node("a:pPr", node("a:defRPr")), node("a:endParaRPr")),
        )  # fmt: skip
        text = element(made)
        _insert(label, text, LABEL_ORDER[:6])
    runs = [*text.iter(f"{A}defRPr")]
    # A label that somebody has typed has inks of its own.
    rich = label.find(f"{C}tx")
    if rich is not None:
        runs += [*rich.iter(f"{A}rPr"), *rich.iter(f"{A}defRPr")]
    for run in runs:
        if ink is not None:
            _set_fill(run, node("a:solidFill", color_node(ink)))
            # A line of letters stands before their fill.
            line = run.find(f"{A}ln")
            if line is not None:
                run.remove(line)
                run.insert(0, line)
        if bold:
            run.set("b", "1")
