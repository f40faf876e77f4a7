"""Texts of the rule language in a brief: parsed once, and kept with their tree."""

import re
from collections.abc import Callable
from dataclasses import field
from typing import Annotated, Any, Generic, TypeAlias, TypeVar

from pydantic_core import PydanticCustomError, PydanticKnownError, core_schema

from yuzen.errors import YuzenError, make_error, suggestion
from yuzen.formats.number_format import NumberFormat
from yuzen.regex import regex
from yuzen.rules.conditions import Condition, Test
from yuzen.rules.grammar.parser import parse, parse_quantity
from yuzen.rules.grammar.wording import MAX_TEXT, Wording, parse_format, parse_text
from yuzen.rules.quantities.fields import Number
from yuzen.rules.quantities.numbers import Negative, Percent, Quantity
from yuzen.rules.quantities.structure import number
from yuzen.rules.shades import Range, ScaleEnd
from yuzen.shape.plan.choices import ORDERS, Order
from yuzen.value import Value

Tree = TypeVar("Tree")
MOST_LISTED = 1_000  # names in an order


class Phrase(Value, Generic[Tree]):
    """A text as written, with its parsed tree; equal if written alike."""

    text: str
    tree: Tree = field(compare=False, repr=False)

    def __str__(self) -> str:
        return self.text


class Reads:
    """How pydantic takes a phrase: a text in, read by a function; the text out.

    noun: what such a text is, as the JSON Schema names its format.
    """

    def __init__(
        self, read: Callable[[str], Any], longest: int | None = None, *, noun: str
    ) -> None:
        self._read, self._longest, self._noun = read, longest, noun

    def phrase(self, value: object) -> Phrase[Any]:
        """The phrase of a text. Raises what pydantic tells with its place."""
        if isinstance(value, Phrase):
            return value
        try:
            text = self.text(value)
            if self._longest is not None and len(text) > self._longest:
                raise PydanticKnownError("string_too_long", {"max_length": self._longest})
            return Phrase(text, self._read(text))
        except YuzenError as error:
            # The error itself goes along, so that its code and its caret reach the analyst.
            context = {"text": str(error), "error": error}
            raise PydanticCustomError("yuzen", "{text}", context) from None

    def text(self, value: object) -> str:
        """The text that a value is. Raises what pydantic tells with its place."""
        if not isinstance(value, str):
            raise PydanticKnownError("string_type")
        try:
            value.encode()
        except UnicodeEncodeError:  # half of a pair of code units, which no file can hold
            raise PydanticKnownError("string_unicode") from None
        return value

    def __get_pydantic_core_schema__(self, _: object, __: object) -> core_schema.CoreSchema:
        """A text that is read."""
        return core_schema.no_info_plain_validator_function(
            self.phrase, serialization=core_schema.to_string_ser_schema()
        )

    def __get_pydantic_json_schema__(self, _: object, __: object) -> dict[str, Any]:
        """For editors a plain text."""
        text = {"type": "string", "format": self._noun}
        if self._longest is None:
            return text
        return {**text, "maxLength": self._longest}


class ReadsQuantity(Reads):
    """A quantity, or a plain number, which is written as the language does."""

    def text(self, value: object) -> str:
        """Source text of a phrase or number."""
        if isinstance(value, int | float) and not isinstance(value, bool):
            return str(number(value))
        return super().text(value)

    def __get_pydantic_json_schema__(self, _: object, __: object) -> dict[str, Any]:
        """For editors a text or a number."""
        return {"anyOf": [{"type": "string", "format": self._noun}, {"type": "number"}]}


class ReadsOrder(Reads):
    """An order in words, or a list of names."""

    def phrase(self, value: object) -> Phrase[Any]:
        """The phrase of a text or of names."""
        if isinstance(value, list | tuple):
            names = tuple(self.text(name) for name in value)
            if not 0 < len(names) <= MOST_LISTED:
                raise PydanticKnownError(
                    "too_long",
                    {"field_type": "List", "max_length": MOST_LISTED, "actual_length": len(names)},
                )
            return Phrase(f"listed: {', '.join(names)}", Order("listed", names=names))
        return super().phrase(value)

    def __get_pydantic_core_schema__(self, _: object, __: object) -> core_schema.CoreSchema:
        """A text that is read, or a list that is taken."""
        return core_schema.no_info_plain_validator_function(
            self.phrase, serialization=core_schema.plain_serializer_function_ser_schema(_order_said)
        )

    def __get_pydantic_json_schema__(self, _: object, __: object) -> dict[str, Any]:
        """For editors a text or a list."""
        names = {
            "type": "array",
            "items": {"type": "string"},
            "minItems": 1,
            "maxItems": MOST_LISTED,
        }
        return {"anyOf": [{"type": "string", "format": self._noun}, names]}


