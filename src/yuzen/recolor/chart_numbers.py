"""What a chart of a deck or a workbook shows: its kind, its series, their categories and values."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Floats
from yuzen.office.parts.markup import NAMESPACES, Xml
from yuzen.regex import regex
from yuzen.value import Value

C: Final = f"{{{NAMESPACES['c']}}}"
A: Final = f"{{{NAMESPACES['a']}}}"
# The groups that can be read, by what their marks are.
GROUPS: Final = {
    "barChart": "bars",
    "bar3DChart": "bars",
    "lineChart": "lines",
    "line3DChart": "lines",
    "scatterChart": "points",
    "bubbleChart": "points",
    "pieChart": "slices",
    "pie3DChart": "slices",
    "doughnutChart": "slices",
    "ofPieChart": "slices",
}
OTHER_GROUPS: Final = {
    "areaChart": "area",
    "area3DChart": "area",
    "radarChart": "radar",
    "stockChart": "stock",
    "surfaceChart": "surface",
    "surface3DChart": "surface",
}
MAX_POINTS: Final = 100_000  # of one series
LAST_DAY: Final = 2_958_466  # 31 December 9999, counted as workbooks count
MAX_DIGITS: Final = 9  # of the place of a point
SERIAL_ZERO: Final = np.datetime64("1899-12-30", "s")
SERIAL_ZERO_1904: Final = np.datetime64("1904-01-01", "s")
DATE_CODE: Final = regex(r'(?:\[[^\]]*\]|"[^"]*"|\\.)')  # what a format holds besides letters
DAY_SECONDS: Final = 86_400
MarkKind: TypeAlias = Literal["bars", "lines", "points", "slices"]
Cells: TypeAlias = Callable[[str], list[Any]]


class OfficeSeries(Value, eq=False):
    """A series of a chart: its element, its name, its categories and numbers, n each.

    categories: texts, or dates, or numbers; None where it has none. across: of points.
    """

    element: Xml
    name: str
    numbers: Floats
    categories: list[Any] | None
    across: Floats | None = None


class OfficeChart(Value, eq=False):
    """A chart that can be painted.

    title: its own title; kinds: what the groups of the file call themselves.
    marks: what its marks are; horizontal: whether its bars are.
    """

    root: Xml
    title: str
    kinds: tuple[str, ...]
    marks: MarkKind
    horizontal: bool
    series: tuple[OfficeSeries, ...]
    category_title: str = ""
    value_title: str = ""

    @property
    def kind(self) -> str:
        """What people call the kind of the chart."""
        if self.marks == "bars":
            return "bar" if self.horizontal else "column"
        plain = self.kinds[0].removesuffix("Chart").replace("3D", "")
        return {"ofPie": "pie"}.get(plain, plain)


@dataclass(frozen=True)
class Unreadable(Exception):  # noqa: N818 - caught where charts are listed, and told by name there
    """Why a chart cannot be painted, as a sentence."""

    why: str


def read_chart(root: Xml, cells: Cells) -> OfficeChart:
    """The chart of a part. Raises Unreadable.

    cells: the values of the cells that a reference names, for series without values of their own.
    """
    if not str(root.tag).startswith(C):
        raise Unreadable("it is in the strict form of the format; save the file in the usual one.")
    area = root.find(f"{C}chart/{C}plotArea")
    if area is None:
        raise Unreadable("it has no plot.")
    groups = [child for child in area if _local(child).endswith("Chart")]
    names = tuple(dict.fromkeys(map(_local, groups)))
    other = next((OTHER_GROUPS.get(name, name) for name in names if name not in GROUPS), "")
    if not groups:
        raise Unreadable("it is empty.")
    if other:
        word = "an" if other[:1] in "aeiou" else "a"
        raise Unreadable(f"it is {word} {other} chart, whose marks have no colours of their own.")
    # A chart may hold several groups, such as columns with a line over them.
    kinds = {GROUPS[name] for name in names}
    # Of several groups the bars are what is painted; lines over them are compared with.
    chosen = next(kind for kind in ("bars", "slices", "points", "lines") if kind in kinds)
    painted = [group for group in groups if GROUPS[_local(group)] == chosen]
    zero = SERIAL_ZERO_1904 if _is_1904(root) else SERIAL_ZERO
    series = tuple(
        _series(element, place, cells, zero)
        for place, element in enumerate(
            (child for group in painted for child in group.iterfind(f"{C}ser")), start=1
        )
    )
    # Bars without a fill carry others, or a line over them, and are no marks.
    series = tuple(one for one in series if len(one.numbers) and not _is_unseen(one.element))
    if not series:
        raise Unreadable("it has no numbers, neither its own nor in cells of this file.")
    # Without a direction bars stand upright (21.2.2.17).
    direction = painted[0].find(f"{C}barDir")
    horizontal = direction is not None and direction.get("val") == "bar"
    category, value = _axis_titles(area)
    return OfficeChart(root, _title(root.find(f"{C}chart/{C}title")), names, chosen,
                       horizontal, _with_categories(series), category, value)  # fmt: skip


def _is_unseen(series: Xml) -> bool:
    """Whether nothing is drawn of a series."""
    look = series.find(f"{C}spPr")
    return look is not None and look.find(f"{A}noFill") is not None


def _local(element: Xml) -> str:
    """The name of an element without its namespace; '' for comments."""
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _is_1904(root: Xml) -> bool:
    """Whether dates are counted from 1904."""
    told = root.find(f"{C}date1904")
    return told is not None and told.get("val", "1") in {"1", "true"}


def _series(element: Xml, place: int, cells: Cells, zero: np.datetime64) -> OfficeSeries:
    """A series with its numbers, from its caches or from cells."""
    values, _ = _numbers(element, ("val", "yVal"), cells)
    across, _ = _numbers(element, ("xVal",), cells)
    categories = _categories(element, cells, zero)
    # Series are named in a cell or in words; some have no name at all.
    name = _first_text(element.find(f"{C}tx"), cells) or f"series {place}"
    count = len(values)
    if categories is not None:
        categories = (categories + [None] * count)[:count]
    # Points whose numbers across are fewer have no place.
    if len(across):
        across = np.concatenate([across, np.full(max(0, count - len(across)), np.nan)])[:count]
    return OfficeSeries(element, name, values, categories, across if len(across) else None)


def _with_categories(series: tuple[OfficeSeries, ...]) -> tuple[OfficeSeries, ...]:
    """Series without categories have those of another one, as programs draw them."""
    known = next((one.categories for one in series if one.categories is not None), None)
    filled = []
    for one in series:
        categories = one.categories if one.categories is not None else known
        count = len(one.numbers)
        if categories is None:
            categories = list(range(1, count + 1))
        # Programs number the points that have no category.
        padded = (categories + [None] * count)[:count]
        named = [place + 1 if name is None else name for place, name in enumerate(padded)]
        filled.append(replace(one, categories=named))
    return tuple(filled)


def _numbers(element: Xml, tags: tuple[str, ...], cells: Cells) -> tuple[Floats, str]:
    """Numbers by the first of some elements, and the code that they are written by."""
    for tag in tags:
        source = element.find(f"{C}{tag}")
        if source is None:
            continue
        # The first source that is there counts, even if it is empty.
        texts, code = _points(source, cells)
        return np.array([_number(text) for text in texts], dtype=float), code
    return np.empty(0), ""


def _categories(element: Xml, cells: Cells, zero: np.datetime64) -> list[Any] | None:
    """The categories of a series: texts, dates by their format, or numbers."""
    source = element.find(f"{C}cat")
    if source is None:
        return None
    texts, code = _points(source, cells)
    if not texts:
        return None
    numeric = source.find(f"{C}numRef") is not None or source.find(f"{C}numLit") is not None
    if any(isinstance(text, dt.datetime) for text in texts):
        return texts  # of cells, which know what they are
    words = any(text is not None and np.isnan(_number(text)) for text in texts)
    if not numeric or words:
        return [None if text is None else str(text) for text in texts]
    numbers = [_number(text) for text in texts]
    # Days beyond the year 9999 are no dates of workbooks, whatever their format.
    dated = _is_date(code) and all(np.isnan(n) or 0 <= n < LAST_DAY for n in numbers)
    if not dated:
        return [None if np.isnan(number) else number for number in numbers]
    seconds = [None if np.isnan(n) else round(n * DAY_SECONDS) for n in numbers]
    return [None if s is None else (zero + np.timedelta64(s, "s")).item() for s in seconds]


def _is_date(code: str) -> bool:
    """Whether a format writes dates."""
    # Quoted words and colours in brackets may hold any letter.
    plain = DATE_CODE.sub("", code).casefold()
    return any(letter in plain for letter in "yd") or plain.startswith("mmm")


def _points(source: Xml, cells: Cells) -> tuple[list[Any], str]:
    """The points of a source of numbers or texts, None where one is missing, and its format."""
    for held in source.iter():
        if _local(held) in {"numCache", "strCache", "numLit", "strLit", "multiLvlStrCache"}:
            return _held(held), (held.findtext(f"{C}formatCode") or "")
    # Some programs write charts without values, which are read from the cells then.
    reference = next((e.text for e in source.iter(f"{C}f") if e.text), None)
    return (cells(reference), "") if reference else ([], "")


def _held(cache: Xml) -> list[Any]:
    """The points of a cache in their places; of several levels the innermost."""
    # Categories of several levels list the innermost first.
    level = cache.find(f"{C}lvl")
    points = (cache if level is None else level).findall(f"{C}pt")
    told = cache.find(f"{C}ptCount")
    places = [_whole(point.get("idx")) for point in points]
    count = _whole(told.get("val")) if told is not None else 0
    count = max([count, *(place + 1 for place in places)])
    if count > MAX_POINTS:
        raise Unreadable(f"it has more than {MAX_POINTS:,} points.")
    texts: list[Any] = [None] * count
    for place, point in zip(places, points, strict=True):
        if 0 <= place < count:
            texts[place] = point.findtext(f"{C}v")
    return texts


def _number(text: str | float | None, otherwise: float = np.nan) -> float:
    """The number that a text is; another one where it is none."""
    if text is None:
        return otherwise
    try:
        return float(text)
    except (TypeError, ValueError, OverflowError):
        return otherwise


def _whole(text: str | None) -> int:
    """The place that a text says, −1 where it says none."""
    if text is None or not text.isdecimal() or len(text) > MAX_DIGITS:
        return -1
    return int(text)


def _first_text(source: Xml, cells: Cells) -> str:
    """The name of a series."""
    if source is None:
        return ""
    direct = source.findtext(f"{C}v")
    if direct:
        return " ".join(direct.split())
    texts, _ = _points(source, cells)
    return " ".join(str(text) for text in texts if text is not None).strip()


def _title(title: Xml) -> str:
    """The text of a title."""
    if title is None:
        return ""
    # A title is written out, or taken from a cell.
    texts = [text.text or "" for text in title.iter(f"{A}t")]
    if not texts:
        texts = [text.text or "" for text in title.iter(f"{C}v")]
    return " ".join("".join(texts).split())


def _axis_titles(area: Xml) -> tuple[str, str]:
    """What the categories and the values are called on the axes."""
    kinds = {"catAx": 0, "dateAx": 0, "valAx": 1}
    titles = ["", ""]
    for axis in area:
        place = kinds.get(_local(axis))
        if place is not None and not titles[place]:
            titles[place] = _title(axis.find(f"{C}title"))
    return titles[0], titles[1]
