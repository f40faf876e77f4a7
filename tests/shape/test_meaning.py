"""What a chart says is what its rows say: names, sums, gaps, titles, reasons and tables against oracles."""

from __future__ import annotations

import re
from collections.abc import Callable
from decimal import Decimal
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

import yuzen as yz
from tests.support.ferries import DEMO
from yuzen.brief.toml.document import make_brief
from yuzen.explain.rule_flags import rule_flags
from yuzen.formats.number_text import tell, tell_percents
from yuzen.rules.grammar.parser import parse
from yuzen.rules.peers.codes import Peers
from yuzen.rules.peers.summaries import total


def flagged(chart: yz.Chart, name: str = "r") -> list[bool]:
    index = [rule.name for rule in chart.stages.verdict.rules].index(name)
    return [bool(truth > 0) for truth in chart.stages.verdict.whole.truths[index]]


def known(chart: yz.Chart) -> list[bool]:
    return [bool(truth) for truth in chart.stages.verdict.whole.truths[0]]


tables = st.lists(
    st.tuples(st.integers(2020, 2024), st.sampled_from("xy"), st.integers(-50, 50)),
    min_size=1,
    max_size=30,
)


@given(tables, st.integers(2019, 2025), st.sampled_from(["category", "series", "panels", "within"]))
def test_a_number_that_tells_marks_apart_is_itself(
    rows: list[tuple[int, str, int]], year: int, place: str
) -> None:
    frame = pd.DataFrame(rows, columns=["year", "team", "v"])
    said: dict[str, Any] = {"category": "team", "value": "v"}
    if place == "category":
        said["category"] = "year"
    elif place == "within":
        frame["team"] += frame["year"].astype(str)
    else:
        said[place] = "year"
    chart = yz.chart(frame, **said).rule(f"year = {year}", name="r", color="adverse")
    if place == "within":
        chart = chart.rule("highest within year", name="w", badge="cup")
    table = chart.flags().query("target == 'mark'")
    assert table["year"].tolist() == [y for y in table["year"] if y in set(frame["year"])]
    assert (table["rule"] == "r").tolist() == (table["year"] == year).tolist()


@pytest.mark.parametrize(
    "name", ["2024", "10k", "average", "count", "a-b", "highest", "total of v", "5%"]
)
def test_an_exact_name_comes_before_what_it_could_mean(name: str) -> None:
    rows = {"item": ["a", "b"], name: [3, 1], "v": [10, 20]}
    chart = yz.chart(rows, category="item", value=name).rule(
        f"`{name}` above 2", name="r", color="adverse"
    )
    assert (chart.flags()[name].tolist(), flagged(chart)) == ([3, 1], [True, False])
    turned = yz.chart({name: ["a", "b"], "v": [1, 2]}, category=name, value="v")
    assert turned.rule(f'`{name}` = "a"', name="r", color="adverse").flags()["rule"].tolist() == [
        "",
        "r",
    ]


@pytest.mark.parametrize(
    ("name", "rule", "told"),
    [
        ("average", "v above average", True),
        ("2024", "v above 2024", True),
        ("10k", "v above 10_000", True),
        ("highest", "highest", True),
        ("2", "top 2", False),
        ("average", "v above `average`", False),
    ],
)
def test_a_word_that_is_a_name_too_is_told(name: str, rule: str, told: bool) -> None:
    rows = {"item": ["a", "b", "c"], name: [3, 1, 2], "v": [10, 20, 30]}
    chart = yz.chart(rows, category="item", value="v").rule(rule, color="adverse")
    assert any(f"`{name}`" in note for note in chart.notes()) == told
    assert ("name-or-word" in {finding.code for finding in chart.check()}) == told


def test_names_of_whole_numbers_and_clashes() -> None:
    frame = pd.DataFrame({0: ["a", "b"], 2024: [1, 2]})
    assert yz.chart(frame, category="0", value="2024").flags()["2024"].tolist() == [2, 1]
    with pytest.raises(yz.YuzenError, match="v is a column of the marks and a measure too"):
        _ = yz.chart({"v": [1, 2]}, category="v", value="v").stages.marks
    with pytest.raises(yz.YuzenError, match="V is a parameter, and v is a measure"):
        _ = yz.chart(
            {"item": ["a"], "v": [1]}, category="item", value="v", parameters={"V": 1}
        ).stages.marks
    with pytest.raises(yz.YuzenError, match="N is a parameter, and n is a parameter"):
        _ = yz.chart(
            {"item": ["a"], "v": [1]}, category="item", value="v", parameters={"n": 1, "N": 2}
        ).stages.marks


