"""What each mark answers when it is pointed at: its name, its number, why it looks so."""

from collections.abc import Mapping

import numpy as np

from yuzen.arrays import Floats
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.number_formats import number_format
from yuzen.formats.number_format import NumberFormat
from yuzen.rules.answers.reasons import Reason, reasons
from yuzen.rules.conditions import FOR_EVERY_MARK
from yuzen.rules.truth import TRUE

TOLD = ("won", "also held")


def mark_titles(judged: JudgedChart) -> tuple[str, ...]:
    """For each mark of a chart its title: "Brinewick: surplus −16,890 is negative"."""
    told = {
        mark: [reason for reason in all_of_mark if reason.target.part != "layer"]
        for mark, all_of_mark in _reasons(judged).items()
    }
    measure = judged.marks.value
    numbers = number_format(judged.design, judged.context, measure)
    return _titles(judged, told, judged.context.values, numbers, measure)


def layer_titles(judged: JudgedChart) -> dict[str, tuple[str, ...]]:
    """The titles of the marks of further layers, by the layers' names."""
    every, titles = _reasons(judged), {}
    for layer in judged.design.further_layers:
        told = {
            mark: [
                r for r in all_of_mark if r.target.part == "layer" and r.target.name == layer.name
            ]
            for mark, all_of_mark in every.items()
        }
        values = np.asarray(judged.marks.columns[layer.value], dtype=float)
        numbers = number_format(judged.design, judged.context, layer.value)
        titles[layer.name] = _titles(judged, told, values, numbers, layer.name)
    return titles


def _reasons(judged: JudgedChart) -> dict[int, list[Reason]]:
    """The reasons of the rules that hold at each mark, for marks with at least one."""
    truths = judged.verdict.whole.truths
    held = np.flatnonzero((truths == TRUE).any(axis=0)).tolist() if len(truths) else []
    found = reasons(judged.verdict.whole, judged.context, held)
    return {
        mark: [
            reason
            for reason in all_of_mark
            if told_of(reason) and judged.marks.reached_by(reason.target)[mark]
        ]
        for mark, all_of_mark in zip(held, found, strict=True)
    }


def told_of(reason: Reason) -> bool:
    """Whether a reason says why a mark looks as it does: its rule holds, and not for every mark."""
    return reason.outcome in TOLD and reason.sentence != FOR_EVERY_MARK


def plain_sentence(reason: Reason) -> str:
    """What a reason says, without that its rule is for every mark."""
    return reason.sentence.removeprefix(f"{FOR_EVERY_MARK}; ")


def _titles(
    judged: JudgedChart,
    told: Mapping[int, list[Reason]],
    values: Floats,
    numbers: NumberFormat,
    measure: str,
) -> tuple[str, ...]:
    """The titles of all marks, with the numbers of one measure."""
    titles = []
    for mark, (name, value) in enumerate(zip(judged.called, values.tolist(), strict=True)):
        sentences = list(dict.fromkeys(map(plain_sentence, told.get(mark, ()))))
        text = numbers.write(value)
        # A reason that holds the number says it already.
        if not any(text in sentence for sentence in sentences):
            sentences.insert(0, f"{text} {measure.replace('_', ' ')}")
        titles.append(f"{name}: {'; '.join(sentences)}")
    return tuple(titles)
