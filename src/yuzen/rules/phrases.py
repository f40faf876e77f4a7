"""What claims are made of: quantities, counts, names and texts; one function for each production.

quantity = term { ( "+" | "-" ) term }          term = factor { ( "*" | "/" ) factor }
"""

from collections.abc import Callable
from typing import Any, Final

from yuzen.errors import YuzenError
from yuzen.formats.periods import Unit
from yuzen.rules.language.period_names import (
    CALENDAR_WORDS,
    PERIOD_WORDS,
    UNIT_WORDS,
    PeriodName,
    PeriodUnit,
)
from yuzen.rules.language.reader import Reader
from yuzen.rules.language.tokens import LONGEST_NUMBER, Token, fault
from yuzen.rules.language.words import SUMMARIES, is_reserved
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import (
    Arithmetic,
    Derived,
    Distinct,
    Moving,
    Negative,
    Percent,
    Previous,
    Quantity,
    RowCount,
    Summary,
    Where,
)

SUFFIXES: Final = {"k": 1e3, "m": 1e6, "b": 1e9}


def quantity(reader: Reader) -> Quantity:
    """Quantity = term { ( "+" | "-" ) term }."""
    return _chain(reader, term, "+", "-")


def term(reader: Reader) -> Quantity:
    """Term = factor { ( "*" | "/" ) factor }."""
    return _chain(reader, factor, "*", "/")


def factor(reader: Reader) -> Quantity:
    """Factor = [ "-" ] ( number | percent | summary | derived | previous | field | brackets )."""
    with reader.deeper():
        if reader.take("-"):
            return Negative(_unsigned(reader))
        return _unsigned(reader)


def _chain(reader: Reader, part: Callable[[Reader], Quantity], *signs: Any) -> Quantity:  # noqa: ANN401
    """Parts joined from the left; the chain's length counts as depth, which it is in the tree."""
    # A chain of a thousand sums is a tree a thousand deep, which printing it would recurse into.
    chained, depth = part(reader), reader.depth
    while sign := reader.take(*signs):
        with reader.deeper():
            chained = Arithmetic(chained, sign.word, part(reader))  # type: ignore[arg-type]
        reader.depth += 1
    reader.depth = depth
    return chained


def _unsigned(reader: Reader) -> Quantity:  # noqa: PLR0911 - one for each kind of factor
    token = reader.next
    if token.kind in {"number", "percent"}:
        return number(reader)
    if reader.take("("):
        negated = quantity(reader)
        reader.must(")", "a closing bracket belongs here")
        return negated
    if reader.take(*SUMMARIES):
        return _summary(reader, token)
    if token.word == "the" and reader.ahead().word in SUMMARIES:
        reader.take("the")
        return _unsigned(reader)
    if token.word == "moving" and reader.ahead().word == "average":
        return _moving(reader)
    if reader.take("share", "rank", "change"):
        return _derived(reader, token.word)
    if reader.take("running"):
        kind = reader.take("share", "total") or reader.fail(
            "running share or running total is meant"
        )
        return _derived(reader, f"running {kind.word}")
    if reader.take("previous"):
        return Previous(factor(reader) if reader.take("of") else None, ago(reader))
    if token.kind == "text":
        expected = (
            "a text in quotes is no number; write the number plainly, or a name without quotes"
        )
        reader.fail(expected)
    return peer(reader, "a measure, a column, a parameter or a number belongs here")


def number(reader: Reader) -> Number | Percent:
    """A number, or a percentage and what it is of."""
    plain_number = bare_number(reader)
    if isinstance(plain_number, Percent) and reader.take("of"):
        return Percent(plain_number.percent, factor(reader))
    return plain_number


def bare_number(reader: Reader) -> Number | Percent:
    """A number or a percentage as it is written."""
    token = reader.next
    reader.place += 1
    text = token.text.replace("_", "")
    scale = SUFFIXES.get(text[-1].casefold(), 1.0)
    if scale == 1.0:
        digits = text
    else:
        digits = text[:-1]
    try:
        # Python's own conversion of a million digits takes quadratic time; such a number is refused
        # as infinite.
        value = float(digits if len(text) <= LONGEST_NUMBER else "inf") * scale
        if token.kind == "number":
            return Number(value)
        return Percent(value)
    except (ValueError, YuzenError):
        message = f"The number {token.text[:20]} is too long or too large for a rule."
        raise fault("rule-number", message, reader.source, token.span) from None


def _summary(reader: Reader, token: Token) -> Quantity:
    """Summary [ "of" factor ] [ "where" condition ]."""
    summary = _plain_summary(reader, token)
    if reader.next.word != "where" or reader.conditions is None:
        return summary
    if isinstance(summary, Summary) and summary.of is None:
        reader.fail(f"where chooses rows, so say of what: {token.word} of a column")
    reader.place += 1
    return Where(summary, reader.conditions(reader))


def _plain_summary(reader: Reader, token: Token) -> Summary | Distinct | RowCount:
    span = token.span
    if not reader.take("of"):
        return Summary(token.word, None, span)  # type: ignore[arg-type]
    if token.word == "count" and reader.take("distinct"):
        return Distinct(peer(reader, "count of distinct needs the name of a column"))
    if token.word == "count" and reader.take("rows"):
        return RowCount()
    return Summary(token.word, factor(reader), span)  # type: ignore[arg-type]


def _derived(reader: Reader, kind: str) -> Derived:
    reader.must(
        "of",
        f"{kind} is followed by of and a quantity, such as {kind} of passengers; a column that is "
        f"called {kind} stands in backticks, as `{kind}`",
    )
    return Derived(kind, factor(reader), ago_after_on(reader) if kind == "change" else None)  # type: ignore[arg-type]