def _order_said(phrase: Phrase[Order]) -> str | list[str]:
    """The order as a brief has it."""
    return list(phrase.tree.names) or phrase.text


_TO = regex(r"\s+to\s+", re.IGNORECASE)


def parse_range(text: str) -> Range:
    """The two ends of a shade: "5% to 95%" or "0 to 100".

    >>> parse_range("5% to 1_000")
    (ScaleEnd(value=5.0, percentile=True), ScaleEnd(value=1000.0, percentile=False))
    """
    low, *others = _TO.split(text)
    if len(others) != 1:
        raise make_error(
            "brief-range", f'"{text[:40]}" is no range; write "5% to 95%" or "0 to 100".'
        )
    ends = _edge(low), _edge(others[0])
    # A percentile and a number cannot be compared without the rows.
    if ends[0].percentile == ends[1].percentile and ends[0].value >= ends[1].value:
        raise make_error(
            "brief-range", f'"{text[:40]}" begins at its upper end; write "{others[0]} to {low}".'
        )
    return ends


def _edge(text: str) -> ScaleEnd:
    end = parse_quantity(text)
    sign = 1.0
    if isinstance(end, Negative):
        end, sign = end.of, -1.0
    if isinstance(end, Percent) and end.of is None and end.percent <= 100:
        return ScaleEnd(end.percent, percentile=True)
    if isinstance(end, Number):
        return ScaleEnd(sign * end.value)
    raise make_error("brief-range", f'"{text[:40]}" is neither a number nor a percentile.')


def parse_part(text: str) -> Test:
    """The comparison of a part: one test that has sides, such as "above average within waters"."""
    test = parse(text)
    if isinstance(test, Test) and test.claim.sides():
        return test
    message = f"'{text[:60]}' does not say on which side of a value the part lies."
    raise make_error("brief-part", f"{message} Write 'above average' or 'between 0 and limit'.")


def parse_show(text: str) -> Condition | None:
    """For which marks a label is shown: a condition; None for the words all, flagged and totals."""
    if text in {"all", "flagged", "totals"}:
        return None
    return parse(text)


_BY = regex(r"(?:(?P<by>.+?)\s*,\s*)?(?P<way>largest first|smallest first)", re.IGNORECASE)


def parse_order(text: str) -> Order:
    """The order of a chart: 'largest first', 'in time', or by a measure, 'surplus, smallest first'.

    >>> parse_order("fares, smallest first")
    Order(way='smallest first', by='fares', names=())
    """
    order_text = text.strip()
    if order_text in ORDERS:
        return Order(order_text)
    by = _BY.fullmatch(order_text)
    if by is None:
        hint = suggestion(order_text, ORDERS)
        ways = ", ".join(ORDERS)
        message = (
            f"'{text[:60]}' is no order.{hint} There is {ways}; or by a measure: \"fares, largest "
            f'first".'
        )
        raise make_error("brief-order", message)
    return Order(by["way"].casefold(), by["by"] or "")  # type: ignore[arg-type]  # as above


ConditionText: TypeAlias = Annotated[Phrase[Condition], Reads(parse, noun="condition")]
MeasureText: TypeAlias = Annotated[Phrase[Quantity], ReadsQuantity(parse_quantity, noun="quantity")]
PartText: TypeAlias = Annotated[Phrase[Test], Reads(parse_part, noun="comparison")]
ShowText: TypeAlias = Annotated[Phrase[Condition | None], Reads(parse_show, noun="condition")]
RangeText: TypeAlias = Annotated[Phrase[Range], Reads(parse_range, noun="range")]
FormatText: TypeAlias = Annotated[
    Phrase[NumberFormat], Reads(parse_format, MAX_TEXT, noun="number format")
]
OrderText: TypeAlias = Annotated[Phrase[Order], ReadsOrder(parse_order, noun="order")]
WordingText: TypeAlias = Annotated[
    Phrase[Wording], Reads(parse_text, MAX_TEXT, noun="text with numbers")
]

ALWAYS = Phrase("always", parse("always"))


def wording(text: str) -> Phrase[Wording]:
    """A text with numbers in it as a phrase. Raises YuzenError (text-…)."""
    return Phrase(text, parse_text(text))