KEEPS = [
    "month last",
    "v top 3",
    "first 2",
    "v highest",
    "v falls",
    "rank of v below 3",
    "previous above 1",
]


@pytest.mark.parametrize("condition", KEEPS)
def test_what_speaks_of_marks_keeps_no_rows(condition: str) -> None:
    rows = {"item": ["a", "b"], "v": [1, 2], "month": ["2026-01", "2026-02"]}
    with pytest.raises(yz.YuzenError, match="is about marks, and keep chooses among rows") as error:
        _ = yz.chart(rows, category="item", value="v").keep(condition).stages.marks
    assert error.value.code == "keep-marks"


def test_a_subject_left_out_of_keep_is_the_charts_value() -> None:
    rows = {"item": ["a", "b", "c"], "v": [1, 5, 9], "w": [9, 9, 1]}
    assert yz.chart(rows, category="item", value="v").keep("above 4").stages.marks.names() == [
        "c",
        "b",
    ]
    assert yz.chart(rows, category="item", value="total of w").keep(
        "above 4"
    ).stages.marks.names() == [
        "a",
        "b",
    ]
    assert yz.chart(rows, category="item", value="v").keep(
        "not outlier and above average"
    ).stages.marks.names() == ["c"]
    with pytest.raises(yz.YuzenError, match="'above 4' does not say of which column"):
        _ = (
            yz.chart(rows, category="item", value="total of v / total of w")
            .keep("above 4")
            .stages.marks
        )


@pytest.mark.parametrize(
    ("rule", "values"),
    [
        ("not falls 2 times", [3.0, 4, 5, np.nan, 9]),
        ("not turns positive", [3.0, 4, 5, np.nan, 9]),
        ("not changes sign", [-3.0, -4, -5, np.nan, 9]),
    ],
)
def test_a_missing_number_is_unknown_to_every_claim_of_sequences(
    rule: str, values: list[float]
) -> None:
    rows = {"item": list("abcde"), "v": values}
    chart = yz.chart(rows, category="item", value="v", order="as given").rule(
        rule, name="r", color="adverse"
    )
    assert not known(chart)[3]


@given(st.lists(st.floats(-1e9, 1e9), min_size=1, max_size=20))
def test_a_hundred_percent_of_a_number_is_that_number(values: list[float]) -> None:
    rows = {"item": [f"m{place}" for place in range(len(values))], "v": values}
    chart = yz.chart(rows, category="item", value="v")
    for rule in ("v above 100% of v", "v below 100% of v", "v != 100% of v"):
        assert not any(flagged(chart.rule(rule, name="r", color="adverse")))


@given(
    st.lists(st.tuples(st.integers(0, 3), st.integers(-(10**7), 10**7)), min_size=1, max_size=60),
    st.integers(0, 4),
)
def test_sums_of_decimals_are_those_on_paper(rows: list[tuple[int, int]], places: int) -> None:
    values = np.array([float(Decimal(part).scaleb(-places)) for _, part in rows])
    codes = np.array([code for code, _ in rows], dtype=np.intp)
    sums = total(values, Peers(codes, 4))
    for code in range(4):
        own = [Decimal(part).scaleb(-places) for group, part in rows if group == code]
        assert (sums[code] == float(sum(own))) if own else np.isnan(sums[code])


@given(st.lists(st.floats(-1e6, 1e6).filter(lambda v: abs(v) > 1e-3), min_size=1, max_size=9))
def test_what_cancels_out_is_zero_and_has_no_shares(values: list[float]) -> None:
    both = [*values, *(-value for value in values)]
    rows = {"item": [f"m{place}" for place in range(len(both))], "v": both}
    chart = yz.chart(rows, category="item", value="v").rule(
        "share of v above 1000", color="adverse"
    )
    assert not any(known(chart))


