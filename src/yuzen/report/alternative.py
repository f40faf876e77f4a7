"""The alternative text: what a chart shows, for those who do not see it, in at most sixty words."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats, kind_of
from yuzen.brief.design import DesignRule
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.chart_texts import chart_text, with_parameters
from yuzen.compose.texts.number_formats import number_format
from yuzen.rules.conditions import all_tests
from yuzen.rules.quantities.fields import Field
from yuzen.rules.truth import TRUE

MOST_WORDS: Final = 60
TITLE_WORDS: Final = 22
MAX_NAMED_MARKS: Final = 2  # marks of a rule that are called by name


@dataclass(frozen=True)
class StandsOut:
    """What a rule holds for: its marks, those that it asks, and the measure that it is about."""

    rule: int
    marks: Codes
    asked: int
    measure: str


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


def standing_out(judged: JudgedChart) -> Iterator[StandsOut]:
    """What each rule that flags marks holds for, where it holds for some."""
    for index, rule in enumerate(judged.verdict.rules):
        reached = judged.marks.reached_by(rule.on)
        held = np.flatnonzero((judged.verdict.whole.truths[index] == TRUE) & reached)
        if len(held) and judged.verdict.styles.flags(index):
            asked = reached & ~judged.marks.totals
            if rule.reach != "items":
                asked = reached
            count = int(np.count_nonzero(asked))
            yield StandsOut(index, held, count, _measure(judged, judged.design.rules[index]))


def _measure(judged: JudgedChart, rule: DesignRule) -> str:
    """The measure that a rule is about: of its layer, its column, its condition, or the chart's."""
    layer = judged.design.layer_of(rule.on)
    if layer is not None:
        return layer.value
    if rule.value is not None:
        return rule.value
    tests = all_tests(rule.section.when.tree) if rule.section.when is not None else ()
    for test in tests:
        subject = test.subject
        named = subject.name if isinstance(subject, Field) else ""
        name = judged.context.whole.name(named) or ""
        if name in judged.marks.columns and kind_of(judged.marks.columns[name]) == "number":
            return name
        if subject is None:
            break
    return judged.marks.value


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
        "value": _plain(marks.value),
        "category": _plain(marks.category),
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
    for found in standing_out(judged):
        numbers = number_format(judged.design, judged.context, found.measure)
        values = _values(judged, found)
        # The largest first; marks without a number come last.
        order = np.argsort(-np.nan_to_num(np.abs(values), nan=-1.0), kind="stable")
        what = "" if found.measure == judged.marks.value else f"{_plain(found.measure)} "
        most = MAX_NAMED_MARKS + (len(order) > MAX_NAMED_MARKS)
        named = [
            f"{judged.name_of(int(found.marks[at]))} ({what}{numbers.write(float(values[at]))})"
            for at in order[:most].tolist()
        ]
        named += [""] * (len(order) - len(named))  # which are counted, and not named
        told = {
            "rule": _key(judged, found.rule),
            "count": locale.number(f"{len(named):,}"),
            "asked": locale.number(f"{found.asked:,}"),
        }
        whole = judged.words.say("stands out", **told, names=judged.words.listed(named, most))
        yield whole, judged.words.say("counted", **told)


def _values(judged: JudgedChart, found: StandsOut) -> Floats:
    """The numbers of the marks that stand out, of the measure that their rule is about."""
    if found.measure == judged.marks.value:
        values = judged.context.part_values(judged.verdict.rules[found.rule])
    else:
        values = np.asarray(judged.marks.columns[found.measure], dtype=float)
    return np.asarray(values)[found.marks]


def _key(judged: JudgedChart, index: int) -> str:
    """What a rule is called in the key, its numbers filled in."""
    section = judged.design.rules[index].section
    if section.key:
        return chart_text(section.key, judged.context, judged.verdict)
    condition = with_parameters(section.condition_text, judged.design, judged.context)
    return section.name or condition.replace("`", "")


def _plain(name: str) -> str:
    """A column's name in a sentence."""
    return name.replace("_", " ").strip("`")


def _cut(title: str) -> str:
    """The title as a sentence of at most some words."""
    words = title.split()
    if len(words) > TITLE_WORDS:
        return f"{' '.join(words[:TITLE_WORDS])} …"
    return f"{' '.join(words).rstrip('.')}."
