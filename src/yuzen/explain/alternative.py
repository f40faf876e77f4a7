"""The alternative text: what a chart shows, for those who do not see it, in at most sixty words."""

from collections.abc import Iterator, Mapping
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.number_formats import number_format
from yuzen.explain.standing_out import plain_name, rule_key, standing_out, values_of

MOST_WORDS: Final = 60
TITLE_WORDS: Final = 22
MAX_NAMED_MARKS: Final = 2  # marks of a rule that are called by name


def alternative_text(
    judged: JudgedChart, title: str, trends: Mapping[str, JudgedChart] | None = None
) -> str:
    """Which kind of chart of what, how many marks, and what stands out by how much.

    title: what stands over the picture; trends: the small lines of a table's columns.
    """
    kind = judged.words.texts.get(f"kind {judged.design.kind}", f"{judged.design.kind} chart")
    ways = [(f"{kind}: {_cut(title)}",), (_extent(judged),), *_exceptions(judged)]
    for trend in (trends or {}).values():
        ways += _exceptions(trend)
    kept: list[str] = []
    for sentences in ways:
        # Where names have no room the count alone may have; and a later sentence may be shorter.
        fits = (s for s in sentences if len(" ".join([*kept, s]).split()) <= MOST_WORDS)
        if sentence := next(fits, ""):
            kept.append(sentence[:1].upper() + sentence[1:])
    return " ".join(kept)


def _extent(judged: JudgedChart) -> str:
    """What the marks are, such as 'Passengers by route, 20 bars from 6,012 (Otterby) to …'."""
    marks, values, words = judged.marks, judged.context.values, judged.words
    drawn = ~marks.totals
    items = np.flatnonzero(drawn & np.isfinite(values))
    count = int(np.count_nonzero(drawn))
    of_cells = judged.design.tabular and marks.series
    key = "marks cells" if of_cells else f"marks {judged.design.kind}"
    noun = words.noun(key, count, f"{judged.design.noun}|{judged.design.traits.plural}")
    of = {
        "value": plain_name(marks.value),
        "category": plain_name(marks.category),
        "marks": f"{judged.context.formats.locale.number(f'{count:,}')} {noun}",
    }
    if not len(items):
        return words.say("extent of none", **of)
    numbers = number_format(judged.design, judged.context, marks.value)
    low, high = (int(items[find(values[items])]) for find in (np.argmin, np.argmax))
    ends = [f"{numbers.write(float(values[at]))} ({judged.name_of(at)})" for at in (low, high)]
    if low == high:
        return words.say("extent of one", **of, low=ends[0])
    return words.say("extent", **of, low=ends[0], high=ends[1])


def _exceptions(judged: JudgedChart) -> Iterator[tuple[str, str]]:
    """What each rule flags: 'Runs at a loss: 4 of 20, Brinewick (−48,960) and 3 more', or less."""
    locale = judged.context.formats.locale
    for rule in standing_out(judged):
        numbers = number_format(judged.design, judged.context, rule.measure)
        values = values_of(judged, rule)
        order = _largest_first(values, MAX_NAMED_MARKS + 1)
        what = "" if rule.measure == judged.marks.value else f"{plain_name(rule.measure)} "
        most = MAX_NAMED_MARKS + (len(values) > MAX_NAMED_MARKS)
        named = [
            f"{judged.name_of(int(rule.marks[at]))} ({what}{numbers.write(float(values[at]))})"
            for at in order[:most].tolist()
        ]
        named += [""] * (len(values) - len(named))  # which are counted, and not named
        told = {
            "rule": rule_key(judged, rule.rule),
            "count": locale.number(f"{len(named):,}"),
            "asked": locale.number(f"{rule.count:,}"),
        }
        whole = judged.words.say("stands out", **told, names=judged.words.listed(named, most))
        yield whole, judged.words.say("counted", **told)


def _largest_first(values: Floats, count: int) -> Codes:
    """The places of some largest values of either sign; those without a number come last."""
    sizes = np.nan_to_num(np.abs(values), nan=-1.0)
    places = np.arange(len(sizes))
    if len(sizes) > count:  # of many only those that are named have to be put in order
        places = np.flatnonzero(sizes >= np.partition(sizes, -count)[-count])
    return places[np.argsort(-sizes[places], kind="stable")][:count]


def _cut(title: str) -> str:
    """The title as a sentence of at most some words."""
    words = title.split()
    if len(words) > TITLE_WORDS:
        return f"{' '.join(words[:TITLE_WORDS])} …"
    return f"{' '.join(words).rstrip('.')}."