def _moving(reader: Reader) -> Moving:
    reader.place += 2
    of = factor(reader) if reader.take("of") else None
    expected = (
        "a moving average is over a number of marks, such as moving average of passengers over 3"
    )
    reader.must("over", expected)
    return Moving(count(reader, expected), of)


def ago(reader: Reader) -> Ago | None:
    """Ago = "a" period "before" | count period "before"; None where it does not stand."""
    unit, one = UNIT_WORDS.get(reader.ahead().word), reader.next.word == "a"
    if unit is None or reader.ahead(2).word != "before" or not (one or is_count(reader)):
        return None
    if one:
        counted = None
        reader.place += 1
    else:
        counted = count(reader, "a number of periods is meant")
    reader.place += 2
    return Ago(unit, counted)


def ago_after_on(reader: Reader) -> Ago | None:
    """[ "on" ago ]: what a change is compared with, if it is not the mark before."""
    if reader.next.word != "on":
        return None
    reader.place += 1
    expected = "on is followed by a time before, such as a year before or 3 months before"
    return ago(reader) or reader.fail(expected, ("a",))


def period_word(reader: Reader, expected: str) -> Unit:
    """A period of the calendar, one or many."""
    unit = UNIT_WORDS.get(reader.next.word)
    if unit is None:
        if reader.next.word in PERIOD_WORDS:
            expected += f"; {reader.next.word} come round again, so that none is the last"
        reader.fail(expected, tuple(UNIT_WORDS))
    reader.place += 1
    return unit


def field(reader: Reader, expected: str) -> Field:
    """A name, bare or in backticks."""
    token = reader.next
    if token.kind == "field" or (token.kind == "name" and not is_reserved(token.word)):
        reader.place += 1
        return Field(token.text, token.span)
    reserved = token.kind == "name"
    if reserved:
        more = f"; a column that is called so goes in backticks: `{token.text}`"
    else:
        more = ""
    return reader.fail(expected + more, ("",))


def peer(reader: Reader, expected: str) -> Field:
    """Peer = field | period [ "of" field ]: a column, or a period of dates by its name."""
    start, unit = reader.place, _period_unit(reader)
    if unit is None:
        return field(reader, expected)
    word = reader.source[reader.since(start).start : reader.since(start).end]
    if reader.take("of"):
        expected = f"{word} of needs the name of a column of dates"
        if is_reserved(reader.next.word):  # within day of average
            reader.fail(
                f"{expected}; a parameter that is called so goes in backticks: `{word}`", ("",)
            )
        of = field(reader, expected)
        return Field(str(PeriodName(unit, of.name)), reader.since(start))
    # A bare word may be a column of that name, which is spelled as it is written.
    return Field(str(PeriodName(unit)) if " " in unit else word, reader.since(start))


def _period_unit(reader: Reader) -> PeriodUnit | None:
    """The period whose words come next, and go on after them; None, and stay, for anything else."""
    token = reader.next
    if token.kind != "name":
        return None
    if token.word == "calendar" and reader.ahead().word in CALENDAR_WORDS:
        reader.place += 2
        return CALENDAR_WORDS[reader.ahead(-1).word]
    if token.word in PERIOD_WORDS and not is_reserved(token.word):
        reader.place += 1
        return PERIOD_WORDS[token.word]
    return None


def count(reader: Reader, expected: str) -> Number | Field:
    """A whole number or a parameter."""
    token = reader.next
    if token.kind == "number":
        counted = number(reader)
        if isinstance(counted, Number) and counted.value == int(counted.value):
            return counted
        raise fault("rule-count", f"{expected}: a whole number.", reader.source, token.span)
    return field(reader, expected)


def is_tolerance(reader: Reader, steps: int = 0) -> bool:
    """Whether a `within` begins a tolerance: after it a number means one, a name peers.

    A name with `of` after it is a parameter, unless it is a period: within year of opened.
    steps: how far ahead the `within` is.
    """
    after = reader.ahead(steps + 1)
    if reader.ahead(steps).word != "within":
        return False
    if after.kind in {"number", "percent"}:
        return True
    return (
        reader.ahead(steps + 2).word == "of"
        and (after.kind == "field" or not is_reserved(after.word))
        and after.word not in PERIOD_WORDS
    )


def tolerance(reader: Reader) -> Number | Percent | Field:
    """Tolerance = ( number | percent | parameter ) "of"."""
    token = reader.next
    far: Number | Percent | Field
    if token.kind in {"number", "percent"}:
        far = bare_number(reader)
    else:
        far = field(reader, "within is followed by a number, such as within 3 of target")
    expected = f"within {far} needs of and a quantity, such as within {far} of target"
    if token.kind == "number":
        expected += f"; a column that is called so goes in backticks: `{token.text}`"
    reader.must("of", expected)
    return far


def text_or_name(reader: Reader) -> str | Field:
    """A text in double quotes, or the name of a parameter that is one."""
    expected = 'a text in "double quotes" belongs here'
    if token := reader.take_kind("text"):
        return token.text
    if reader.next.kind == "field" or (
        reader.next.kind == "name" and not is_reserved(reader.next.word)
    ):
        return field(reader, expected)
    return reader.fail(expected)


def is_count(reader: Reader) -> bool:
    """Whether what comes next is a number or a name, as counts are."""
    token = reader.next
    return token.kind in {"number", "field"} or (
        token.kind == "name" and not is_reserved(token.word)
    )


def count_to(reader: Reader, word: str) -> tuple[Number | Field, Number | Field | None]:
    """A count, or a range of them: 2, or 2 to 4."""
    low = count(reader, f"{word} is followed by a number, such as {word} 2")
    return low, count(reader, "to is followed by a number") if reader.take("to") else None
