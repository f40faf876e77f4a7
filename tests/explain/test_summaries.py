"""Sentences of what stands out: every number in them is read back and held against other sources."""

import json
import re
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from tools.legibility.charts import chart_of

import yuzen as yz
from tests.support.command_line import Called
from tests.support.ferries import CHARTS, DEMO
from tests.support.sampling import THOROUGH, seeds
from tests.support.written_numbers import number_of
from yuzen.errors import YuzenError
from yuzen.explain.sentences import MAX_NAMED_MARKS, MarkNumber, Sentence
from yuzen.formats.words import words_of
from yuzen.rules.grammar.parser import parse_quantity

NUMBERS_OF_MARKS = r" \((?:[^()]|\([^()]*\))*\)"


def flags_of(chart: yz.Chart, sentence: Sentence) -> pd.DataFrame:
    """The rows of the flags for which a sentence's rule holds."""
    rule = next(r for r in chart.stages.verdict.rules if r.name == sentence.rule)
    table = chart.flags()
    table = table[table["target"] == str(rule.on)]
    also = table["also"].str.split("; ").apply(lambda names: rule.name in names)
    return table[(table["rule"] == rule.name) | also]


def named_in(sentence: Sentence) -> list[tuple[MarkNumber, str]]:
    """The marks that a sentence names with a number, and what stands in the brackets."""
    named = []
    for fact in sentence.marks[: MAX_NAMED_MARKS + 1]:
        found = re.search(rf"(?:^|[ ]){re.escape(fact.name)}({NUMBERS_OF_MARKS})", sentence.text)
        if found is not None:
            named.append((fact, found[1][2:-1]))
    return named


def place_of(chart: yz.Chart, name: str) -> int:
    return chart.stages.judged.called.index(name)


def true_value(chart: yz.Chart, fact: MarkNumber) -> float:
    """A mark's number from the chart's marks, or of what a quantity of the language gives."""
    marks, place = chart.stages.marks, place_of(chart, fact.name)
    if fact.measure in marks.columns:
        return float(np.asarray(marks.columns[fact.measure], dtype=float)[place])
    quantity, scope = parse_quantity(fact.measure), chart.stages.context.scope("items")
    values = np.broadcast_to(quantity.values(scope.data.view(quantity)), (len(scope.indices),))
    return float(values[scope.indices.tolist().index(place)])


def read_number(text: str, true: float | None) -> None:
    """Hold a written number against the true one."""
    if true is None or np.isnan(true):
        assert "–" in text, text
        return
    value, near = number_of(text)
    assert abs(value - true) <= near, (text, true)


def read_rule(chart: yz.Chart, sentence: Sentence) -> int:
    """Hold the sentence of a rule against the flags; how many numbers were read."""
    held = flags_of(chart, sentence)
    count = re.search(r": ([\d,]+|none) of ([\d,]+)[.,]", sentence.text)
    assert count is not None, sentence.text
    told = 0 if count[1] == "none" else int(count[1].replace(",", ""))
    assert told == sentence.count == len(held) == len(sentence.marks)
    reached = chart.flags()
    on = next(str(r.on) for r in chart.stages.verdict.rules if r.name == sentence.rule)
    assert told <= int(count[2].replace(",", "")) <= int((reached["target"] == on).sum())
    numbers = 2
    named = named_in(sentence)
    assert (
        len(named) == min(told, MAX_NAMED_MARKS + 1)
        or f"and {told - MAX_NAMED_MARKS} more" in sentence.text
    )
    rule = next(r for r in chart.stages.verdict.rules if r.name == sentence.rule)
    for fact, text in named:
        number, _, compared = text.partition(": ")
        parts = chart.stages.context.part_values(rule)[place_of(chart, fact.name)]
        true = (
            parts
            if rule.part is not None and fact.measure == chart.stages.marks.value
            else true_value(chart, fact)
        )
        plain = fact.measure.replace("_", " ").strip("`")
        read_number(number.removeprefix(f"{plain} "), float(true))
        numbers += 1
        if compared:
            numbers += read_distance(chart, fact, compared, float(true))
    if sentence.share is not None:
        share = re.search(r"; (\S+?)\s?% of ", sentence.text)
        assert share is not None
        flags = chart.flags()
        marks = flags[flags["target"] == "mark"]
        whole = pd.to_numeric(marks[chart.stages.marks.value])[~chart.stages.marks.sums]
        part = np.nansum(
            chart.stages.context.part_values(rule)[
                [place_of(chart, f.name) for f in sentence.marks]
            ]
        )
        read_number(f"{share[1]}%", float(part / whole.sum()))
        numbers += 1
    return numbers


