"""Text with numbers in it: {quantity:format}, and {count "rule"} in titles.

The format is the part of Python's that numbers need, with `arrow`, `sign` or `paren` before it and
a scale k, M or B after it. Nothing else of Python's formatting can be reached.
"""

import re
from collections.abc import Iterator
from functools import lru_cache
from typing import Final, Literal, TypeAlias

from yuzen.errors import Fault, Span, YuzenError
from yuzen.formats.date_text import DATE_PATTERN, DIRECTIVES
from yuzen.formats.number_format import Form, NumberFormat
from yuzen.formats.periods import UNITS
from yuzen.regex import regex
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.language.period_names import PeriodName, period_named
from yuzen.rules.quantities.numbers import Quantity
from yuzen.value import Value

MAX_TEXT = 2_000  # characters of one text

_FORMAT = regex(
    r"\s*(?P<style>arrow|sign|paren)?\s*"
    r"(?P<spec>(?P<width>\d{1,2})?(?P<comma>,)?(?:\.(?P<digits>\d{1,2}))?(?P<kind>[f%])?)"
    r"(?P<scale>[kMB])?\s*"
)
# Doubled braces are plain ones, as in Python's own formats.
_PLAIN = r"(?:[^{}]|\{\{|\}\})*"
_ONE_SLOT = regex(rf"(?P<before>{_PLAIN})\{{:?(?P<form>[^{{}}]*)\}}(?P<after>{_PLAIN})", re.DOTALL)
_OF_DATES = regex(r"\s*(?P<end>latest|earliest)\s+(?P<period>.+)", re.IGNORECASE | re.DOTALL)
_PLURAL = regex(r"([^|{}]{0,60})\|([^|{}]{0,60})")
_OF_RULE = regex(r'\s*(count|names|share)\s+"((?:[^"]|"")*)"\s*')


class DateForm(Value):
    """How a date is written: by a pattern such as "%b %Y"; '' for by its grain."""

    pattern: str = ""


class Plural(Value):
    """Two words, for one and for any other number."""

    one: str
    others: str

    def write(self, value: float) -> str:
        """The word that a number asks for.

        >>> Plural("route", "routes").write(1.0)
        'route'
        """
        return self.one if value == 1 else self.others


class Slot(Value):
    """A number, a text or a date in a text: a quantity, its format, its place in the text."""

    quantity: Quantity
    form: Form | NumberFormat | DateForm | Plural
    span: Span


class OfDates(Value):
    """The first or the last period with rows: {latest month}, {earliest day of opened}."""

    end: Literal["latest", "earliest"]
    period: PeriodName
    form: DateForm
    span: Span


class OfRule(Value):
    """What a title says of the marks that a rule flagged: their count, names, or share."""

    ask: Literal["count", "names", "share"]
    rule: str
    form: Form | Plural
    span: Span


Piece: TypeAlias = str | Slot | OfRule | OfDates
Wording: TypeAlias = tuple[Piece, ...]


@lru_cache(maxsize=512)
def parse_text(source: str, most: int = MAX_TEXT) -> Wording:
    """The pieces of a text of at most some characters. Raises YuzenError (text-…) with the place.

    >>> [str(getattr(piece, "quantity", piece)) for piece in parse_text("{{n}} = {n:.0f}")]
    ['{n} = ', 'n']
    """
    if len(source) > most:
        raise YuzenError(Fault("text-too-long", f"A text has at most {most:,} characters."))
    pieces: list[Piece] = []
    plain, place = "", 0
    while place < len(source):
        char = source[place]
        if source[place : place + 2] in {"{{", "}}"}:
            plain, place = plain + char, place + 2
        elif char == "{":
            end = _closing(source, place)
            pieces += [plain, _slot(source, place, end)] if plain else [_slot(source, place, end)]
            plain, place = "", end + 1
        elif char == "}":
            raise _fault(
                "text-brace", "This brace closes nothing; write }} for a plain one.", source, place
            )
        else:
            plain, place = plain + char, place + 1
    if plain:
        return (*pieces, plain)
    return tuple(pieces)


@lru_cache(maxsize=512)
def parse_format(source: str) -> NumberFormat:
    """The format of a measure: a text with one pair of braces. Raises YuzenError (text-format).

    >>> parse_format("€{,.1fM}").write(-1_250_000.0)
    '−€1.2M'
    """
    match = _ONE_SLOT.fullmatch(source)
    if match is None:
        message = (
            'A format is a text with one number in it, such as "{,.0f}", "€{,.1fM}" or "{.1%}".'
        )
        raise YuzenError(Fault("text-format", message, "", source, Span(0, max(1, len(source)))))
    form = _form(match["form"], source, match.start("form"), match.end("form"))
    before, after = (
        match[side].replace("{{", "{").replace("}}", "}") for side in ("before", "after")
    )
    return NumberFormat(form, before, after)


