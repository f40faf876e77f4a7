"""The rule language: one function for each production of the grammar, over a reader.

    condition = all { "or" all }          quantity = term { ( "+" | "-" ) term }
    all       = one { "and" one }         term     = factor { ( "*" | "/" ) factor }

A new claim is one class in `claims/` and one line in CLAIMS.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, TypeAlias

from yuzen.errors import YuzenError
from yuzen.rules import claims
from yuzen.rules.conditions import Always, And, Not, Or, Test
from yuzen.rules.language.reader import Reader
from yuzen.rules.language.tokens import LONGEST_NUMBER, Token, fault
from yuzen.rules.language.words import COMPARES, RESERVED, SUMMARIES
from yuzen.rules.quantities import (
    Arithmetic,
    Derived,
    Distinct,
    Field,
    Negative,
    Number,
    Percent,
    Previous,
    Summary,
)

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.rules.conditions import Condition
    from yuzen.rules.quantities import Quantity

SCALES = {"k": 1e3, "m": 1e6, "b": 1e9}


def parse(source: str) -> Condition:
    """The condition that a text says. Raises YuzenError with the place and what would be right.

    >>> str(parse("Passengers  IN TOP 3 within waters"))
    'Passengers top 3 within waters'
    """
    reader = Reader(source)
    if reader.next.kind == "end":
        reader.fail('say a condition, such as "top 3" or "surplus negative"')
    found = condition(reader)
    if reader.next.kind != "end":
        reader.fail("the condition is complete before it; join conditions with and / or")
    return found


def parse_quantity(source: str) -> Quantity:
    """The quantity that a text says, such as "total of surplus / total of fares"."""
    reader = Reader(source)
    found = quantity(reader)
    if reader.next.kind != "end":
        reader.fail("the quantity is complete before it")
    return found


def condition(reader: Reader) -> Condition:
    """Condition = all { "or" all }."""
    parts = [both(reader)]
    while reader.take("or"):
        parts.append(both(reader))
    return parts[0] if len(parts) == 1 else Or(tuple(parts))


def both(reader: Reader) -> Condition:
    """All = one { "and" one }."""
    parts = [one(reader)]
    while reader.take("and"):
        parts.append(one(reader))
    return parts[0] if len(parts) == 1 else And(tuple(parts))


def one(reader: Reader) -> Condition:
    """One = "not" one | "(" condition ")" | "always" | test."""
    with reader.deeper():
        if reader.take("not"):
            return Not(one(reader))
        if reader.take("always"):
            return Always()
        if reader.next.word == "(" and not _is_quantity(reader):
            reader.take("(")
            found = condition(reader)
            reader.must(")", "a closing bracket belongs here")
            return found
        return test(reader)


def test(reader: Reader) -> Test:
    """Test = [ quantity ] [ "is" ] claim [ "within" field { "," field } ]."""
    start = reader.place
    subject = None if _starts_claim(reader) else quantity(reader)
    reader.take("is")
    found = claim(reader)
    within = []
    if reader.take("within"):
        within = [_field(reader, "within needs the name of a column").name]
        while reader.take(","):
            within.append(_field(reader, "a column's name belongs after the comma").name)
    return Test(subject, found, tuple(within), reader.since(start))


def claim(reader: Reader) -> claims.Claim:
    """One of the claims, told by its first word."""
    sign = compare(reader)
    if sign is not None:
        if reader.next.kind == "text":
            return _text_test(reader, sign)
        return claims.Compare(sign, quantity(reader))
    reader.take("in")
    word = reader.next.word
    if word not in CLAIMS:
        reader.fail(
            "a claim belongs here, such as negative, top 3, above average or highest",
            tuple({*CLAIMS, *COMPARES}),
        )
    reader.place += 1
    return CLAIMS[word](reader, word)


def compare(reader: Reader) -> Any:  # noqa: ANN401 - one of the six signs, or None
    """Compare = "<" | "<=" | "=" | "!=" | ">=" | ">" | "below" | "at most" | "at least" | "above"."""
    first, second = reader.next.word, reader.ahead().word
    if first == "at":
        reader.place += 1
        if second not in {"most", "least"}:
            reader.fail("at is followed by most or least", ("most", "least"))
        reader.place += 1
        return COMPARES[f"at {second}"]
    if first not in COMPARES:
        return None
    reader.place += 1
    return COMPARES[first]


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
    found, depth = part(reader), reader.depth
    while sign := reader.take(*signs):
        with reader.deeper():
            found = Arithmetic(found, sign.word, part(reader))  # type: ignore[arg-type]
        reader.depth += 1
    reader.depth = depth
    return found


def _unsigned(reader: Reader) -> Quantity:  # noqa: PLR0911 - one for each kind of factor
    token = reader.next
    if token.kind in {"number", "percent"}:
        return _number(reader)
    if reader.take("("):
        found = quantity(reader)
        reader.must(")", "a closing bracket belongs here")
        return found
    if reader.take(*SUMMARIES):
        return _summary(reader, token)
    if reader.take("share", "rank", "change"):
        return _derived(reader, token.word)
    if reader.take("running"):
        kind = reader.take("share", "total") or reader.fail("running share or running total is meant")
        return _derived(reader, f"running {kind.word}")
    if reader.take("previous"):
        return Previous(factor(reader) if reader.take("of") else None)
    if token.kind == "text":
        said = "a text in quotes is no number; write the number plainly, or a name without quotes"
        reader.fail(said)
    return _field(reader, "a measure, a column, a parameter or a number belongs here")


def _number(reader: Reader) -> Number | Percent:
    token = reader.next
    reader.place += 1
    text = token.text.replace("_", "")
    scale = SCALES.get(text[-1].casefold(), 1.0)
    digits = text if scale == 1.0 else text[:-1]
    try:
        value = float(digits if len(text) <= LONGEST_NUMBER else "inf") * scale
        if token.kind == "number":
            return Number(value)
        return Percent(value, factor(reader) if reader.take("of") else None)
    except (ValueError, YuzenError) as error:
        if isinstance(error, YuzenError) and error.faults[0].span is not None:
            raise
        message = f"The number {token.text[:20]} is too long or too large for a rule."
        raise fault("rule-number", message, reader.source, token.span) from None


def _summary(reader: Reader, token: Token) -> Quantity:
    span = token.span
    if not reader.take("of"):
        return Summary(token.word, None, span)  # type: ignore[arg-type]
    if token.word == "count" and reader.take("distinct"):
        return Distinct(_field(reader, "count of distinct needs the name of a column"))
    return Summary(token.word, factor(reader), span)  # type: ignore[arg-type]


def _derived(reader: Reader, kind: str) -> Derived:
    reader.must("of", f"{kind} is followed by of and a quantity, such as {kind} of passengers")
    return Derived(kind, factor(reader))  # type: ignore[arg-type]


def _field(reader: Reader, expected: str) -> Field:
    token = reader.next
    if token.kind == "field" or (token.kind == "name" and token.word not in RESERVED):
        reader.place += 1
        return Field(token.text, token.span)
    reserved = token.kind == "name"
    more = f"; a column that is called so goes in backticks: `{token.text}`" if reserved else ""
    return reader.fail(expected + more, ("",))


def _count(reader: Reader, expected: str) -> Number | Field:
    """A whole number or a parameter."""
    token = reader.next
    if token.kind == "number":
        found = _number(reader)
        if isinstance(found, Number) and found.value == int(found.value):
            return found
        raise fault("rule-count", f"{expected}: a whole number.", reader.source, token.span)
    return _field(reader, expected)


def _ends(reader: Reader, word: str) -> claims.End:
    token = reader.next
    if token.kind != "percent":
        return claims.End(word, _count(reader, f"{word} is followed by a number, such as {word} 3"))  # type: ignore[arg-type]
    amount = _number(reader)
    if isinstance(amount, Percent) and amount.of is None and amount.percent <= 100:
        return claims.End(word, amount)  # type: ignore[arg-type]
    message = f"{word} takes a number of marks or a percentage up to 100%."
    raise fault("rule-percent", message, reader.source, token.span)


def _rank(reader: Reader, _: str) -> claims.Rank:
    low = _count(reader, "rank is followed by a number, such as rank 2")
    high = _count(reader, "to is followed by a number") if reader.take("to") else None
    bottom = bool(reader.take("from"))
    if bottom:
        reader.must("bottom", "from bottom is meant")
    return claims.Rank(low, high, bottom)


def _outlier(reader: Reader, _: str) -> claims.Outlier:
    side = reader.take("above", "below")
    return claims.Outlier(side.word if side else None)  # type: ignore[arg-type]


def _moves(reader: Reader, word: str) -> claims.Moves:
    by = quantity(reader) if reader.take("by") else None
    times = None
    if reader.ahead().word == "times" or reader.next.kind == "number":
        times = _count(reader, f"{word} is followed by a number of times")
        reader.must("times", f"{word} 3 times or {word} by 10% is meant")
    return claims.Moves(word, by, times)  # type: ignore[arg-type]


def _turns(reader: Reader, _: str) -> claims.Turns:
    to = reader.take("positive", "negative") or reader.fail("turns positive or turns negative is meant")
    return claims.Turns(to.word)  # type: ignore[arg-type]


def _changes(reader: Reader, _: str) -> claims.ChangesSign:
    reader.must("sign", "changes sign is meant")
    return claims.ChangesSign()


def _record(reader: Reader, _: str) -> claims.Record:
    end = reader.take("high", "low") or reader.fail("new high or new low is meant")
    return claims.Record(end.word)  # type: ignore[arg-type]


def _place(reader: Reader, word: str) -> claims.Place:
    token = reader.next
    counted = token.kind in {"number", "field"} or (token.kind == "name" and token.word not in RESERVED)
    return claims.Place(word, _count(reader, "a number") if counted else None)  # type: ignore[arg-type]


def _position(reader: Reader, _: str) -> claims.Position:
    low = _count(reader, "position is followed by a number, such as position 2")
    high = _count(reader, "to is followed by a number") if reader.take("to") else None
    return claims.Position(low, high)


def _between(reader: Reader, _: str) -> claims.Between:
    low = quantity(reader)
    reader.must("and", "between has two ends, such as between 10 and 20")
    return claims.Between(low, quantity(reader))


def _starts(reader: Reader, _: str) -> claims.TextTest:
    reader.must("with", "starts with is meant")
    return _text_test(reader, "starts with")


def _text_test(reader: Reader, sign: str) -> claims.TextTest:
    token = reader.next
    if sign in {"<", ">", "<=", ">="}:
        message = (
            f"{sign} compares numbers, and this is a text. Write a number without quotes; for a "
            "date, say before or after."
        )
        raise fault("rule-quoted", message, reader.source, token.span)
    if not reader.take_kind("text"):
        reader.fail('a text in "double quotes" belongs here')
    return claims.TextTest(sign, token.text)  # type: ignore[arg-type]


def _one_of(reader: Reader, _: str) -> claims.OneOf:
    reader.must("of", 'one of is meant, such as one of "Brinewick", "Kelpwick"')
    texts = [_quoted(reader)]
    while reader.take(","):
        texts.append(_quoted(reader))
    return claims.OneOf(tuple(texts))


def _quoted(reader: Reader) -> str:
    token = reader.take_kind("text") or reader.fail('a text in "double quotes" belongs here')
    return token.text


ClaimReader: TypeAlias = "Callable[[Reader, str], claims.Claim]"
CLAIMS: dict[str, ClaimReader] = {
    "between": _between,
    "highest": lambda _, word: claims.Extreme(word),  # type: ignore[arg-type]
    "lowest": lambda _, word: claims.Extreme(word),  # type: ignore[arg-type]
    "top": _ends,
    "bottom": _ends,
    "rank": _rank,
    "positive": lambda _, word: claims.Sign(word),  # type: ignore[arg-type]
    "negative": lambda _, word: claims.Sign(word),  # type: ignore[arg-type]
    "zero": lambda _, word: claims.Sign(word),  # type: ignore[arg-type]
    "missing": lambda _, __: claims.Missing(),
    "outlier": _outlier,
    "rises": _moves,
    "falls": _moves,
    "turns": _turns,
    "changes": _changes,
    "new": _record,
    "first": _place,
    "last": _place,
    "position": _position,
    "before": _text_test,
    "after": _text_test,
    "starts": _starts,
    "contains": _text_test,
    "one": _one_of,
}


def _starts_claim(reader: Reader) -> bool:
    """Whether a test begins with its claim; "highest" and "rank" may begin a subject as well."""
    word, after = reader.next.word, reader.ahead().word
    if word in {"highest", "lowest"}:
        return after not in {"of", "+", "-", "*", "/", "is", "in", "at", *CLAIMS, *COMPARES}
    if word == "rank":
        return after != "of"
    return word in CLAIMS or word in COMPARES or word in {"at", "in", "is"}


def _is_quantity(reader: Reader) -> bool:
    """Whether the bracket that comes next holds a quantity: told by what follows its closing one.

    After a condition only and, or, another closing bracket or the end can follow; after a quantity
    an operator or a claim must. So no part is ever read twice, however deep the brackets go.
    """
    after = reader.tokens[reader.closing[reader.place] + 1].word
    return after in {"+", "-", "*", "/", "is", "in", "at", *CLAIMS, *COMPARES}