def read_distance(chart: yz.Chart, fact: MarkNumber, compared: str, true: float) -> int:
    """Hold a distance against the facts, and what it is from against pandas where it is plain."""
    found = re.fullmatch(r"(.+?)(?: points?)? (above|below) (.+)", compared)
    if found is None:
        assert compared.startswith("equal to ")
        assert fact.distance == 0
        return 0
    text, way, benchmark = found.groups()
    points = " point" in compared
    assert fact.distance is not None
    assert (fact.distance > 0) == (way == "above")
    read_number(text, abs(fact.distance) * (100 if points else 1))
    other = benchmark_value(chart, fact, benchmark)
    if other is not None:
        assert true - other == pytest.approx(fact.distance, rel=1e-6, abs=1e-9), compared
    return 1


def benchmark_value(chart: yz.Chart, fact: MarkNumber, benchmark: str) -> float | None:
    """What a number is compared with, from the marks by pandas; None for what is not plain."""
    marks, place = chart.stages.marks, place_of(chart, fact.name)
    if fact.measure not in marks.columns:
        return None
    numbers = pd.Series(np.asarray(marks.columns[fact.measure], dtype=float))[~marks.totals]
    share, _, of = benchmark.rpartition("% of ")
    factor = float(share.replace("−", "-")) / 100 if share else 1.0
    of, _, peers = of.partition(" of its ")
    if peers in marks.columns:
        keys = pd.Series(np.array([str(v) for v in _shown(marks.columns[peers])]))[~marks.totals]
        numbers = numbers[keys == keys[place]]
    elif peers:
        return None
    if marks.peer_columns:
        return None
    summaries: dict[str, Any] = {
        "the average": numbers.mean,
        "the median": numbers.median,
        "the total": numbers.sum,
    }
    if of in summaries:
        return factor * float(summaries[of]())
    column = next((name for name in marks.columns if name.replace("_", " ") == of), None)
    if column is not None:
        return factor * float(np.asarray(marks.columns[column], dtype=float)[place])
    return None


def _shown(column: Any) -> list[object]:
    return list(column.values()) if hasattr(column, "values") else column.tolist()


def read_extremes(chart: yz.Chart, sentence: Sentence) -> int:
    """Hold the sentence of extremes against pandas."""
    marks = chart.stages.marks
    values = pd.Series(np.asarray(marks.columns[marks.value], dtype=float))
    items = values[~marks.totals & np.isfinite(values)]
    assert sentence.count == len(items)
    called = chart.stages.judged.called
    if items.min() == items.max():
        assert len(sentence.marks) == len(items)
        return 1
    for word, end in (("highest", items.max()), ("lowest", items.min())):
        those = {called[place] for place in items.index[items == end]}
        assert those <= {fact.name for fact in sentence.marks}
        found = re.search(rf"{word} (.*?) ?\(([^()]*)( each)?\)[,.]", sentence.text)
        if found is not None:
            read_number(found[2], float(end))
    return 2


def read_back(chart: yz.Chart) -> int:
    """Read every sentence of a chart; how many numbers were held against something."""
    numbers = 0
    for sentence in chart.summary():
        stages = chart.stages
        if any(
            sentence.rule == r.name for t in stages.judged_trends.values() for r in t.verdict.rules
        ):
            continue  # points of small lines have flags of their own columns
        assert sentence.text.endswith(".")
        assert "{" not in sentence.text
        if sentence.about == "rule":
            numbers += read_rule(chart, sentence)
        elif sentence.about == "extremes":
            numbers += read_extremes(chart, sentence)
        elif sentence.about == "unknown":
            table = chart.flags()
            unknown = table["unknown"].str.split("; ").apply(lambda names: sentence.rule in names)  # noqa: B023
            assert sentence.count == int(unknown.sum())
            numbers += 1
    return numbers


@pytest.mark.parametrize("name", CHARTS)
def test_every_number_of_a_demo_summary_is_true(name: str) -> None:
    assert read_back(CHARTS[name]) > 0