def test_infinite_numbers_compare_and_their_differences_are_unknown() -> None:
    rows = {"item": list("abcd"), "v": [np.inf, 3.0, -np.inf, np.inf]}
    chart = yz.chart(rows, category="item", value="v", order="as given")
    assert flagged(chart.rule("v above 2", name="r", color="adverse")) == [True, True, False, True]
    assert flagged(chart.rule("highest", name="r", color="adverse")) == [True, False, False, True]
    assert known(chart.rule("share of v above 0", color="adverse")) == [False] * 4
    assert known(chart.rule("v - v above 0", color="adverse")) == [False, True, False, False]
    assert any("a, c and d have no end" in note for note in chart.notes()), chart.notes()
    lines = chart.reference("average").reference("lowest", label="low").notes()
    assert [note for note in lines if note.startswith("reference")] == [
        "reference 1: average has no number here, so no line is drawn.",
        "reference 2: lowest has no number here, so no line is drawn.",
    ]
    far = yz.chart(rows, category="item", value="v", scale={"high": 5.0}).reference("9").notes()
    assert "reference 1: 9 lies beyond the scale, so no line is drawn." in far


@given(st.lists(st.integers(-99, 99), min_size=2, max_size=9, unique=True))
def test_a_shade_of_ranks_runs_as_that_of_its_numbers(values: list[int]) -> None:
    rows = {"item": [f"m{place}" for place in range(len(values))], "v": values}
    chart = yz.chart(rows, category="item", value="v")
    colors = ["white", "black"]
    by_rank, by_value = (
        chart.rule("always", shade={"of": of, "colors": colors}).flags()["color"].tolist()
        for of in ("rank of v", "v")
    )
    assert (by_rank[0], by_rank[-1]) == (by_value[0], by_value[-1]) == ("#000000", "#FFFFFF")
    assert sorted(by_rank) == by_rank


REFUSALS: list[tuple[dict[str, Any], str]] = [
    (
        {"bands": {"of": "v", "edges": [5, 2], "names": list("xyz"), "colors": ["red"] * 3}},
        "Edges go up",
    ),
    (
        {"bands": {"of": "v", "edges": ["n", 2], "names": list("xyz"), "colors": ["red"] * 3}},
        "Edges go up",
    ),
    ({"shade": {"of": "v", "range": "80% to 20%"}}, 'write "20% to 80%"'),
    ({"shade": {"of": "v", "colors": ["red"]}}, "a shade goes from one color to another"),
    ({"when": "between 10 and 5"}, "Write between 5 and 10"),
    ({"when": "between n and 2"}, "Write between 2 and n"),
    (
        {"when": "between 110% and 90% of average"},
        "Write between 90% of average and 110% of average",
    ),
    ({"when": "rank 3 to 1"}, "Write rank 1 to 3"),
    ({"when": "top half"}, "half is 0.5, and 'top half' takes a whole number"),
    ({"when": "top v"}, "v is a column; 'top v' takes a whole number or a parameter"),
]


@pytest.mark.parametrize(("rule", "message"), REFUSALS)
def test_what_can_hold_for_nothing_is_refused(rule: dict[str, Any], message: str) -> None:
    said = {"when": "always", "color": "adverse", **rule}
    rows: dict[str, Any] = {"item": ["a"], "v": [1]}
    chart = yz.chart(rows, category="item", value="v", parameters={"n": 9, "half": 0.5})
    with pytest.raises(yz.YuzenError) as error:
        _ = chart.rule(**said).stages.verdict
    assert message in str(error.value)


def test_an_of_at_the_end_belongs_to_both_ends() -> None:
    assert (
        str(parse("between 90% and 110% of average"))
        == "between 90% of average and 110% of average"
    )
    rows = {"item": list("abc"), "v": [80.0, 100, 120]}
    chart = yz.chart(rows, category="item", value="v", order="as given")
    assert flagged(chart.rule("between 90% and 110% of average", name="r", color="adverse")) == [
        False,
        True,
        False,
    ]


