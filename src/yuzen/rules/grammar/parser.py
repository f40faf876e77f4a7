"""The rule language: one function for each production of the grammar, over a reader.

    condition = all { "or" all }          test   = [ quantity ] [ within ] [ "is" ] claim [ within ]
    all       = one { "and" one }         within = "within" peer { "," peer }

What claims there are, and how each is read, is told by the claims themselves.
"""

from collections.abc import Callable
from dataclasses import replace

from yuzen.errors import YuzenError
from yuzen.regex import regex
from yuzen.rules.claims import OPENING
from yuzen.rules.claims.base import BaseClaim
from yuzen.rules.conditions import Always, And, Condition, Not, Or, Test
from yuzen.rules.language.corrections import corrected
from yuzen.rules.language.reader import Reader
from yuzen.rules.phrases import is_tolerance, peer, quantity
from yuzen.rules.quantities.numbers import Quantity, Within

_HINT = regex(r" (?:Did you mean [^?]*\?|Write \S+ instead\.)")
ARITHMETIC_SIGNS = frozenset({"+", "-", "*", "/"})


def parse(source: str) -> Condition:
    """The condition that a text says. Raises YuzenError with the place and what would be right.

    >>> str(parse("Passengers  IN TOP 3 within waters"))
    'Passengers top 3 within waters'
    """
    try:
        return _parsed(source)
    except YuzenError as error:
        # The correction is looked for only now: nothing that reads well pays for it.
        raise _with_correction(error, source, _parsed) from None


def _parsed(source: str) -> Condition:
    reader = Reader(source, condition)
    if reader.next.kind == "end":
        reader.fail('say a condition, such as "top 3" or "surplus negative"')
    parsed = condition(reader)
    if reader.next.kind != "end":
        reader.fail("the condition is complete before it; join conditions with and / or")
    return parsed


def _with_correction(error: YuzenError, source: str, reads: Callable[[str], object]) -> YuzenError:
    """The error with the whole corrected text, where that is known."""
    right = corrected(source, reads)
    if right is None:
        return error
    first, *others = error.faults
    message = _HINT.sub("", first.message)  # which the correction makes idle
    return YuzenError(replace(first, message=f"{message} Write: {right}"), *others)


def parse_quantity(source: str) -> Quantity:
    """The quantity that a text says, such as "total of surplus / total of fares"."""
    try:
        return _parsed_quantity(source)
    except YuzenError as error:
        raise _with_correction(error, source, _parsed_quantity) from None


def _parsed_quantity(source: str) -> Quantity:
    reader = Reader(source, condition)
    parsed = quantity(reader)
    if peers := within(reader):
        parsed = Within(parsed, peers)
    if reader.next.kind != "end":
        reader.fail("the quantity is complete before it")
    return parsed


def condition(reader: Reader) -> Condition:
    """Condition = all { "or" all }."""
    parts = [both(reader)]
    while reader.take("or"):
        parts.append(both(reader))
    if len(parts) == 1:
        return parts[0]
    return Or(tuple(parts))


def both(reader: Reader) -> Condition:
    """All = one { "and" one }."""
    parts = [one(reader)]
    while reader.take("and"):
        parts.append(one(reader))
    if len(parts) == 1:
        return parts[0]
    return And(tuple(parts))


def one(reader: Reader) -> Condition:
    """One = "not" one | "(" condition ")" | "always" | test."""
    with reader.deeper():
        if reader.take("not"):
            return Not(one(reader))
        if reader.take("always"):
            return Always()
        # A bracket opens a condition or a quantity; what follows its closing one tells which.
        if reader.next.word == "(" and not _is_quantity(reader):
            reader.take("(")
            parsed = condition(reader)
            reader.must(")", "a closing bracket belongs here")
            return parsed
        return test(reader)


def test(reader: Reader) -> Test:
    """Test = [ quantity ] [ within ] [ "is" ] claim [ within ], one within at most."""
    start = reader.place
    if _starts_claim(reader):
        subject = None
    else:
        subject = quantity(reader)
    among = within(reader)
    reader.take("is")
    claim_read = claim(reader)
    if is_tolerance(reader):
        reader.fail("a test makes one claim; join two with and")
    # `within` may stand after the quantity or at the end, but two would contradict one another.
    if among and reader.next.word == "within":
        reader.fail("a test has one within, and this one has it already")
    return Test(subject, claim_read, among or within(reader), reader.since(start))


def within(reader: Reader) -> tuple[str, ...]:
    """Within = "within" peer { "," peer }; none where it does not stand."""
    if is_tolerance(reader) or not reader.take("within"):
        return ()
    names = [
        peer(
            reader, "within needs the name of a column, or a distance such as within 3 of target"
        ).name
    ]
    while reader.take(","):
        names.append(peer(reader, "a column's name belongs after the comma").name)
    return tuple(names)


def claim(reader: Reader) -> BaseClaim:
    """Read one of the claims by its first word; "in" may be before it."""
    joined = bool(reader.take("in"))
    word = reader.next.word
    if word not in OPENING or (joined and not OPENING[word].after_in):
        expected = "a claim belongs here, such as negative, top 3, above average or highest"
        reader.fail(expected, tuple(OPENING))
    reader.place += 1
    return OPENING[word].read(reader, word)


def _starts_claim(reader: Reader) -> bool:
    """Whether a test begins with its claim; "highest" and "rank" may begin a subject as well."""
    word, after = reader.next.word, reader.ahead().word
    if word in {"highest", "lowest"}:
        if after == "within":  # "highest within waters" is the claim, its peers after it
            return not is_tolerance(reader, 1)
        return after not in {
            "of",
            "is",
            "in",
            *ARITHMETIC_SIGNS,
            *OPENING,
        }
    if word == "rank":
        return after != "of"
    if word == "within":  # "within waters top 3" begins with peers
        return True
    return word in OPENING or word in {"in", "is"}


def _is_quantity(reader: Reader) -> bool:
    """Whether the next bracket holds a quantity, by what follows its closing one.

    After a condition only and, or, another closing bracket or the end can follow; after a quantity
    an operator or a claim must. So no part is ever read twice, however deep the brackets go.
    """
    after = reader.tokens[reader.closing[reader.place] + 1].word
    return after in {"is", "in", "within", *ARITHMETIC_SIGNS, *OPENING}
