"""The alternative text: what a chart shows, for those who do not see it, in at most sixty words."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.formats.name_lists import listed

if TYPE_CHECKING:
    from yuzen.arrays import Bools
    from yuzen.compose.judged import Judged

MOST_WORDS: Final = 60
TITLE_WORDS: Final = 22
MAX_NAMED_MARKS: Final = 2  # marks of a rule that are called by name
MARK_NOUNS: Final = {"line": "point", "area": "point"}  # a mark, where its chart is called so
NAMES: Final = {
    "table": "table",
    "dots": "dot chart",
}  # of kinds that are not called after their marks


def alternative_text(judged: Judged, title: str) -> str:
    """Which kind of chart of what, how many marks, and what stands out by how much.

    title: what stands over the picture.
    """
    kind = NAMES.get(judged.spec.kind, f"{judged.spec.kind} chart")
    told = [f"{kind}: {_cut(title)}", _extent(judged)]
    for index, rule in enumerate(judged.rules):
        held = judged.verdict.won(index) & ~judged.marks.totals
        if held.any() and judged.palette.flags(index) and judged.spec.layer_of(rule.on) is None:
            told.append(_exceptions(judged, _key(judged, index), held))
    kept: list[str] = []
    for sentence in told:
        if len(" ".join([*kept, sentence]).split()) <= MOST_WORDS:
            kept.append(sentence[:1].upper() + sentence[1:])
    return " ".join(kept)


def _extent(judged: Judged) -> str:
    """What the marks are of: 'Passengers by route, 20 bars from 6,012 (Otterby) to 51,401 (Cinderquay).'."""
    marks, spec = judged.marks, judged.spec
    items = np.flatnonzero(~marks.totals & np.isfinite(judged.values))
    noun = MARK_NOUNS.get(spec.traits.shape, spec.noun)
    count = int((~marks.totals).sum())
    head = f"{marks.value} by {marks.category}, {count:,} {noun}{'' if count == 1 else 's'}"
    if not len(items):
        return f"{head}, none with a number."
    numbers, names = judged.numbers(marks.value), marks.names()
    low, high = (int(items[find(judged.values[items])]) for find in (np.argmin, np.argmax))
    ends = [f"{numbers.write(float(judged.values[at]))} ({names[at]})" for at in (low, high)]
    if low == high:
        return f"{head}: {ends[0]}."
    return f"{head} from {ends[0]} to {ends[1]}."


def _exceptions(judged: Judged, key: str, held: Bools) -> str:
    """What a rule flags: 'Runs at a loss: 4, Brinewick 48,960, Hollowmere 11,100 and 2 more.'."""
    marks, numbers = judged.marks, judged.numbers(judged.marks.value)
    names, places = marks.names(), np.flatnonzero(held).tolist()
    told = [
        f"{names[at]} {numbers.write(float(judged.values[at]))}" for at in places[:MAX_NAMED_MARKS]
    ]
    if len(places) > MAX_NAMED_MARKS:
        told.append(f"{len(places) - MAX_NAMED_MARKS:,} more")
    return f"{key}: {len(places):,}, {listed(told)}."


def _key(judged: Judged, index: int) -> str:
    """What a rule is called in the key, its numbers filled in."""
    rule = judged.rules[index]
    if rule.key:
        return judged.text(rule.key)
    return rule.name or judged.spoken(rule.condition_text)


def _cut(title: str) -> str:
    """The title as a sentence, of so many words at the most."""
    words = title.split()
    if len(words) > TITLE_WORDS:
        return f"{' '.join(words[:TITLE_WORDS])} …"
    return f"{' '.join(words).rstrip('.')}."