@given(st.floats(-1e18, 1e18), st.sampled_from([1e-3, 1e-6, 1e-12, 3e-16, -0.5]), st.booleans())
def test_numbers_that_differ_are_told_so_that_it_is_seen(
    number: float, change: float, percent: bool
) -> None:
    other = number * (1 + change)
    assume(number != other and number * 100 != other * 100)
    first, second = (tell_percents if percent else tell)(number, other)
    read = [float(text.replace("−", "-").replace(",", "").rstrip("%")) for text in (first, second)]
    assert (read[0] < read[1]) == (number < other)
    assert ("e" in first) == ("e" in second) or {"0", "0%"} & {first, second}


lines = st.lists(
    st.tuples(
        st.sampled_from(["North", "South"]),
        st.integers(0, 7),
        st.integers(1, 90),
        st.integers(1, 90),
    ),
    min_size=1,
    max_size=40,
)


@given(lines, st.sampled_from([None, 2]), st.booleans())
def test_a_measure_in_a_text_is_pooled_over_all_rows_that_are_drawn(
    rows: list[tuple[str, int, int, int]], limit: int | None, rest: bool
) -> None:
    frame = pd.DataFrame(rows, columns=["waters", "route", "surplus", "fares"])
    frame["route"] = "r" + frame["route"].astype(str)
    text = "{margin:.6f} {surplus:.0f} {trips:.0f}"
    chart = (
        yz.chart(
            frame,
            category="route",
            value="margin",
            measures={"margin": "total of surplus / total of fares", "trips": "count of rows"},
            title=text,
            limit=limit,
            rest="Others" if limit and rest else None,
        )
        .rule("always", key=text, color="adverse")
        .reference("margin")
    )
    drawn = set(chart.stages.marks.names())
    own = frame if "Others" in drawn else frame[frame["route"].isin(drawn)]
    margin = own["surplus"].sum() / own["fares"].sum()
    expected = f"{margin:.6f} {own['surplus'].sum()} {len(own)}"
    page = chart.stages.page
    assert page.words.title == expected
    assert page.key.entries[0].text == expected
    assert page.charts[0].references.lines[0].value == pytest.approx(margin, rel=1e-12)


def test_each_panel_pools_its_own_rows_and_a_title_has_one_number() -> None:
    rows = {"item": list("aabb"), "p": list("xyxy"), "s": [1, 2, 3, 4], "f": [10, 10, 10, 20]}
    chart = yz.chart(
        rows, category="item", value="m", panels="p", measures={"m": "total of s / total of f"}
    )
    page = chart.reference("m", label="{m:.3f}").stages.page
    assert [plot.references.lines[0].text for plot in page.charts] == ["0.200", "0.200"]
    for text in ("{change of m}", "{rank of m}"):
        with pytest.raises(
            yz.YuzenError, match="differs from mark to mark, and one number is needed"
        ):
            _ = yz.chart(
                rows, category="item", value="s", title=text.replace("m}", "s}")
            ).stages.page


@given(
    st.lists(st.integers(0, 14), min_size=1, max_size=12, unique=True).map(sorted),
    st.sampled_from(["day", "week", "month", "quarter", "year"]),
    st.data(),
)
def test_steps_over_periods_that_are_not_there_are_unknown(
    steps: list[int], grain: str, data: st.DataObject
) -> None:
    code = {"day": "D", "week": "W-SUN", "month": "M", "quarter": "Q", "year": "Y"}[grain]
    periods = pd.period_range("2020-01-06", periods=15, freq=code)
    values = [data.draw(st.integers(-5, 5)) for _ in steps]
    rows = {"when": [periods[step].start_time for step in steps], "v": values}
    chart = yz.chart(rows, category="when", value="v", grain=grain, kind="column")  # type: ignore[arg-type]
    whole = pd.Series(values, index=steps).reindex(range(15))
    before = whole.shift(1)
    for rule, expected in (
        ("falls", whole < before),
        ("change of v above 0", whole > before),
        ("v above previous", whole > before),
    ):
        told = chart.rule(rule, name="r", color="adverse")
        assert flagged(told) == expected[steps].tolist()
        assert known(told) == before[steps].notna().tolist()
    axis = chart.stages.page.charts[0].axes.category
    assert axis.positions.tolist() == [step - steps[0] for step in steps]
    assert axis.extent == steps[-1] - steps[0] + 1


