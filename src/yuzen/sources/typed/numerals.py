"""Numbers as people write them, 1.234,50 kr, (1,480), 11.2%, 12 kg, by their column."""

import re
from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import field
from typing import Final, Literal, TypeAlias

from yuzen.regex import regex
from yuzen.value import Value

MISSING_WORDS: Final = frozenset(
    {"", "-", "–", "—", ".", "n/a", "na", "n.a.", "#n/a", "null", "none", "nan"}
)
ENDLESS: Final = {"inf": float("inf"), "infinity": float("inf"), "∞": float("inf")}
MINUS_SIGNS: Final = "-−–"
BLANKS: Final = " \u00a0\u202f\u2009"
MOST_EXAMPLES: Final = 5  # of cells that are not written plainly
MAX_NUMERAL_CHARACTERS: Final = 60  # characters of a number with all its signs

_EVEN: Final = str.maketrans({**dict.fromkeys(BLANKS, " "), "’": "'"})
_NUMERAL: Final = regex(
    r"""
      (?P<open>   \( )? \s*
      (?P<sign>   [-−–+] )? \s*
      (?P<before> [A-Z]{0,2}[$€£¥₹₽₩₺฿₫₴₦¢] | [A-Z]{3} | (?:kr|Fr|Rs)\.? )? \s*
      (?P<inner>  [-−–+] )? \s*
      (?P<body>   \d (?: [\d.,'’ \u00a0\u202f\u2009]* \d )? [.,]? | [.,]\d+ )
      (?P<power>  [eE][-+]?\d{1,3} )? \s*
      (?P<after>  % | [^\W\d_][^\s\d()%]*? (?: \s [^\s\d()%]+? )? | [$€£¥₹₽₩₺฿₫₴₦¢°] [^\s\d()%]*? )?
      \s* (?P<trail>  [-−–] )? \s*
      (?P<close>  \) )?
    """,
    re.VERBOSE,
)
_GROUPED: Final = regex(
    r"\d{1,3}(?P<by>[ .,'])(?:\d{3}(?:(?P=by)\d{3})*|(?:\d{2}(?P=by))+\d{3})"
    r"(?:(?P<point>(?!(?P=by))[.,])\d*)?"
)
_DECIMAL: Final = regex(r"\d*(?P<point>[.,])\d*")
Role: TypeAlias = Literal["decimal", "thousands", "either"]
ROLES: Final[tuple[Role, ...]] = ("decimal", "thousands", "either")


class Style(Value):
    """A notation: the decimal sign, and the separator of thousands; '' where unknown."""

    decimal: str = ""
    thousands: str = ""


class Numeral(Value):
    """A written number: its sign, digits with separators, unit, and power."""

    negative: bool
    body: str
    unit: str
    power: str = ""
    odd: bool = False  # a minus behind it, or brackets for one


class Reading(Value):
    """What a column's cells mean: a number for each, NaN for a missing one.

    bad, why: the place of the first cell that is no number as the others are, and why; None: all
              are.
    examples: what was made of cells that are not written plainly, one for each way.
    doubt:    a cell that may mean two things, and the sign in it that was read as the decimal sign
              or not.
    """

    numbers: list[float]
    style: Style
    bad: int | None = None
    why: str = ""
    examples: Mapping[str, tuple[str, float]] = field(default_factory=dict)
    doubt: tuple[str, str] | None = None


def numeral(cell: str) -> Numeral | None:
    """A cell's parts; None where it is no number.

    >>> numeral("(1,480.50 kr)")
    Numeral(negative=True, body='1,480.50', unit='kr', power='', odd=True)
    """
    if len(cell) > MAX_NUMERAL_CHARACTERS:
        return None
    # The pattern has no nested repetition over the same letters, so that it cannot be made to run
    # long.
    match = _NUMERAL.fullmatch(cell)
    if match is None or bool(match["open"]) != bool(match["close"]):
        return None
    signs = [
        sign for sign in (match["sign"], match["inner"], match["trail"], match["open"]) if sign
    ]
    units = [unit for unit in (match["before"], match["after"]) if unit]
    # "-(5)" and "€5 kr" mean nothing that could be told.
    if len(signs) > 1 or len(units) > 1:
        return None
    odd = bool(match["trail"] or match["open"])
    return Numeral(
        bool(signs) and signs[0] != "+",
        match["body"].translate(_EVEN),
        units[0] if units else "",
        match["power"] or "",
        odd,
    )


