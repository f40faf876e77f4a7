"""The flags of a chart as texts, for documents: which mark, by which rule, in which colour, why."""

from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Text, kind_of
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.number_formats import number_format
from yuzen.explain.mark_titles import plain_sentence, told_of
from yuzen.explain.standing_out import plain_name
from yuzen.rules.answers.reasons import reasons
from yuzen.rules.target import Target
from yuzen.rules.truth import TRUE
from yuzen.value import Value

MAX_FLAG_ROWS: Final = 200  # of one chart in a document; programs get all of them


class FlagRow(Value):
    """One mark on one target, as texts.

    cells: by the heads of the table; color: '#RRGGBB'; flagged: whether a rule flags it there.
    """

    cells: tuple[str, ...]
    color: str
    flagged: bool


class FlagTable(Value):
    """The flags as texts.

    heads: what the columns hold; numeric: which of them are numbers; left_out: how many rows more
    there are.
    """

    heads: tuple[str, ...] = ()
    numeric: tuple[bool, ...] = ()
    rows: tuple[FlagRow, ...] = ()
    left_out: int = 0


def flag_table(judged: JudgedChart) -> FlagTable:
    """The flags of a chart; of very many marks those that a rule holds for come first."""
    marks, verdict = judged.marks, judged.verdict
    places: list[tuple[Target, int]] = []
    for target in verdict.whole.targets:
        reached = np.flatnonzero(marks.reached_by(target)).tolist()
        places += [(target, mark) for mark in reached]
    left_out = max(0, len(places) - MAX_FLAG_ROWS)
    if left_out:
        # What is flagged is what readers look for, so it is what is kept of very many.
        held = (verdict.whole.truths == TRUE).any(axis=0)
        places = sorted(places, key=lambda place: not held[place[1]])[:MAX_FLAG_ROWS]
    measures = [name for name in marks.columns if _is_measure(judged, name)]
    several = len(verdict.whole.targets) > 1
    words = judged.words.texts
    heads = [plain_name(marks.category), *map(plain_name, measures)]
    heads += [words["head target"]] * several + [words["head rule"], words["head why"]]
    numeric = [False, *[True] * len(measures)] + [False] * (several + 2)
    shown = [mark for _, mark in places]
    numbers = [_texts(judged, name, shown) for name in measures]
    why = _why(judged, shown)
    colors = {target: verdict.hex_words(target) for target in verdict.whole.targets}
    flagging = {target: verdict.flagging(target) for target in verdict.whole.targets}
    rows = []
    for place, ((target, mark), of_target) in enumerate(zip(places, why, strict=True)):
        winner = int(verdict.whole.winner(target)[mark])
        rule = verdict.rules[winner].name if winner >= 0 else ""
        cells = [judged.name_of(mark), *(texts[place] for texts in numbers)]
        cells += [str(target)] * several + [rule, of_target.get(target, "")]
        color = str(colors[target][mark])
        rows.append(FlagRow(tuple(cells), color, bool(flagging[target][mark] >= 0)))
    return FlagTable(tuple(heads), tuple(numeric), tuple(rows), left_out)


def _is_measure(judged: JudgedChart, name: str) -> bool:
    """Whether a column of the marks is a number of theirs, and not what they are called by."""
    marks = judged.marks
    column = marks.columns[name]
    if name in {*marks.named_by, marks.bins} or isinstance(column, Text):
        return False
    return kind_of(column) == "number"


def _texts(judged: JudgedChart, measure: str, shown: Sequence[int]) -> list[str]:
    """The numbers of a measure at some marks as they are written."""
    form = number_format(judged.design, judged.context, measure)
    values = np.asarray(judged.marks.columns[measure], dtype=float)
    return [form.write(value) for value in values[shown].tolist()]


def _why(judged: JudgedChart, marks: Sequence[int]) -> list[Mapping[Target, str]]:
    """For each of the marks, why it looks so, by what rules act on."""
    why: list[Mapping[Target, str]] = []
    for all_of_mark in reasons(judged.verdict.whole, judged.context, marks):
        of_target: dict[Target, list[str]] = {}
        for reason in all_of_mark:
            if told_of(reason):
                of_target.setdefault(reason.target, []).append(plain_sentence(reason))
        why.append({t: "; ".join(dict.fromkeys(texts)) for t, texts in of_target.items()})
    return why