def test_every_number_of_random_summaries_is_true() -> None:
    read = 0
    for seed in seeds(60_000, 60_300):
        try:
            read += read_back(chart_of(seed))
        except YuzenError:
            continue
    assert read > (1_000 if THOROUGH else 300)


MAY = DEMO / "data" / "routes.csv"


@pytest.mark.parametrize(
    "name",
    ["complaints", "fares", "every_route", "within_waters", "year_before", "from_year_to_year"],
)
def test_changes_are_those_of_compare_with_both_numbers(name: str) -> None:
    rows = pd.read_csv(MAY)
    new, old = CHARTS[name].with_rows(rows), CHARTS[name].with_rows(rows[rows["month"] < "2026-06"])
    changes = yz.compare(old, new).changes
    told = {(s.about, s.rule): s for s in new.summary(since=rows[rows["month"] < "2026-06"])}
    was = dict(zip(old.stages.marks.names(), range(len(old.stages.marks)), strict=True))
    now = dict(zip(new.stages.marks.names(), range(len(new.stages.marks)), strict=True))
    expected = 0
    for rule in new.stages.verdict.rules:
        for about, changed in (
            ("new", [c for c in changes if c.after == rule.name and c.target == str(rule.on)]),
            (
                "no longer",
                [c for c in changes if c.before == rule.name and c.target == str(rule.on)],
            ),
        ):
            if not changed:
                assert (about, rule.name) not in told
                continue
            expected += 1
            sentence = told[about, rule.name]  # type: ignore[index]
            assert sentence.count == len(changed)
            for fact in sentence.marks:
                (name_of,) = [c.mark for c in changed if _called(old, new, c.mark) == fact.name]
                for chart, places, value in ((new, now, fact.value), (old, was, fact.before)):
                    column = np.asarray(chart.stages.marks.columns[fact.measure], dtype=float)
                    true = column[places[name_of]] if name_of in places else None
                    assert value == (None if true is None else pytest.approx(true))
    assert expected
    text = " ".join(s.text for s in told.values())
    assert "since May 2026" in text or "since May" in text


def _called(old: yz.Chart, new: yz.Chart, name: str) -> str:
    for chart in (new, old):
        if name in chart.stages.marks.names():
            return chart.stages.judged.called[chart.stages.marks.names().index(name)]
    raise AssertionError(name)


def losses(values: dict[str, float | None], **rule: Any) -> yz.Chart:
    rows = {"pier": list(values), "surplus": list(values.values())}
    return yz.chart(rows, category="pier", value="surplus").rule(
        "negative", name="loss", color="adverse", **rule
    )


@pytest.mark.parametrize(
    ("values", "text"),
    [
        ({"A": 1, "B": 2}, "Loss: none of 2."),
        ({"A": -1, "B": 2}, "Loss: 1 of 2, A (−1)."),
        ({"A": -1, "B": -2}, "Loss: 2 of 2, B (−2) and A (−1)."),
        (
            {c: -i - 1 for i, c in enumerate("ABCDEF")},
            "Loss: 6 of 6, F (−6), E (−5), D (−4) and 3 more.",
        ),
        (dict.fromkeys("ABCD", -1), "Loss: 4 of 4, A (−1), B (−1), C (−1) and D (−1)."),
        ({"A": -1, "B": None}, "Loss: 1 of 2, A (−1)."),
    ],
)
def test_grammar_for_none_one_two_and_many(values: dict[str, float | None], text: str) -> None:
    assert losses(values).summary().sentences[0 if "none" not in text else -1].text == text


def test_adverse_comes_first_and_none_last() -> None:
    chart = (
        yz.chart({"pier": list("ABC"), "surplus": [5, -2, 7]}, category="pier", value="surplus")
        .rule("highest", name="best", color="favorable")
        .rule("above 100", name="huge", color="adverse")
        .rule("positive", name="look", color="notice")
        .rule("negative", name="loss", color="adverse")
    )
    assert [s.rule for s in chart.summary()] == ["loss", "look", "best", "", "huge"]