def is_plain(cell: str) -> bool:
    """Whether a cell is a number without unit, brackets or leading zeros, so no name.

    >>> is_plain("1,234"), is_plain("007"), is_plain("12 kg"), is_plain("0.5")
    (True, False, False, True)
    """
    read = numeral(cell)
    if read is None or read.unit or read.odd or read.power:
        return False
    return not re.match(r"0\d", read.body)


def roles(body: str) -> list[tuple[str, Role]]:
    """What the signs between digits can be, each with the role that it must or may have.

    >>> roles("1.234,5"), roles("1,234"), roles("1 234")
    ([('.', 'thousands'), (',', 'decimal')], [(',', 'either')], [(' ', 'thousands')])
    >>> roles("0.883")
    [('.', 'decimal')]
    """
    if grouped := _GROUPED.fullmatch(body):
        if grouped["point"]:
            return [(grouped["by"], "thousands"), (grouped["point"], "decimal")]
        if grouped["by"] in ".," and body.count(grouped["by"]) == 1 and body[0] != "0":
            return [(grouped["by"], "either")]
        if body[0] != "0":
            return [(grouped["by"], "thousands")]
    if decimal := _DECIMAL.fullmatch(body):
        return [(decimal["point"], "decimal")]
    return []


def style_of(bodies: Iterable[str]) -> tuple[Style, str]:
    """The notation of the clear ones of some numbers, and a sign that may be either."""
    seen: Counter[tuple[str, Role]] = Counter()
    for body in bodies:
        seen.update(roles(body))
    by_role = {role: {sign: n for (sign, its), n in seen.items() if its == role} for role in ROLES}
    grouping = by_role["thousands"]
    points = {
        # A sign that mostly groups thousands is no decimal sign in the others.
        sign: count
        for sign, count in by_role["decimal"].items()
        if count > grouping.get(sign, 0)
    }
    decimal = max(points, key=lambda sign: points[sign], default="")
    others = {sign: count for sign, count in grouping.items() if sign != decimal}
    thousands = max(others, key=lambda sign: others[sign], default="")
    return Style(decimal, thousands), next(
        (sign for sign in by_role["either"] if sign != thousands), ""
    )


def read_numerals(
    cells: Sequence[str], notation: Style, elsewhere: Callable[[], Style], *, semicolons: bool
) -> Reading:
    """The numbers of a column's different cells.

    told:       what the brief says of how numbers are written.
    elsewhere:  gives what the file's other columns show, which is asked for where this one leaves
                doubt.
    semicolons: whether cells are parted by them, which is where a comma is the decimal sign.
    """
    stripped = [cell.strip() for cell in cells]
    read = [numeral(cell) for cell in stripped]
    detected, unclear = style_of(one.body for one in read if one is not None)
    style, doubtful = _decided(
        _joined(notation, detected), unclear, elsewhere, semicolons=semicolons
    )
    unit = _unit(read)
    forms = _forms(style)
    numbers: list[float] = []
    examples: dict[str, tuple[str, float]] = {}
    doubt = None
    for place, (cell, one) in enumerate(zip(stripped, read, strict=True)):
        if one is None:
            value = _worded(cell)
            why = ""
        else:
            why = _fault(one, style, unit, forms)
            if why:
                value = None
            else:
                value = _value(one, style)
        if value is None:
            return Reading(numbers, style, place, why, examples, doubt)
        numbers.append(value)
        if one is None:
            if cell and len(examples) < MOST_EXAMPLES:
                examples.setdefault(cell, (cell, value))
        elif one.unit or one.odd:
            examples.setdefault("unit" if one.unit else "sign", (cell, value))
        if (
            doubt is None
            and one is not None
            and doubtful
            and (doubtful, "either") in roles(one.body)
        ):
            doubt = (cell, doubtful)
    return Reading(numbers, style, None, "", examples, doubt)


