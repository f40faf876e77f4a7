"""The alternative text: what a chart shows, for those who do not see it, in at most sixty words."""

from typing import Final

import numpy as np

from yuzen.arrays import Bools
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.chart_texts import chart_text, with_parameters
from yuzen.compose.texts.number_formats import number_format
from yuzen.formats.name_lists import listed

MOST_WORDS: Final = 60
TITLE_WORDS: Final = 22
MAX_NAMED_MARKS: Final = 2  # marks of a rule that are called by name
NAMES: Final = {
    "table": "table",
    "dots": "dot chart",
}  # of kinds that are not called after their marks


def alternative_text(judged: JudgedChart, title: str) -> str:
    """Which kind of chart of what, how many marks, and what stands out by how much.

    title: what stands over the picture.
    """
    kind = NAMES.get(judged.design.kind, f"{judged.design.kind} chart")
    sentences = [f"{kind}: {_cut(title)}", _extent(judged)]
    for index, rule in enumerate(judged.verdict.rules):
        held = judged.verdict.whole.won(index) & ~judged.marks.totals
        of_layer = judged.design.layer_of(rule.on) is not None
        if held.any() and judged.verdict.styles.flags(index) and not of_layer:
            sentences.append(_exceptions(judged, index, held))
    kept: list[str] = []
    for sentence in sentences:
        # A later, shorter sentence may still fit where an earlier one did not.
        if len(" ".join([*kept, sentence]).split()) <= MOST_WORDS:
            kept.append(sentence[:1].upper() + sentence[1:])
    return " ".join(kept)


def _extent(judged: JudgedChart) -> str:
    """What the marks are, such as 'Passengers by route, 20 bars from 6,012 (Otterby) to …'."""
    marks, values = judged.marks, judged.context.values
    items = np.flatnonzero(~marks.totals & np.isfinite(values))
    noun = "point" if judged.design.traits.shape.lined else judged.design.noun
    count = int((~marks.totals).sum())
    head = f"{marks.value} by {marks.category}, {count:,} {noun}{'' if count == 1 else 's'}"
    if not len(items):
        return f"{head}, none with a number."
    numbers, names = number_format(judged.design, judged.context, marks.value), marks.names()
    low, high = (int(items[find(values[items])]) for find in (np.argmin, np.argmax))
    ends = [f"{numbers.write(float(values[at]))} ({names[at]})" for at in (low, high)]
    if low == high:
        return f"{head}: {ends[0]}."
    return f"{head} from {ends[0]} to {ends[1]}."


def _exceptions(judged: JudgedChart, index: int, held: Bools) -> str:
    """What a rule flags: 'Runs at a loss: 4, Brinewick 48,960, Hollowmere 11,100 and 2 more.'."""
    numbers = number_format(judged.design, judged.context, judged.marks.value)
    values = judged.context.part_values(judged.verdict.rules[index])
    names, key = judged.marks.names(), _key(judged, index)
    places = np.flatnonzero(held).tolist()
    examples = [
        f"{names[at]} {numbers.write(float(values[at]))}" for at in places[:MAX_NAMED_MARKS]
    ]
    if len(places) > MAX_NAMED_MARKS:
        examples.append(f"{len(places) - MAX_NAMED_MARKS:,} more")
    return f"{key}: {len(places):,}, {listed(examples)}."


def _key(judged: JudgedChart, index: int) -> str:
    """What a rule is called in the key, its numbers filled in."""
    section = judged.design.rules[index].section
    if section.key:
        return chart_text(section.key, judged.context, judged.verdict)
    return section.name or with_parameters(section.condition_text, judged.design, judged.context)


def _cut(title: str) -> str:
    """The title as a sentence of at most some words."""
    words = title.split()
    if len(words) > TITLE_WORDS:
        return f"{' '.join(words[:TITLE_WORDS])} …"
    return f"{' '.join(words).rstrip('.')}."
