"""What marks are called in sentences: words and dates, as one says them."""

import numpy as np

from yuzen.arrays import Dates, Text, kind_of
from yuzen.formats.date_text import all_formatted, all_in_words, formatted, in_words
from yuzen.formats.display import MISSING_NAME, shown, unit_of
from yuzen.formats.locales import Locale
from yuzen.formats.periods import Grain
from yuzen.rules.marks import Marks


def marks_in_words(marks: Marks, locale: Locale) -> list[str]:
    """The names of marks in a sentence: words first, then dates in words.

    "Cinderquay, July 2025".
    """
    named: list[tuple[bool, list[str]]] = []
    for name in marks.named_by:
        column = marks.columns[name]
        dated = not isinstance(column, Text) and kind_of(column) == "date"
        plain = marks.names_in(name)
        if dated:
            plain = dates_in_words(name, marks, "", locale)
        named.append((dated, plain))
    parts = [texts for _, texts in sorted(named, key=lambda pair: pair[0])]
    return [", ".join(words) for words in zip(*parts, strict=True)]


def mark_in_words(marks: Marks, mark: int, locale: Locale) -> str:
    """The name of one mark of many, none of which is a sum."""
    named = []
    for name in marks.named_by:
        column, grain = marks.columns[name], marks.grains.get(name)
        if isinstance(column, Text):
            # The word alone: a column of one mark would still hold the words of all.
            code = int(column.codes[mark])
            named.append((False, MISSING_NAME if code < 0 else str(column.words[code])))
        elif kind_of(column) != "date":
            named.append((False, shown(column[[mark]], grain)[0]))
        else:
            plain = Grain("month" if unit_of(column) == "month" else "day", marks.calendar)
            words = date_text(column[mark], "", grain or plain, locale)
            named.append((True, words))
    return ", ".join(text for _, text in sorted(named, key=lambda pair: pair[0]))


def dates_in_words(name: str, marks: Marks, pattern: str, locale: Locale) -> list[str]:
    """The dates of a column in words; what gathers several is called as ever."""
    if name == marks.category and (marks.rest or marks.bins):
        return marks.names_in(name)
    column = marks.columns[name]
    assert not isinstance(column, Text)  # noqa: S101 - dates are none
    grain = marks.grains.get(name) or Grain(
        "month" if unit_of(column) == "month" else "day", marks.calendar
    )
    dates: Dates = column  # type: ignore[assignment]  # who calls has asked for its kind
    if pattern:
        texts = all_formatted(dates, pattern, locale)
    else:
        texts = all_in_words(dates, grain, locale)
    if not marks.sums.any():
        return texts
    # A sum over this column is called as ever, and one over another column has its own date.
    plain, called = shown(column, marks.grains.get(name)), marks.names_in(name)
    return [
        text if own == date else own for text, own, date in zip(texts, called, plain, strict=True)
    ]


def date_text(moment: np.datetime64, pattern: str, grain: Grain, locale: Locale) -> str:
    """A date in words by its grain, or in a pattern."""
    if pattern:
        return formatted(moment, pattern, locale)
    return in_words(moment, grain, locale)