def _unquoted(text: str, start: int) -> Iterator[tuple[int, str]]:
    """The characters from a place on that are outside quotes and backticks, with places."""
    quote = ""
    for place in range(start, len(text)):
        char = text[place]
        if quote:
            if char == quote:
                quote = ""
        elif char in '"`':
            quote = char
        else:
            yield place, char


# The periods whose first and last one a text can show.
DATED: Final = frozenset({*UNITS, "weekday"})


def _closing(source: str, start: int) -> int:
    """Where the brace closes, quotes and backticks passed over."""
    for place, char in _unquoted(source, start + 1):
        if char == "}":
            return place
    raise _fault("text-brace", "This brace is not closed; write {{ for a plain one.", source, start)


def _slot(source: str, start: int, end: int) -> Slot | OfRule | OfDates:
    inner = source[start + 1 : end]
    format_text, colon, form = _split(inner)
    span = Span(start, end + 1, source)
    of_dates, of_rule = _OF_DATES.fullmatch(format_text), _OF_RULE.fullmatch(format_text)
    period = period_named(of_dates["period"]) if of_dates else None
    if (
        of_dates
        and period
        and period.unit in DATED
        and (not form.strip() or form.strip().startswith("%"))
    ):
        end_of = of_dates["end"].casefold()
        return OfDates(end_of, period, _date_form(form, span), span)  # type: ignore[arg-type]  # as matched
    # "%b %Y" is a date's format; a lone "%" is a number's, and belongs to percentages.
    if form.strip().startswith("%") and not of_rule and form.strip() != "%":
        return Slot(_quantity(format_text, source, start), _date_form(form, span), span)
    written: Form | Plural
    if of_rule and of_rule[1] == "names" and form.strip():
        message = f"Names have no format. Write {{{format_text.strip()}}}."
        raise YuzenError(Fault("text-format", message, "", source, span))
    if match := _PLURAL.fullmatch(form):
        written = Plural(match[1].strip(), match[2].strip())
    else:
        written = _form(form, source, start + 1 + len(format_text) + len(colon), end)
    if of_rule:
        ask, rule = of_rule.groups()
        return OfRule(ask, rule.replace('""', '"'), written, span)  # type: ignore[arg-type]
    return Slot(_quantity(format_text, source, start), written, span)


def _quantity(text: str, source: str, start: int) -> Quantity:
    """The quantity of a slot that begins at a place."""
    try:
        return parse_quantity(text)
    except YuzenError as error:
        first = error.faults[0]
        at = first.span or Span(0, len(text))
        # The fault lies in the slot; the caret has to stand under it in the whole text.
        moved = Span(at.start + start + 1, at.end + start + 1)
        raise YuzenError(Fault(first.code, first.message, "", source, moved)) from None


def _date_form(form: str, span: Span) -> DateForm:
    """The format of a date. Raises YuzenError (text-format)."""
    pattern = form.strip()
    if pattern and DATE_PATTERN.fullmatch(pattern) is None:
        signs = " ".join(f"%{sign}" for sign in DIRECTIVES)
        message = f'I cannot read this date format. It is made of {signs}, such as "%b %Y".'
        raise YuzenError(Fault("text-format", message, "", span.source, span))
    return DateForm(pattern)


def _split(inner: str) -> tuple[str, str, str]:
    """The quantity and the format: at the first colon outside quotes and backticks."""
    for place, char in _unquoted(inner, 0):
        if char == ":":
            return inner[:place], ":", inner[place + 1 :]
    return inner, "", ""


def _form(text: str, source: str, start: int, end: int) -> Form:
    match = _FORMAT.fullmatch(text)
    if match is None:
        message = (
            "I cannot read this number format. Write one such as ,.0f or .1% or ,.1fM, with arrow, "
            "sign or paren before it."
        )
        raise YuzenError(
            Fault("text-format", message, "", source, Span(start, max(end, start + 1)))
        )
    spec = match["spec"]
    # ".1" alone would mean significant digits in Python; an analyst means decimals.
    if match["digits"] and not match["kind"]:
        spec += "f"
    elif spec and not match["kind"]:
        spec += ".0f"
    return Form(match["style"] or "", spec, match["scale"] or "")  # type: ignore[arg-type]


def _fault(code: str, message: str, source: str, place: int) -> YuzenError:
    return YuzenError(Fault(code, message, "", source, Span(place, place + 1)))


def braced(text: str) -> str:
    """A text that reads back as it is: its braces doubled.

    >>> braced("{n}")
    '{{n}}'
    """
    return text.replace("{", "{{").replace("}", "}}")
