"""What a user can cause: one exception type, made of faults that name the place and the remedy."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import field, replace
from types import UnionType

from yuzen.secrets import masked, without_secrets
from yuzen.value import Value

MAX_SOURCE_CHARACTERS = 160  # characters of a source that a message shows around its caret
LONGEST_REASON_CHARACTERS = 200  # characters of what somebody else's error says


class Span(Value):
    """A stretch of a source text: `start` counts from 0, `end` is one past the last character."""

    start: int = 0
    end: int = 0
    source: str = field(default="", compare=False, repr=False)


class Fault(Value):
    """One thing that is wrong: a short code, a sentence, where it is, and what to try.

    `key` is the same place as the way through a brief: ("rule", 1, "when"), and `line` the line of
    its file, where that is known. Passwords are taken out
    of whatever it says, as this is the one way by which anything is said.

    >>> str(Fault("call-item", "No route is called 'Brinwick'.", "why"))
    "why: No route is called 'Brinwick'."
    """

    code: str
    message: str
    where: str = ""
    source: str = ""
    span: Span | None = None
    key: tuple[str | int, ...] = ()
    line: int | None = None

    def __post_init__(self) -> None:
        if (source := masked(self.source)) != self.source:
            object.__setattr__(self, "source", source)
        for name in ("message", "where"):
            text = getattr(self, name)
            # Halves of letters, which no terminal prints, are replaced on the way.
            safe = without_secrets(text).encode(errors="replace").decode()
            if safe != text:
                object.__setattr__(self, name, safe)

    def __str__(self) -> str:
        """The fault as an analyst reads it: place, sentence, and the source with a caret."""
        if self.where:
            head = f"{self.where}: {self.message}"
        else:
            head = self.message
        if self.span is None:
            return head
        return f"{head}\n{_caret(self.source, self.span)}"

    def at(self, where: str, *key: str | int) -> Fault:
        """A copy with a place in front of its own: `where`, and `key`."""
        return replace(
            self, where=f"{where}, {self.where}" if self.where else where, key=(*key, *self.key)
        )


class YuzenError(Exception):
    """Everything that an analyst can cause and mend; `faults` holds the facts, never just wording.

    `code` is the first fault's; `exit_code` is 3 when the data is wrong and 2 for the brief, the
    rules or the call.

    >>> import yuzen as yz
    >>> try:
    ...     yz.rule("topp 3", color="favorable")
    ... except yz.YuzenError as error:
    ...     print(error.code, error.exit_code)
    rule-syntax 2
    """

    def __init__(self, *faults: Fault) -> None:
        super().__init__("\n".join(map(str, faults)))
        self.faults = faults

    def __reduce__(self) -> tuple[type[YuzenError], tuple[Fault, ...]]:
        """Pickle an error by its faults, for another process."""
        return type(self), self.faults

    def _render_traceback_(self) -> list[str]:
        """What a notebook shows of it: the message alone, as nothing in it is of ours to trace."""
        return [f"YuzenError: {self}"]

    @property
    def code(self) -> str:
        """The first fault's code."""
        return self.faults[0].code

    @property
    def exit_code(self) -> int:
        """What the command line ends with."""
        if self.code.startswith("data-"):
            return 3
        return 2

    def at(self, where: str, *key: str | int) -> YuzenError:
        """A copy with a place in front of those of its faults."""
        return YuzenError(*(fault.at(where, *key) for fault in self.faults))


def make_error(
    code: str, message: str, *, where: str = "", key: tuple[str | int, ...] = ()
) -> YuzenError:
    """An error of one fault that has no source text to point into."""
    return YuzenError(Fault(code, message, where, key=key))


@contextmanager
def error_at(where: str, *key: str | int) -> Iterator[None]:
    """Add a place to every YuzenError raised inside; '' adds none."""
    try:
        yield
    except YuzenError as error:
        if not where:
            raise
        raise error.at(where, *key) from None


@contextmanager
def external_call(code: str, message: str, where: str = "") -> Iterator[None]:
    """The door to what is not ours: a reader, a renderer, somebody's objects.

    Whatever goes wrong there is told as an analyst's error, with {reason} in the message for what
    it said; so that the next unknown one is told too.
    """
    try:
        yield
    except YuzenError:
        raise
    except Exception as error:  # noqa: BLE001 - that is what a door is for
        raise make_error(code, message.replace("{reason}", reason_of(error)), where=where) from None


def reason_of(error: BaseException) -> str:
    """The first line of what an error says, as the end of a sentence."""
    if isinstance(error, MemoryError):
        return "it does not fit into the memory"
    if isinstance(error, RecursionError):
        return "it is nested too deep"
    try:
        reason = str(getattr(error, "strerror", None) or error)
    except Exception:  # noqa: BLE001 - an object of somebody else that cannot even say what it is
        reason = ""
    lines = reason.strip().splitlines() or [type(error).__name__]
    return lines[0][:LONGEST_REASON_CHARACTERS].rstrip(" .")


def type_name(value: object) -> str:
    """The type of somebody's object, as a sentence begins with it; its own code never runs.

    >>> type_name(3), type_name([])
    ('An int', 'A list')
    """
    name = type(value).__name__
    if name[0].casefold() in "aeiou":
        return f"An {name}"
    return f"A {name}"


def require_type(value: object, kinds: type | UnionType, remedy: str) -> None:
    """Raise YuzenError (call-type) where an argument is of no such type.

    >>> require_type(3, str, "Give the name of a theme.")
    Traceback (most recent call last):
    ...
    yuzen.errors.YuzenError: An int is given. Give the name of a theme.
    """
    if not isinstance(value, kinds):
        raise make_error("call-type", f"{type_name(value)} is given. {remedy}")


def require_executor(value: object) -> None:
    """Raise YuzenError (call-type) for what has no `submit`, as executors have."""
    if not hasattr(value, "submit"):
        remedy = "Give an executor, as concurrent.futures has them."
        raise make_error("call-type", f"{type_name(value)} is given. {remedy}")


def suggestion(word: str, known: Iterable[str]) -> str:
    """' Did you mean X?' with the nearest known word, else ''.

    >>> suggestion("surpluss", ["passengers", "surplus"])
    ' Did you mean surplus?'
    """
    by_fold = {name.casefold(): name for name in known}
    import difflib  # noqa: PLC0415 - a help page needs none, and it takes a thirtieth of one's time

    near = difflib.get_close_matches(word.casefold()[:80], by_fold, n=1, cutoff=0.6)
    if near and by_fold[near[0]] != word:
        return f" Did you mean {by_fold[near[0]]}?"
    return ""


def _caret(source: str, span: Span) -> str:
    """The source's line with carets under the span, cut to what fits on a screen."""
    flat = "".join(
        c if c.isprintable() else " " for c in source[: span.end + MAX_SOURCE_CHARACTERS]
    )
    first = max(0, span.start - MAX_SOURCE_CHARACTERS // 2)
    line = flat[first : first + MAX_SOURCE_CHARACTERS]
    width = max(1, min(span.end, first + len(line)) - span.start)
    return f"    {line}".rstrip() + f"\n    {' ' * (span.start - first)}{'^' * width}"
