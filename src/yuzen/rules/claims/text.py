"""Claims about words and dates."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Any, ClassVar, Literal

import numpy as np

from yuzen.arrays import Bools, Column, Text, Truth
from yuzen.errors import YuzenError
from yuzen.formats.display import shown
from yuzen.formats.periods import Calendar, Unit
from yuzen.rules import truth
from yuzen.rules.bin_interval import BinInterval
from yuzen.rules.claims.base import About, BaseClaim, Explainer, Needs, TextParameters, of_bins
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.reader import Reader
from yuzen.rules.language.tokens import fault
from yuzen.rules.phrases import text_or_name
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Quantity
from yuzen.rules.written_dates import period, units_of

TextSign = Literal["=", "!=", "before", "after", "starts with", "contains"]


def quoted(text: str) -> str:
    """Text as the language writes it, with quotes inside it doubled.

    >>> print(quoted('a "b" c'))
    "a ""b"" c"
    """
    return '"' + text.replace('"', '""') + '"'


class TextTest(BaseClaim):
    """The subject, a word or a date, is, is not, starts with, contains, is before or after a text.

    Words compare without regard to case. A date's text may be a year, quarter, month or day, and
    means all of it: after "2025-06" is from July on, = "2025" is any day of that year.
    """

    words: ClassVar = ("before", "after", "starts", "contains")
    inner: ClassVar = ("with",)
    about: ClassVar[About] = "its place, its name, its date"
    listing: ClassVar = "= a text, !=, starts with, contains, before, after"
    forms: ClassVar = (
        "= {text}",
        "!= {text}",
        "starts with {text}",
        "contains {text}",
        "after {text}",
        "before {text}",
    )
    holds_for: ClassVar = (
        "words, whatever their case; a date's text means all of that year, quarter, month or day"
    )
    example: ClassVar = 'month after "2025-06"'
    needs: ClassVar[Needs] = "words"

    sign: TextSign
    text: str | Field

    @classmethod
    def read(cls, reader: Reader, word: str) -> TextTest:
        """A text in double quotes; = and != with one lead here too."""
        if word == "starts":
            reader.must("with", "starts with is meant")
            word = "starts with"
        return cls.after(word, reader)

    @classmethod
    def after(cls, sign: str, reader: Reader) -> TextTest:
        """The claim after its sign. Raises YuzenError where texts have no such sign."""
        if sign in {"<", ">", "<=", ">="}:
            message = (
                f"{sign} compares numbers, and this is a text. Write a number without quotes; for "
                "a date, say before or after."
            )
            raise fault("rule-quoted", message, reader.source, reader.next.span)
        # A bare name may be a parameter that is a word; whether it is one is known only later.
        return cls(sign, text_or_name(reader))  # type: ignore[arg-type]  # one of its signs

    def units(self) -> tuple[Unit, ...]:
        """The period that the text means, where dates have to lie in it."""
        return units_of([self.plain_text]) if self.sign in {"=", "!="} else ()

    def unfit(self, kind: str, name: str, calendar: Calendar) -> str:
        """Words have no order, and dates no letters."""
        if kind == "text" and self.sign in {"before", "after"}:
            return f"{name} holds words, not dates."
        if kind == "date" and self.sign in {"contains", "starts with"}:
            return f'{name} holds dates. Write {name} = "2026" for all days of a year.'
        return _unfit_date(kind, self.plain_text, calendar)

    def sql_of_dates(self, column: Any, calendar: Calendar) -> Any:  # noqa: ANN401 - an expression of SQLAlchemy
        """A comparison with both ends of the period that the text means."""
        # Databases compare with Python's datetimes; NumPy's moments print as ISO 8601, which those
        # read.
        start, end = (
            datetime.fromisoformat(str(edge)) for edge in period(self.plain_text, calendar)
        )
        if self.sign == "before":
            return column < start
        if self.sign == "after":
            return column >= end
        inside = (column >= start) & (column < end)
        if self.sign == "=":
            return inside
        return ~inside

    def __str__(self) -> str:
        return f"{self.sign} {_written(self.text)}"

    def texts_meant(self) -> tuple[str, ...]:
        """The text, if it is the whole value."""
        if self.sign in {"=", "!="}:
            return (self.plain_text,)
        return ()

    def quantities(self) -> tuple[Quantity, ...]:
        """None: a name in the place of the text is that of a text."""
        return ()

    @property
    def plain_text(self) -> str:
        """The text, in whose place a parameter's name may have stood."""
        return str(self.text)

    def named(self) -> tuple[Field, ...]:
        """The name in the place of its text."""
        return _names((self.text,))

    def worded(self, words: TextParameters) -> TextTest:
        """The claim with the text of a parameter."""
        return replace(self, text=one_word(self.text, words))

    def holds(self, view: TestView) -> Truth:
        """Unknown where the word or date is missing."""
        column = _column(view)
        if isinstance(column, Text):
            # A word is tested once for all marks that have it.
            return column.test(self._holds)
        start, end = period(self.plain_text, view.facts.marks.calendar)
        if view.bins is not None:
            return self._of_bins(view.bins, start, end)
        # Comparisons with NaT are false, which would make a missing date "not before".
        missing: Bools = np.isnat(column)
        if self.sign == "before":
            return truth.known(np.asarray(column < start), missing)
        if self.sign == "after":
            return truth.known(np.asarray(column >= end), missing)
        within = truth.known(np.asarray((column >= start) & (column < end)), missing)
        if self.sign == "=":
            return within
        return np.negative(within)

    def explain(self, view: TestView) -> Explainer:
        """'service ferry is not "freight"'."""
        if view.bins is not None:
            return of_bins(view, view.bins, self.holds(view), str(self))
        text = quoted(self.plain_text)
        verbs = {
            "starts with": (f"starts with {text}", f"does not start with {text}"),
            "contains": (f"contains {text}", f"does not contain {text}"),
            "=": (f"is {text}", f"is not {text}"),
            "!=": (f"is not {text}", f"is {text}"),
        }.get(self.sign, (f"is {self.sign} {text}", f"is not {self.sign} {text}"))
        return _explainer(view, self.holds(view), verbs)

    def _of_bins(self, bins: BinInterval, start: np.datetime64, end: np.datetime64) -> Truth:
        """Like `holds`, for bins, each as a whole."""
        if self.sign == "before":
            return bins.before(start, itself=False)
        if self.sign == "after":
            return bins.beyond(end, itself=True)
        inside = np.minimum(bins.beyond(start, itself=True), bins.before(end, itself=False))
        return inside if self.sign == "=" else np.negative(inside)

    def _holds(self, word: str) -> bool:
        word, text = word.casefold(), self.plain_text.casefold()
        if self.sign in {"=", "!="}:
            # One comparison serves = and !=: "differs" is wanted exactly where "equal" is not.
            return (word == text) == (self.sign == "=")
        if self.sign == "contains":
            return text in word
        return word.startswith(text)


