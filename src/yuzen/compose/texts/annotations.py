"""Notes that the brief sets at single marks: for each mark what stands beside it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.arrays import Text, kind_of
from yuzen.compose.texts.labels import filled
from yuzen.compose.texts.words import marks_in_words
from yuzen.errors import YuzenError, error_at, suggestion
from yuzen.rules import truth, validity
from yuzen.rules.written_dates import period

if TYPE_CHECKING:
    from collections.abc import Iterator

    from yuzen.arrays import Bools, Codes
    from yuzen.brief.sections.chart import NoteSection
    from yuzen.compose.judged import Judged


UNNOTED: Final = frozenset({"cell", "slice"})  # shapes that have no notes


@dataclass(frozen=True)
class MarkNote:
    """A text at a mark, by its place among all marks."""

    mark: int
    text: str


def mark_notes(judged: Judged) -> tuple[MarkNote, ...]:
    """The notes of a chart, in the brief's order. Raises YuzenError with the place of one that is none."""
    made: list[MarkNote] = []
    for place, section in enumerate(judged.spec.note):
        with error_at(f"note {place + 1}", "note", place):
            own = noted(judged, section)
            texts = filled(judged, section.text.tree, own)
            made += [
                MarkNote(mark, texts[mark]) for mark in np.flatnonzero(own).tolist() if texts[mark]
            ]
    return tuple(made)


def unplaced_notes(judged: Judged) -> Iterator[str]:
    """What to say of notes that no mark has."""
    if judged.spec.note and judged.spec.traits.shape in UNNOTED:
        plural = judged.spec.traits.plural
        yield f"note: {plural} have none beside them; say it in a rule's label, or in the subtitle."
        return
    for place, section in enumerate(judged.spec.note, start=1):
        if noted(judged, section).any():
            continue
        if section.at is None:
            yield f"note {place}: '{section.when}' holds for no mark, so it stands nowhere."
        else:
            hint = suggestion(section.at, judged.marks.names())
            noun = judged.marks.category
            yield f"note {place}: no {noun} is called '{section.at[:60]}', so it stands nowhere.{hint}"


def noted(judged: Judged, section: NoteSection) -> Bools:
    """The marks that a note stands at: one that is called so, or all that its condition holds for."""
    drawn = ~np.isnan(judged.values)
    if section.when is not None:
        return _held(judged, section) & drawn
    own = np.flatnonzero(_called(judged, str(section.at)) & drawn)
    single = np.zeros(len(judged.marks), dtype=bool)
    if len(own):  # of several series or days of one name the largest stands for all
        single[own[np.argmax(judged.values[own])]] = True
    return single


def _called(judged: Judged, said: str) -> Bools:
    """The marks of a name, whole or of their category, or of a date."""
    marks, fold = judged.marks, said.strip().casefold()
    names = (
        marks.names(),
        marks.category_names(),
        marks_in_words(marks, judged.bench.formats.locale),
    )
    for called in names:
        own = np.array([name.casefold() == fold for name in called], dtype=bool)
        if own.any():
            return own
    column = marks.columns[marks.category]
    if isinstance(column, Text) or kind_of(column) != "date":
        return np.zeros(len(marks), dtype=bool)
    try:
        start, end = period(said, marks.calendar)
    except YuzenError:
        return np.zeros(len(marks), dtype=bool)
    grain = marks.grains.get(marks.category)
    if grain is None:
        return np.asarray((column >= start) & (column < end))
    missing = np.isnat(column)
    own = grain.numbers(np.where(missing, np.datetime64(0, "s"), column))
    first, last = grain.numbers(np.array([start, end - np.timedelta64(1, "s")])).tolist()
    return np.asarray(~missing & (own >= first) & (own <= last))


def _held(judged: Judged, section: NoteSection) -> Bools:
    """The marks that the condition of a note holds for."""
    assert section.when is not None  # noqa: S101 - the caller has asked
    facts, places = judged.bench.facts("items")
    faults = validity.faults(section.when.tree, facts)
    if faults:
        raise YuzenError(*(fault.at("when", "when") for fault in faults))
    held = np.zeros(len(judged.marks), dtype=bool)
    own: Codes = np.arange(len(judged.marks)) if places is None else places
    held[own] = section.when.tree.holds(facts) == truth.TRUE
    return held
