"""Notes that the brief sets at single marks: for each mark what stands beside it."""

from collections.abc import Iterator

import numpy as np

from yuzen.arrays import Bools, Text, kind_of
from yuzen.brief.design import Design
from yuzen.brief.sections.labels import NoteSection
from yuzen.compose.mark_names import marks_in_words
from yuzen.compose.texts.filled import fill_each
from yuzen.errors import YuzenError, error_at, suggestion
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.lineage import Reach
from yuzen.rules.written_dates import period
from yuzen.value import Value


class MarkNote(Value):
    """A text at a mark, by its place among all marks."""

    mark: int
    text: str


def mark_notes(design: Design, context: EvaluationContext) -> tuple[MarkNote, ...]:
    """The notes of a chart in the brief's order. Raises YuzenError with a wrong one's place."""
    notes: list[MarkNote] = []
    for place, section in enumerate(design.brief.note):
        with error_at(f"note {place + 1}", "note", place):
            note_marks = noted_marks(context, section)
            texts = _filled(context, section, note_marks)
            notes += [MarkNote(mark, text) for mark, text in texts.items() if text]
    return tuple(notes)


def unplaced_notes(design: Design, context: EvaluationContext) -> Iterator[str]:
    """A sentence for each note that no mark has."""
    if design.brief.note and not design.traits.shape.has_axis:
        plural = design.traits.plural
        yield f"note: {plural} have none beside them; say it in a rule's label, or in the subtitle."
        return
    for place, section in enumerate(design.brief.note, start=1):
        if noted_marks(context, section).any():
            continue
        if section.at is None:
            yield f"note {place}: '{section.when}' holds for no mark, so it is not drawn."
        else:
            hint = suggestion(section.at, context.marks.names())
            no_mark = f"no {context.marks.category} is called '{section.at[:60]}'"
            yield f"note {place}: {no_mark}, so it is not drawn.{hint}"


def noted_marks(context: EvaluationContext, section: NoteSection) -> Bools:
    """Marks that a note is at, shape (n,): one by name, or all that its condition holds for."""
    drawn = ~np.isnan(context.values)
    if section.when is not None:
        return context.scope("items").held(section.when.tree, "when") & drawn
    at_marks = np.flatnonzero(_called(context, str(section.at)) & drawn)
    single = np.zeros(len(drawn), dtype=bool)
    if len(at_marks):  # of several series or days of one name the largest is taken
        single[at_marks[np.argmax(context.values[at_marks])]] = True
    return single


def _filled(context: EvaluationContext, section: NoteSection, note_marks: Bools) -> dict[int, str]:
    """The text at each of some marks: among the items for items, among the totals for totals."""
    texts: dict[int, str] = {}
    reaches: tuple[Reach, ...] = ("items", "totals") if context.marks.totals.any() else ("items",)
    for reach in reaches:
        scope = context.scope(reach)
        filled = fill_each(section.text.tree, scope.data, scope.gather(note_marks))
        texts |= scope.by_mark(filled)
    return {mark: texts.get(mark, "") for mark in np.flatnonzero(note_marks).tolist()}


def _called(context: EvaluationContext, mark_name: str) -> Bools:
    """The marks of a name, whole or of their category, or of a date."""
    marks, fold = context.marks, mark_name.strip().casefold()
    names = (
        marks.names(),
        marks.category_names(),
        marks_in_words(marks, context.formats.locale),
    )
    for called in names:
        mark_periods = np.array([name.casefold() == fold for name in called], dtype=bool)
        if mark_periods.any():
            return mark_periods
    column = marks.columns[marks.category]
    if isinstance(column, Text) or kind_of(column) != "date":
        return np.zeros(len(marks), dtype=bool)
    try:
        start, end = period(mark_name, marks.calendar)
    except YuzenError:
        return np.zeros(len(marks), dtype=bool)
    grain = marks.grains.get(marks.category)
    if grain is None:
        return np.asarray((column >= start) & (column < end))
    missing = np.isnat(column)
    mark_periods = grain.numbers(np.where(missing, np.datetime64(0, "s"), column))
    first, last = grain.numbers(np.array([start, end - np.timedelta64(1, "s")])).tolist()
    return np.asarray(~missing & (mark_periods >= first) & (mark_periods <= last))