class OneOf(BaseClaim):
    """The subject, a word or a date, is one of several texts."""

    words: ClassVar = ("one",)
    about: ClassVar[About] = "its place, its name, its date"
    listing: ClassVar = "one of several words"
    forms: ClassVar = ("one of {texts}",)
    holds_for: ClassVar = "one of these words, whatever their case"
    example: ClassVar = 'route one of "Brinewick", "Kelpwick"'
    needs: ClassVar[Needs] = "words"

    texts: tuple[str | Field, ...]

    @classmethod
    def read(cls, reader: Reader, word: str) -> OneOf:
        """Texts with commas between them."""
        reader.must("of", f'{word} of is meant, such as one of "Brinewick", "Kelpwick"')
        texts = [text_or_name(reader)]
        while reader.take(","):
            texts.append(text_or_name(reader))
        return cls(tuple(texts))

    def units(self) -> tuple[Unit, ...]:
        """The periods that the texts mean."""
        return units_of(map(str, self.texts))

    def unfit(self, kind: str, name: str, calendar: Calendar) -> str:
        """Each text has to be a date where the column holds dates."""
        del name
        return next(
            filter(None, (_unfit_date(kind, str(text), calendar) for text in self.texts)), ""
        )

    def texts_meant(self) -> tuple[str, ...]:
        """All of them."""
        return tuple(map(str, self.texts))

    def named(self) -> tuple[Field, ...]:
        """The names in the place of texts."""
        return _names(self.texts)

    def worded(self, words: TextParameters) -> OneOf:
        """The claim with the texts of parameters."""
        return replace(self, texts=tuple(word for text in self.texts for word in _all(text, words)))

    def __str__(self) -> str:
        return "one of " + ", ".join(map(_written, self.texts))

    def holds(self, view: TestView) -> Truth:
        """Equal to any of them."""
        column = _column(view)
        if isinstance(column, Text):
            wanted = {text.casefold() for text in self.texts_meant()}
            return column.test(lambda word: word.casefold() in wanted)
        # Of dates each text is a period of its own, so any of them is Kleene's `or`.
        held: Truth = np.maximum.reduce([TextTest("=", text).holds(view) for text in self.texts])
        return held

    def explain(self, view: TestView) -> Explainer:
        """'route Brinewick is one of "Brinewick", "Kelpwick"'."""
        return _explainer(view, self.holds(view), (f"is {self}", f"is not {self}"))


def _written(text: str | Field) -> str:
    """A text in quotes, or a name as it is."""
    if isinstance(text, str):
        return quoted(text)
    return str(text)


def _names(texts: tuple[str | Field, ...]) -> tuple[Field, ...]:
    return tuple(text for text in texts if isinstance(text, Field))


def _all(text: str | Field, words: TextParameters) -> tuple[str | Field, ...]:
    """The texts of a parameter, if a name is one or a list of them; without regard to case."""
    meant = words.get(text.name.casefold(), text) if isinstance(text, Field) else text
    return meant if isinstance(meant, tuple) else (meant,)


def one_word(text: str | Field, words: TextParameters) -> str | Field:
    """The text of a parameter that is one text; a list stays a name, which is refused."""
    meant = words.get(text.name.casefold(), text) if isinstance(text, Field) else text
    return text if isinstance(meant, tuple) else meant


def _unfit_date(kind: str, text: str, calendar: Calendar) -> str:
    """Why a text is no date where one is needed; '' if it is one."""
    if kind == "date":
        try:
            period(text, calendar)
        except YuzenError as error:
            return error.faults[0].message
    return ""


def _column(view: TestView) -> Column:
    return view.facts.column(str(getattr(view.subject, "name", view.subject)))


def _explainer(view: TestView, held: Truth, verbs: tuple[str, str]) -> Explainer:
    marks = view.facts.marks
    names = shown(_column(view), marks.grains.get(view.facts.name(str(view.subject)) or ""))

    def because(mark: int) -> str:
        if held[mark] == truth.UNKNOWN:
            return f"{view.subject} is missing"
        return f"{view.subject} {names[mark]} {verbs[0] if held[mark] > 0 else verbs[1]}"

    return because