@pytest.mark.parametrize(
    ("first", "last", "freq", "grain", "codes"),
    [
        ("2026-01-01", "2026-03-31", "D", "month", 0),
        ("2026-01-03", "2026-03-31", "D", "month", 1),
        ("2026-01-01", "2026-03-14", "D", "month", 1),
        ("2026-01-05", "2026-02-26", "D", "week", 1),
        ("2026-01-01", "2026-01-30", "B", "month", 0),
        ("2026-01-01", "2026-05-01", "MS", "quarter", 1),
        ("2026-01-01", "2026-03-14", "D", "day", 0),
    ],
)
def test_periods_covered_in_part_are_told(
    first: str, last: str, freq: str, grain: Any, codes: int
) -> None:
    days = pd.date_range(first, last, freq=freq)
    rows = pd.DataFrame({"day": days, "v": range(1, len(days) + 1)})
    found = yz.chart(rows, category="day", value="v", grain=grain, kind="column").check()
    assert [finding.code for finding in found].count("partial-period") == codes


def test_a_total_of_some_rows_says_so() -> None:
    rows = {"item": list("aaaab"), "v": [1.0, 2, np.nan, 4, 5], "w": [1.0, 2, 3, 4, 5]}
    chart = yz.chart(rows, category="item", value="v", measures={"both": "total of v + total of w"})
    chart = chart.rule("both above 1", color="adverse")
    assert (
        "(4 rows; both = total of v + total of w; both from 3 of 4 rows; v from 3 of 4 rows)"
        in str(chart.why("a"))
    )
    messages = [f.message for f in chart.check() if f.code == "numbers-partly-missing"]
    assert messages[1] == "v is made of some rows only in 1 mark: a (3 of 4 rows)."


FORMS = ["csv", "json", "parquet", "table"]


