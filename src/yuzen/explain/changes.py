"""Sentences of what has changed since last time, from the flags and the numbers of both times."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from yuzen.arrays import Text
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.mark_names import date_text
from yuzen.compose.texts.number_formats import number_format
from yuzen.explain.flag_changes import Change, changes_of_points, flag_changes
from yuzen.explain.sentences import (
    MAX_NAMED_MARKS,
    About,
    MarkNumber,
    Sentence,
    finite,
    listed,
    of_rule,
)
from yuzen.explain.standing_out import StandsOut, asked_rules, plain_name, rule_key
from yuzen.formats.periods import UNITS, Grain
from yuzen.rules.quantities.ago import grain_along
from yuzen.value import Value


class LastTime(Value, eq=False):
    """A chart of last time's rows.

    judged: the chart; trends: the small lines in a table's columns.
    called: what those rows are called where their dates do not tell: a file, a folder.
    """

    judged: JudgedChart
    trends: Mapping[str, JudgedChart]
    called: str = ""


def since_text(judged: JudgedChart, last: LastTime) -> str:
    """What last time is called: its latest month, say, or what its rows are called."""
    then, now = (_latest(chart) for chart in (last.judged, judged))
    # The same month twice would say nothing; what the rows are called does.
    if then and then != now:
        return then
    return last.called or judged.words.texts["last time"]


def _latest(judged: JudgedChart) -> str:
    """The last period of a chart's dates; '' where it has none."""
    marks = judged.marks
    dates, grain = marks.columns[marks.along], grain_along(marks)
    locale = judged.context.formats.locale
    if grain is not None and not isinstance(dates, Text) and not np.isnat(dates).all():
        return date_text(dates[~np.isnat(dates)].max(), "", grain, locale)
    for period, (_, last) in marks.origin.spans.items():
        if period in UNITS:
            unit = Grain(period, marks.calendar)
            return date_text(np.datetime64(last, "s"), "", unit, locale)
    return ""


def changes_since(
    judged: JudgedChart, trends: Mapping[str, JudgedChart], last: LastTime
) -> tuple[Sentence, ...]:
    """What is new, what is no longer so, and which marks came or went, rule after rule."""
    since = since_text(judged, last)
    sentences = [*_of_chart(judged, last.judged, since, flag_changes(last.judged, judged))]
    points = list(changes_of_points(last.trends, trends))
    for name, trend in trends.items():
        of_column = [change for change in points if change.target == f"column {name}"]
        if of_column:
            sentences += _of_chart(trend, last.trends[name], since, of_column)
    if not sentences:
        sentences = [Sentence("same", judged.words.say("tell same", since=since))]
    return tuple(sentences)


def _of_chart(
    judged: JudgedChart, before: JudgedChart, since: str, changes: Sequence[Change]
) -> Iterator[Sentence]:
    """What changed in one chart."""
    numbers = BothTimes.of(judged, before)
    for asked in asked_rules(judged):
        rule = judged.verdict.rules[asked.rule]
        of_target = [c for c in changes if c.target in {str(rule.on), f"column {rule.on.name}"}]
        ways: tuple[tuple[About, str, list[Change]], ...] = (
            ("new", "tell new", [c for c in of_target if c.after == rule.name]),
            ("no longer", "tell no more", [c for c in of_target if c.before == rule.name]),
        )
        for about, key, changed in ways:
            if changed:
                yield _of_rule(judged, numbers, asked, about, key, since, changed)
    # Every month one comes and one goes; that is no news.
    if grain_along(judged.marks) is not None:
        return
    plain = [change for change in changes if not change.before and not change.after]
    ways_of_marks: tuple[tuple[About, str, str], ...] = (
        ("appeared", "tell appeared", "new"),
        ("gone", "tell gone", "gone"),
    )
    for about, key, kind in ways_of_marks:
        marks = [change.mark for change in plain if change.kind == kind]
        if marks:
            yield _of_marks(judged, numbers, about, key, since, marks)


def _of_rule(
    judged: JudgedChart,
    numbers: BothTimes,
    asked: StandsOut,
    about: About,
    key: str,
    since: str,
    changed: Sequence[Change],
) -> Sentence:
    """One sentence about the marks that a rule flags now, or flags no longer."""
    names = numbers.by_weight([change.mark for change in changed], asked.measure)
    facts = [numbers.fact(name, asked.measure) for name in names]
    named = [numbers.told(name, asked.measure) for name in names[: MAX_NAMED_MARKS + 1]]
    text = judged.words.say(
        key,
        rule=rule_key(judged, asked.rule),
        since=since,
        names=listed(judged, named, len(facts)),
    )
    return of_rule(judged, asked.rule, about, text, count=len(facts), marks=tuple(facts))


def _of_marks(
    judged: JudgedChart, numbers: BothTimes, about: About, key: str, since: str, marks: list[str]
) -> Sentence:
    """One sentence about marks without a flag that came or went."""
    facts = [numbers.fact(name, judged.marks.value) for name in marks]
    names = [fact.name for fact in facts[: MAX_NAMED_MARKS + 1]]
    text = judged.words.say(key, since=since, names=listed(judged, names, len(facts)))
    return Sentence(about, text, count=len(facts), marks=tuple(facts))


class BothTimes(Value, eq=False):
    """The numbers of marks at both times, by the names of the marks.

    now, then: the charts; marks_now, marks_then: their marks by their names.
    """

    now: JudgedChart
    then: JudgedChart
    marks_now: Mapping[str, int]
    marks_then: Mapping[str, int]

    @classmethod
    def of(cls, now: JudgedChart, then: JudgedChart) -> BothTimes:
        """The numbers of two charts."""
        places = [{name: mark for mark, name in enumerate(c.marks.names())} for c in (now, then)]
        return cls(now, then, *places)

    def by_weight(self, names: Sequence[str], measure: str) -> list[str]:
        """Names, those with the largest numbers first, and then those with none."""
        return sorted(names, key=lambda name: -abs(self.fact(name, measure).largest))

    def fact(self, name: str, measure: str) -> MarkNumber:
        """A mark's number in a measure now, and the one that it had."""
        mark = self.marks_now.get(name)
        called = (
            self.then.name_of(self.marks_then[name]) if mark is None else self.now.name_of(mark)
        )
        values = [
            _value(chart, measure, marks.get(name))
            for chart, marks in ((self.now, self.marks_now), (self.then, self.marks_then))
        ]
        return MarkNumber(called, measure, values[0], before=values[1])

    def told(self, name: str, measure: str) -> str:
        """A mark with both its numbers: 'Brinewick (surplus −1,690, was 420)'."""
        fact, words = self.fact(name, measure), self.now.words
        form = number_format(self.now.design, self.now.context, measure)
        now, before = (
            form.write(np.nan if value is None else value) for value in (fact.value, fact.before)
        )
        if name not in self.marks_now:
            both = words.say("not there now", before=before)
        elif name not in self.marks_then:
            both = words.say("not there before", now=now)
        else:
            both = words.say("now and before", now=now, before=before)
        of = "" if measure == self.now.marks.value else f"{plain_name(measure)} "
        return f"{fact.name} ({of}{both})"


def _value(judged: JudgedChart, measure: str, mark: int | None) -> float | None:
    """The number of a mark; None where it is not there or has none."""
    if mark is None or measure not in judged.marks.columns:
        return None
    return finite(float(np.asarray(judged.marks.columns[measure], dtype=float)[mark]))