def test_distances_say_what_they_are_from() -> None:
    rows = {
        "pier": list("ABCD"),
        "on_time": [0.8, 0.9, 0.915, 0.97],
        "target": [0.9] * 4,
        "sound": list("xxyy"),
    }
    chart = yz.chart(rows, category="pier", value="on_time", formats={"on_time": "{.0%}"})
    texts = {
        "below target": "A (80%: 10 points below target)",
        "above 90%": "D (97%: 7 points above 90%)",
        "below average within sound": "A (80%: 5 points below the average of its sound)",
        "at least 110% of average within sound": None,
        "above median": "D (97%: 6 points above the median)",
        "within 2% of target": "C (92%: 2 points above target) and B (90%: equal to target)",
    }
    for condition, text in texts.items():
        told = chart.rule(condition, color="adverse").summary().sentences
        line = next(s.text for s in told if s.about == "rule")
        assert (text or "none of 4") in line, line
    with_limit = chart.rule("below limit", color="adverse").given(limit=0.85).summary()
    assert "A (80%: 5 points below 85%)" in str(with_limit)


def test_ties_unknown_and_equal_marks_are_told() -> None:
    tied = yz.chart(
        {"pier": list("ABCD"), "boats": [9, 5, 5, 1]}, category="pier", value="boats"
    ).rule("top 2", color="adverse")
    assert "Top 2: B and C have equal numbers at the cut." in str(tied.summary())
    none = tied.rule("rank 3", color="notice")
    assert "so that none has the place" in str(none.summary())
    equal = yz.chart({"pier": list("ABC"), "boats": [4, 4, 4]}, category="pier", value="boats")
    assert str(equal.summary()) == "Boats: all 3 are 4."
    steps = yz.chart(
        {"month": ["2026-01", "2026-02"], "boats": [4, 3]}, category="month", value="boats"
    ).rule("falls", color="adverse")
    assert "Falls: 1 could not be judged, January 2026." in str(steps.summary())


def test_shares_are_of_what_adds_up_alone() -> None:
    rows = {"pier": list("ABC"), "fares": [60, 30, 10], "cost": [1, 2, 3]}
    chart = yz.chart(rows, category="pier", value="fares").rule("highest", color="adverse")
    assert "60.0% of fares" in str(chart.summary()) or "60% of fares" in str(chart.summary())
    ratio = yz.chart(
        rows, category="pier", value="m", measures={"m": "total of fares / total of cost"}
    )
    assert " of m" not in str(ratio.rule("highest", color="adverse").summary()).split("Highest:")[
        1
    ].splitlines()[0].replace("of 3", "")
    signs = losses({"A": -5, "B": 9})
    assert "%" not in str(signs.summary())


@pytest.mark.parametrize("language", ["de", "fr", "es", "it", "nl", "pl"])
def test_other_languages_have_every_sentence(language: str) -> None:
    english, other = words_of("en").texts, words_of(language).texts
    for key in english:
        if key.startswith(("tell ", "benchmark ", "above b", "below b", "unit ")) or key == "tell":
            assert set(re.findall(r"\{\w+\}", english[key])) >= set(
                re.findall(r"\{\w+\}", other[key])
            ), key
    same = [
        k for k in english if k.startswith("tell ") and english[k] == other[k] and k != "tell share"
    ]
    assert not same
    chart = CHARTS["complaints"]
    told = chart._with(brief=chart.stages.brief.model_copy(update={"locale": language})).summary()
    assert "of 20" not in str(told)


def test_the_command_tells_since_a_file_a_folder_or_a_picture(folder: Path, call: Any) -> None:
    rows = pd.read_csv(folder / "routes.csv")
    Path("may").mkdir()
    rows[rows["month"] < "2026-06"].to_csv("may/routes.csv", index=False)
    from_folder: Called = call("tell", "complaints.toml", "--since", "may")
    assert "no longer since May 2026: Ullerwater (4.988, was 5.118)" in from_folder.out
    assert call("tell", "complaints.toml", "--since", "may/routes.csv").out == from_folder.out
    call("draw", "complaints.toml", "--data", "may/routes.csv", "-o", "may.png")
    by_picture = call("tell", "complaints.toml", "--since", "may.png").out
    assert "Ullerwater (4.988, was 5.118)" in by_picture
    data = json.loads(call("tell", "complaints.toml", "--since", "may", "--json").out)
    assert [s["text"] for s in data["sentences"]] == from_folder.out.splitlines()
    missing = call("tell", "waves.toml", "--since", "may")
    assert missing.code == 2
    assert "has no waves.csv" in missing.err