def _joined(notation: Style, detected: Style) -> Style:
    """The settings, and what was detected where none are."""
    decimal = notation.decimal or (
        detected.decimal if detected.decimal != notation.thousands else ""
    )
    thousands = notation.thousands or (detected.thousands if detected.thousands != decimal else "")
    return Style(decimal, thousands)


def _decided(
    style: Style, unclear: str, elsewhere: Callable[[], Style], *, semicolons: bool
) -> tuple[Style, str]:
    """The style with what an unclear sign means, and that sign if it had to be guessed."""
    if unclear in {"", style.thousands}:
        return style, ""
    if unclear == style.decimal:  # some of its numbers have a part that is not three digits long
        return (
            style,
            unclear if unclear == "," and not semicolons and unclear != elsewhere().decimal else "",
        )
    if style.decimal:
        return Style(style.decimal, style.thousands or unclear), ""
    if style.thousands:
        return Style(unclear, style.thousands), ""
    return _by_others(unclear, elsewhere(), semicolons=semicolons)


def _by_others(unclear: str, elsewhere: Style, *, semicolons: bool) -> tuple[Style, str]:
    """The meaning of an unclear sign by other columns, else the usual one, as a guess."""
    as_decimal, as_thousands = Style(unclear, ""), Style("", unclear)
    if unclear == elsewhere.decimal or (elsewhere.thousands and unclear != elsewhere.thousands):
        return as_decimal, ""
    if unclear == elsewhere.thousands or elsewhere.decimal:
        return as_thousands, ""
    if semicolons or unclear == ".":
        return as_decimal, unclear
    return as_thousands, unclear


def _unit(read: Sequence[Numeral | None]) -> str:
    """The unit that most of the numbers have."""
    units = Counter(one.unit for one in read if one is not None)
    return max(units, key=lambda unit: units[unit], default="")


def _forms(style: Style) -> tuple[re.Pattern[str], ...]:
    """How the digits of a number may stand: plainly, or in groups."""
    decimal = re.escape(style.decimal or ("," if style.thousands == "." else "."))
    fraction = rf"(?:{decimal}\d*)?"
    plain = re.compile(rf"\d+{fraction}|{decimal}\d+")
    if not style.thousands:
        return (plain,)
    by = re.escape(style.thousands)
    grouped = rf"\d{{1,3}}(?:{by}\d{{3}})+{fraction}|\d{{1,2}}(?:{by}\d{{2}})*{by}\d{{3}}{fraction}"
    return plain, re.compile(grouped)


def _fault(one: Numeral, style: Style, unit: str, forms: Sequence[re.Pattern[str]]) -> str:
    """Why a number is not written as the others of its column; '' where it is."""
    if not any(form.fullmatch(one.body) for form in forms):
        if style.thousands and style.thousands in one.body:
            return f"'{style.thousands}' separates thousands here, three digits apart"
        return f"the decimal sign is '{style.decimal or '.'}' here"
    # A zero needs no unit.
    if one.unit != unit and float(re.sub(r"\D", "", one.body) or 0) != 0:
        if unit and one.unit:
            return f"others are in {unit}"
        if unit:
            return f"others are written with {unit}"
        return f"others are written without {one.unit}"
    return ""


def _value(one: Numeral, style: Style) -> float:
    """The number itself; a percentage is a hundredth of what is written, exactly."""
    digits = one.body
    if style.thousands:
        digits = digits.replace(style.thousands, "")
    digits = digits.replace(style.decimal or ("," if style.thousands == "." else "."), ".")
    if one.power:
        power = int(one.power[1:] or 0)
    else:
        power = 0
    if one.unit == "%":
        power -= 2
    # The power is put into the text, so that 12.3% is 0.123 and not 0.12300000000000001.
    size = float(f"{digits}e{power}")
    if one.negative:
        return -size
    return size


def _worded(cell: str) -> float | None:
    """What a cell without digits means: nothing, or without end; None: neither."""
    fold = cell.casefold()
    if fold in MISSING_WORDS:
        return float("nan")
    bare = fold.lstrip("+-−")
    if bare in ENDLESS:
        if fold[0] in MINUS_SIGNS:
            return -ENDLESS[bare]
        return ENDLESS[bare]
    return None
