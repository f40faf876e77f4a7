"""Answers to "why": each mark's numbers and what became of every rule, for people and programs."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from yuzen.arrays import Text, kind_of
from yuzen.color.gradient import hexes
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.errors import external_call, make_error, suggestion
from yuzen.formats.number_text import MINUS
from yuzen.rules.answers.reasons import Reason, reasons
from yuzen.rules.judge import EvaluationContext, Verdict
from yuzen.rules.marks import Marks
from yuzen.rules.quantities.fields import Field
from yuzen.value import Value

ORDER = {"won": 0, "also held": 1, "unknown": 2, "did not hold": 3}
STATE_WORDS = {"also held": "also held", "unknown": "not known", "did not hold": "not held"}


class MarkAnswer(Value):
    """One mark: its name, numbers as texts, their rows, and a reason for every rule."""

    name: str
    numbers: str
    made_of: str
    colors: dict[str, tuple[str, str]]
    reasons: tuple[Reason, ...]


class Why(Value):
    """The answer for some marks; `str()` of it is for people, `data()` for programs.

    `others` counts the marks that nobody asked for by name and that no rule holds for.

    >>> import yuzen as yz
    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> chart = yz.chart(rows, category="route", value="surplus")
    >>> answer = chart.rule("negative", color="adverse").why("Brinewick")
    >>> [reason["because"] for mark in answer.data() for reason in mark["rules"]]
    ['surplus −300 is negative']
    """

    marks: tuple[MarkAnswer, ...]
    kind: str
    others: int = 0

    def __str__(self) -> str:
        texts = [_told(mark, self.kind) for mark in self.marks]
        if self.others:
            texts.append(f"{self.others:,} more: no rule holds.")
        return "\n\n".join(texts) or "There are no marks."

    __repr__ = __str__

    def data(self) -> list[dict[str, object]]:
        """The answers as plain values: a dict for each mark."""
        return [
            {
                "name": mark.name,
                "numbers": mark.numbers,
                "made of": mark.made_of,
                "colors": {t: {"role": r, "color": c} for t, (r, c) in mark.colors.items()},
                "rules": [
                    {
                        "rule": reason.rule + 1,
                        "name": reason.name,
                        "target": str(reason.target),
                        "outcome": reason.outcome,
                        "because": reason.sentence,
                    }
                    for reason in mark.reasons
                ],
            }
            for mark in self.marks
        ]


def why(
    items: Sequence[object], context: EvaluationContext, verdict: ColoredVerdict, kind: str
) -> Why:
    """Why the named marks, or all that some rule holds for, have their colours.

    A mark is named as it is written in a picture or in a table of flags. Raises YuzenError
    (call-item) for a name that no mark has.
    """
    marks = context.marks
    names = marks.names()
    if items:
        chosen = _chosen(items, names, marks)
    else:
        chosen = _flagged(verdict.whole)
    mark_answers = answers(chosen, context, verdict)
    return Why(mark_answers, kind, 0 if items else len(marks) - len(chosen))


def answers(
    chosen: Sequence[int], context: EvaluationContext, verdict: ColoredVerdict
) -> tuple[MarkAnswer, ...]:
    """The answer for each of some marks."""
    marks = context.marks
    names = marks.names()
    return tuple(
        MarkAnswer(
            names[mark],
            _numbers(context, mark),
            _made_of(marks, mark),
            _colors(verdict, marks, mark),
            tuple(reason for reason in mark_reasons if marks.reached_by(reason.target)[mark]),
        )
        for mark, mark_reasons in zip(chosen, reasons(verdict.whole, context, chosen), strict=True)
    )


def _flagged(verdict: Verdict) -> list[int]:
    held = (verdict.truths > 0).any(axis=0)
    return [int(mark) for mark in np.flatnonzero(held)]


def _chosen(items: Sequence[object], names: list[str], marks: Marks) -> list[int]:
    """The marks that are called so, as a picture or a table of flags calls them."""
    folded = [name.casefold() for name in names]
    chosen: list[int] = []
    for item in items:
        with external_call(
            "call-item", "A mark is called by its name, and this is none ({reason})."
        ):
            text = str(item).strip()
        fold = text.casefold()
        # A category stands for all its series: "Brinewick" answers for each of its years.
        matching = [i for i, name in enumerate(folded) if fold in {name, name.split(" · ")[0]}]
        # Copied from the flags table, a name may have the apostrophe that keeps spreadsheets from
        # running it.
        matching = matching or _of_category(text, marks)
        if not matching:
            hint = suggestion(text, names)
            raise make_error("call-item", f"No {marks.category} is called '{text[:60]}'.{hint}")
        chosen += matching
    return list(dict.fromkeys(chosen))


def _of_category(text: str, marks: Marks) -> list[int]:
    """The marks whose category is written as a text, number or moment in a table."""
    column = marks.columns[marks.category]
    if isinstance(column, Text):
        if not text.startswith("'"):
            return []
        fold = text[1:].casefold()
        return [
            i
            for i, word in enumerate(column.values())
            if word is not None and word.casefold() == fold
        ]
    try:
        if column.dtype.kind == "M":
            wanted: Any = np.datetime64(text.replace(" ", "T").removesuffix("Z"), "s")
        else:
            wanted = float(text.replace(MINUS, "-").replace(",", ""))
    except ValueError:
        return []
    return np.flatnonzero(column == wanted).tolist()


def _made_of(marks: Marks, mark: int) -> str:
    """What the numbers were made of: '12 rows; margin = total of surplus / total of fares'."""
    origin = marks.origin
    if origin.row_counts is None:
        return ""
    rows = int(origin.row_counts[mark])
    formulas_shown = [
        f"{name} = {formula}"
        for name, formula in marks.origin.formulas.items()
        # A total of the column of that name says nothing new.
        if formula != f"total of {Field(name)}" and name != formula
    ]
    for name, value_counts in origin.value_counts.items():
        if 0 < value_counts[mark] < rows:
            formulas_shown.append(f"{name} from {value_counts[mark]:,} of {rows:,} rows")
    return "; ".join([f"{rows:,} row{'' if rows == 1 else 's'}", *formulas_shown])


def _numbers(context: EvaluationContext, mark: int) -> str:
    """'41,204 passengers, surplus −18,300'."""
    marks, formats = context.marks, context.formats
    value_text = formats.named(marks.value).tell(float(marks.columns[marks.value][mark]))[0]  # type: ignore[arg-type]
    parts = [f"{value_text} {marks.value}"]
    for name, column in marks.columns.items():
        if name in {marks.value, marks.category, marks.bins} or isinstance(column, Text):
            continue
        if kind_of(column) == "number":
            parts.append(f"{name} {formats.named(name).tell(float(column[mark]))[0]}")
    return ", ".join(parts)


def _colors(verdict: ColoredVerdict, marks: Marks, mark: int) -> dict[str, tuple[str, str]]:
    """For each target the colour it has, as a role ('' for a plain colour) and as '#RRGGBB'."""
    colors, palette = {}, verdict.palette
    for target in verdict.whole.targets:
        if not marks.reached_by(target)[mark]:
            continue
        winner = int(verdict.whole.winner(target)[mark])
        base = palette.base.names(target)
        shown = hexes(verdict.fill(target)[mark : mark + 1])[0]
        if winner < 0:
            role = base[int(palette.base.of_mark[mark]) if len(base) > 1 else 0]
        else:
            role = palette.role(winner)
        colors[str(target)] = (role, shown)
    return colors


def _told(mark: MarkAnswer, kind: str) -> str:
    lines = [f"{mark.name}  {mark.numbers}" + (f"  ({mark.made_of})" if mark.made_of else "")]
    target_names = {target: kind if target == "mark" else target for target in mark.colors}
    wide = max(len(word) for word in target_names.values())
    shades = {t: f"{role} ({color})" if role else color for t, (role, color) in mark.colors.items()}
    # As wide as "also held", so that all sentences begin in one column.
    far = max(*(len(shade) for shade in shades.values()), 9)
    for target, shade in shades.items():
        target_reasons = sorted(
            (r for r in mark.reasons if str(r.target) == target), key=lambda r: ORDER[r.outcome]
        )
        rows = [
            (shade if reason.outcome == "won" else STATE_WORDS[reason.outcome], _sentence(reason))
            for reason in target_reasons
        ]
        if not any(reason.outcome == "won" for reason in target_reasons):
            rows.insert(0, (shade, "no rule holds"))
        for place, (state, sentence) in enumerate(rows):
            if place == 0:
                head = target_names[target]
            else:
                head = ""
            lines.append(f"  {head:<{wide}}  {state:<{far}}  {sentence}")
    return "\n".join(lines)


def _sentence(reason: Reason) -> str:
    named = f'rule {reason.rule + 1} "{reason.name}"'
    return f"{named}: {reason.sentence}"