@pytest.mark.sampled(2)
@pytest.mark.parametrize("form", FORMS)
def test_flags_come_back_as_the_rows_were_and_why_knows_their_names(
    form: str, call: Callable[..., Any], tmp_path: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    rows = pd.DataFrame(
        {
            "year": [2025, 2025, 2026],
            "month": pd.to_datetime(["2026-01-01", "2026-01-01", "2026-02-01"]),
            "late": [True, True, False],
            "cost": [0.1, 0.2, 5.5],
            "trips": [3, 4, 8],
            "holes": pd.array([3, 0, None], dtype="Int64"),
        }
    )
    rows.to_parquet("rows.parquet")
    for category in ("year", "month", "late"):
        rule = (
            '[[rule]]\nwhen="cost above 0 and trips above 0 and holes above 0"\ncolor="adverse"\n'
        )
        brief = f'[data]\nfile="rows.parquet"\n[chart]\ncategory="{category}"\nvalue="cost"\n{rule}'
        (tmp_path / "b.toml").write_text(brief)
        if form == "table":
            lines = call("flags", "b.toml").out.strip().splitlines()
            names = [line.split()[0] for line in lines[2:]]
        else:
            call("flags", "b.toml", "-o", f"out/flags.{form}")
            read: Any = {"csv": pd.read_csv, "json": pd.read_json, "parquet": pd.read_parquet}[form]
            table = (
                read(tmp_path / "out" / f"flags.{form}").sort_values("cost").reset_index(drop=True)
            )
            assert table["trips"].tolist() == [7, 8]
            assert table["trips"].dtype.kind == "i"
            if form == "parquet":
                assert table[category].dtype.kind == rows[category].dtype.kind
                assert str(table["holes"].dtype) == "Int64" or table["holes"].dtype.kind == "f"
            text = (tmp_path / "out" / f"flags.{form}").read_bytes()
            assert form == "parquet" or (
                b"1871.0," not in text and b"3.0" not in text and b"00:00:00" not in text
            )
            names = [str(name) for name in table[category].tolist()]
        for name in names:
            assert call("why", "b.toml", name).code == 0, name


def test_a_name_is_found_however_a_table_writes_it() -> None:
    chart = yz.chart({"item": ["=SUM(A1)", "b"], "v": [1, 2]}, category="item", value="v")
    assert chart.why("'=SUM(A1)").marks[0].name == "=SUM(A1)"
    numbers = yz.chart({"item": [-1234.5, 2], "v": [1, 2]}, category="item", value="v")
    for said in ("-1234.5", "−1234.5", "-1,234.5", -1234.5):
        assert numbers.why(said).marks[0].name == "−1234.5"
    with pytest.raises(yz.YuzenError, match="No item is called '3'"):
        numbers.why("3")


KINDS = ["column", "line"]  # what counts is told by how marks are drawn


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize(
    "brief", sorted(path.stem for path in (DEMO / "briefs").glob("*.toml"))[::2]
)
def test_counts_agree_in_title_footer_and_lines(
    brief: str, kind: Any, folder: Any, call: Callable[..., Any]
) -> None:
    chart = yz.load(folder / f"{brief}.toml")
    plain = chart.stages.brief.plain()
    plain["chart"]["kind"] = kind
    if chart.stages.brief.chart.series is not None:
        plain["chart"].pop("totals", None)  # which tables alone have
    for key in ("from", "to", "opening", "closing"):  # which bridges alone have
        plain["chart"].pop(key, None)
    chart = yz.Chart(chart.stages.with_brief(make_brief(plain)))
    plain["title"] = " ".join(f'{{count "{rule.name}":.0f}}' for rule in chart.stages.verdict.rules)
    chart = yz.Chart(chart.stages.with_brief(make_brief(plain)))
    stages = chart.stages
    held = [len(rule.flagged) for rule in rule_flags(stages.judged, {})]
    shown = int(stages.verdict.exceptions(stages.marks)[0].sum())
    if kind == "column":
        chart.write(folder / "other.toml")
        lines = call("draw", "other.toml").out.splitlines()[1:]
        told = [match[1] for line in lines if (match := re.search(r"([\d,]+) flagged", line))]
        assert [int(count.replace(",", "")) for count in told] == [count for count in held if count]
    page = stages.page
    of_series = [
        rule.on.part == "layer" and bool(stages.marks.series) for rule in stages.verdict.rules
    ]
    titled = [int(count) for count in page.words.title.split()]
    assert all(other or one == two for one, two, other in zip(titled, held, of_series, strict=True))
    flags = chart.flags()
    own = [rule.on for rule in stages.verdict.rules if stages.design.layer_of(rule.on) is None]
    signs = {"outline", "pattern", "badge", "weight", "label", "size"}
    visible = {
        (str(rule.on), rule.name): {
            effect for effect in rule.effects if stages.design.visible(rule.on, effect)
        }
        for i, rule in enumerate(stages.verdict.rules)
        if stages.verdict.styles.flags(i)
    }

    def is_flagged(row: Any) -> bool:
        """Whether a rule colours a mark, or one that lost its colour gives it another sign."""
        won = visible.get((row["target"], row["rule"]), set())
        lost = (visible.get((row["target"], name), set()) for name in row["also"].split("; "))
        return bool(won & {"color", *signs}) or any(effects & signs for effects in lost)

    seen = flags[flags["target"].isin(map(str, own)) & flags.apply(is_flagged, axis=1)]
    names = [
        name for name in (stages.marks.category, *stages.marks.series, stages.marks.panel) if name
    ]
    if said := re.search(r"([\d,]+) of ([\d,]+) flagged", page.words.footer):
        assert int(said[1].replace(",", "")) == shown == len(seen.drop_duplicates(names))
    else:
        assert not shown


@pytest.mark.parametrize("place", ["frame", "parquet"])
def test_a_ratio_of_unlike_rows_is_told(place: str, tmp_path: Path) -> None:
    rows: Any = pd.DataFrame(
        {"k": list("aabb"), "sales": [10, np.nan, 20, 30], "customers": [2.0, 3, np.nan, np.nan]}
    )
    if place == "parquet":
        rows.to_parquet(tmp_path / "rows.parquet")
        rows = tmp_path / "rows.parquet"
    chart = yz.chart(rows, category="k", value="m", order="by name")
    chart = chart.measure(m="total of sales / total of customers", n="total of sales")
    notes = [note for note in chart.stages.notes if "unlike rows" in note]
    assert len(notes) == 1
    assert "m of a is made of unlike rows: sales of 1 of 2 rows and customers of 2 of 2" in notes[0]
    assert "and so are 1 more" in notes[0]
    codes = [finding.code for finding in chart.check()]
    assert "parts-unlike" in codes
    assert not any("m is made of some rows only" in finding.message for finding in chart.check())
