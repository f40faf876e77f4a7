"""What comes from outside and is not as it should be: tables, objects, numbers, letters, records. All is told."""

from __future__ import annotations

import datetime as dt
import io
import warnings
from collections.abc import Callable
from decimal import Decimal
from pathlib import Path
from random import Random
from typing import Any
from xml.dom import minidom

import numpy as np
import pandas as pd
import pyarrow as pa
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import yuzen as yz
from tests.support.hostile import KINDS, Odd, lay_out, outcome, tampered
from tests.support.sampling import examples
from yuzen.charts.comparison import compare
from yuzen.rules.marks import ITEM_MARK

FRAME = pd.DataFrame({"s": ["Ash", "Elm"], "v": [1, 2]})


class Grid:
    """Values with names for their axes, as some libraries have them."""

    dims = ("x", "y")

    def to_dataframe(self) -> pd.DataFrame:
        return FRAME


class Column:
    def to_pandas(self) -> Any:
        return FRAME["v"]


class Broken:
    def to_pandas(self) -> Any:
        raise RuntimeError("out of order")


TABLES: list[tuple[str, Any, str]] = [
    ("lists", {"s": [[1], [2]], "v": [1, 2]}, "s holds lists."),
    ("objects", [{"s": {"a": 1}, "v": 1}, {"s": {"a": 2}, "v": 1}], "s holds objects with keys of their own."),
    ("sets", {"s": [{1}, {2}], "v": [1, 2]}, "s holds sets."),
    ("tables", {"s": [FRAME, FRAME], "v": [1, 2]}, "s holds cells of the type DataFrame."),
    ("lists of Arrow", pa.table({"s": [[1], [2]], "v": [1, 2]}), "s holds lists."),
    ("structs of Arrow", pa.table({"s": [{"a": 1}, {"a": 2}], "v": [1, 2]}), "s holds objects with keys"),
    ("maps of Arrow", pa.table({"s": pa.array([[("a", 1)], []], pa.map_("string", "int64")), "v": [1, 2]}), "s holds lists."),
    ("bytes that are no text", {"s": [b"\xff", b"a"], "v": [1, 2]}, "s holds bytes that are no text in UTF-8."),
    ("complex numbers", {"s": ["a", "b"], "v": [1j, 2]}, "v holds c"),
    ("complex arrays", {"s": ["a", "b"], "v": np.array([1j, 2])}, "v holds complex numbers."),
    ("somebody's objects", {"s": [Odd(), Odd()], "v": [1, 2]}, "s holds what I cannot read (no hash)."),
    ("objects among numbers", {"s": ["a", "b"], "v": [Odd(), 2]}, "v holds what I cannot read"),
    ("halves of letters", {"s": pd.Series(["\ud800", "b"], dtype=object), "v": [1, 2]}, "halves of letters"),
    ("a series", FRAME["v"], "Give series.reset_index()."),
    ("a grid", Grid(), "to_dataframe().reset_index()"),
    ("an object that gives a column", Column(), "A Column gives no table of rows but a series"),
    ("an object that fails", Broken(), "A Broken makes no table: out of order."),
    ("a number", 3, "An int is no table. Give a DataFrame, an Arrow table, columns by name"),
    ("cells", {"s": "Ash", "v": 1}, "The column s is one cell, and a column is a list of them."),
    ("columns of several lengths", {"s": ["Ash"], "v": [1, 2]}, "The column s has 1 cells, and v has 2."),
    ("levels of columns", FRAME.pivot(columns="s", values=["v"]), "names of several levels"),
    ("too many columns", pd.DataFrame(np.zeros((1, 20_001))), "There are 20,001 columns, and I read 20,000"),
]  # fmt: skip


@pytest.mark.parametrize(("rows", "message"), [t[1:] for t in TABLES], ids=[t[0] for t in TABLES])
def test_tables_that_are_none_are_told(rows: Any, message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        yz.chart(rows, category="s", value="v").image()
    assert message in str(error.value)
    assert (error.value.code[:5], error.value.exit_code) == ("data-", 3)


@pytest.mark.parametrize(
    ("cells", "names"),
    [
        ([b"Ash", b"Elm"], ["Ash", "Elm"]),
        (pa.array([dt.date(2024, 1, 1), dt.date(2024, 2, 1)]), ["2024-01", "2024-02"]),
        ([Decimal("sNaN"), Decimal("2.5")], ["(no name)", "2.5"]),
        ([10**30, 3], ["1000000000000000000000000000000", "3"]),
        ([dt.date(1, 1, 1), dt.date(9999, 12, 31)], ["0001-01-01", "9999-12-31"]),
        ([1, "one"], ["1", "one"]),
    ],
)
def test_cells_that_can_be_read_are(cells: Any, names: list[str]) -> None:
    rows = (
        pa.table({"s": cells, "v": [1, 2]})
        if isinstance(cells, pa.Array)
        else {"s": cells, "v": [1, 2]}
    )
    chart = yz.chart(rows, category="s", value="v", order="as given")
    assert chart.stages.marks.names() == names
    assert chart.image("svg")
    assert len(chart.flags()) == 2


def test_numbers_beyond_floats_have_no_end_and_those_that_signal_are_missing() -> None:
    rows = {"s": list("abc"), "v": [10**400, Decimal("sNaN"), 2]}
    chart = yz.chart(rows, category="s", value="v", order="as given")
    np.testing.assert_array_equal(chart.stages.marks.columns["v"], [np.inf, np.nan, 2])
    assert chart.image()


LARGE = [[1e308, -1e308, 5], [1.7e308] * 3, [1e308, 1e308, 1]]


@pytest.mark.parametrize("kind", ["bar", "column", "line", "area"])
def test_numbers_that_no_scale_can_hold_are_refused_and_all_others_drawn(kind: Any) -> None:
    def drawn(values: list[float]) -> yz.Chart:
        rows = {"s": list("abc"), "v": values}
        chart = yz.chart(rows, category="s", value="v", kind=kind).rule(
            "above average", color="adverse"
        )
        return chart.reference("median", label="{median:,.1fM}")

    for values, size in [*((v, f"{max(v):.3g}") for v in LARGE), ([1e-320, 2e-320, 0], "2e-320")]:
        with pytest.raises(
            yz.YuzenError, match=rf"v reaches {size.replace('+', '.')} in size"
        ) as error:
            drawn(values).image()
        assert error.value.code == "data-range"
        assert len(drawn(values).flags()) == 3
    inf = float("inf")
    for values in (
        [1e149, -1e149, 1],
        [1e-149, 2e-149, 0],
        [5e-324, 1, 2],
        [inf, -inf, 1],
        [1e308, inf, inf],
    ):
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            chart = drawn(values)
            if values[0] != 1e308:
                assert chart.image()
                chart.check()
            str(chart.why())


@pytest.mark.parametrize("kind", ["bar", "line"])
@pytest.mark.parametrize("category", ["d", "n", "s"])
@pytest.mark.parametrize(
    "further", [{}, {"order": "largest first"}, {"series": "w"}, {"panels": "w"}]
)
def test_the_rest_of_dates_and_numbers_is_gathered(
    kind: Any, category: str, further: dict[str, str], tmp_path: Path
) -> None:
    rows = pd.DataFrame(
        {"d": pd.date_range("2024-01-01", periods=12, freq="MS"), "n": range(2013, 2025), "s": list("abcdefghijkl"),
         "v": [5, 3, 9, 1, 12, 7, 2, 8, 11, 4, 10, 6], "w": ["x", "y"] * 6}
    )  # fmt: skip
    chart = yz.chart(
        rows,
        category=category,
        value="v",
        kind=kind,
        limit=4,
        rest="Others",
        **further,  # type: ignore[arg-type]
    )
    chart = chart.rule("rises", color="adverse").rule("top 2", badge="up")
    names = chart.stages.marks.category_names()
    roles = np.asarray(chart.stages.marks.role)
    items = [name for name, role in zip(names, roles, strict=True) if role == ITEM_MARK]
    assert {name for name, stood in zip(names, roles, strict=True) if stood != ITEM_MARK} == {
        "Others"
    }
    own = rows.assign(
        c=rows["d"].dt.strftime("%Y-%m") if category == "d" else rows[category].astype(str)
    )
    groups = own.groupby("w") if "panels" in further else [("", own)]
    by_size = "order" in further or category == "s"
    kept = [g.sort_values("v", ascending=False, kind="stable") if by_size else g for _, g in groups]
    # In time a limit keeps the latest.
    latest = category == "d" and not by_size
    assert items == [
        name for group in kept for name in (group["c"].tail(4) if latest else group["c"].head(4))
    ]
    gathered = np.sum(np.asarray(chart.stages.marks.columns["v"])[roles != ITEM_MARK])
    assert gathered == rows["v"].sum() - own[own["c"].isin(items)]["v"].sum()
    table = chart.flags()
    assert set(table[table["rule"] != ""][category]) <= set(items)
    chart.save(tmp_path / "rest.svg")
    assert "Others" in (tmp_path / "rest.svg").read_text()
    again = yz.load_picture(tmp_path / "rest.svg")
    pd.testing.assert_frame_equal(again.flags(), table)
    assert str(again.why("Others")) == str(chart.why("Others"))


def test_months_beyond_a_limit_leave_gaps_in_their_sequence() -> None:
    rows = {"d": pd.date_range("2024-01-01", periods=6, freq="MS"), "v": [1, 9, 2, 8, 9, 3]}
    chart = yz.chart(
        rows, category="d", value="v", grain="month", order="largest first", limit=3, rest="Others"
    )
    chart = chart.rule("rises", color="adverse")
    assert chart.stages.marks.names() == ["2024-02", "2024-05", "2024-04", "Others"]
    assert chart.flags()["rule"].tolist() == [
        "",
        "rises",
        "",
        "",
    ]  # 9 after 8; nothing is known of 8 after 2


CALLS: list[tuple[Callable[[Any, Any], Any], str]] = [
    (lambda c, y: y.measure("v") > 10**400, "rule-number"),
    (lambda c, y: y.measure("v") > Decimal("sNaN"), "rule-number"),
    (lambda c, y: y.measure("v") > None, "rule-python"),
    (lambda c, y: y.measure("v") + [1], "rule-python"),
    (lambda c, y: y.measure("v") > (y.measure("v") > 3), "rule-python"),
    (lambda c, y: y.measure("s").before(object()), "rule-python"),
    (lambda c, y: y.measure("s").one_of(["a", "b"]), "rule-python"),
    (lambda c, y: y.measure("s").turns("x"), "rule-syntax"),
    (lambda c, y: y.measure(None), "rule-python"),
    (lambda c, y: y.percent("x"), "rule-python"),
    (lambda c, y: y.top(None), "rule-count"),
    (lambda c, y: y.top(float("inf")), "rule-count"),
    (lambda c, y: y.top(float("nan")), "rule-count"),
    (lambda c, y: y.top(3, within=3), "rule-python"),
    (lambda c, y: y.top(3) & "top 3", "rule-python"),
    (lambda c, y: c.image("jpg"), "call-format"),
    (lambda c, y: c.image(None), "call-format"),
    (lambda c, y: c.save(None), "call-path"),
    (lambda c, y: c.save("a\0.png"), "call-path"),
    (lambda c, y: c.save("ä" * 200 + ".png"), "call-path"),
    (lambda c, y: c.save(""), "call-path"),
    (lambda c, y: c.save(io.StringIO()), "call-path"),
    (lambda c, y: y.load(None), "call-path"),
    (lambda c, y: y.load("a\0.toml"), "call-path"),
    (lambda c, y: y.load_picture(b"p.png"), "call-path"),
    (lambda c, y: c.rule(None, color="adverse"), "brief-value"),
    (lambda c, y: c.rule(Odd(), color="adverse"), "brief-value"),
    (lambda c, y: c.reference(object()), "brief-value"),
    (lambda c, y: c.measure(m=None), "brief-value"),
    (lambda c, y: c.keep(3), "brief-value"),
    (lambda c, y: c.themed(3), "brief-value"),
    (lambda c, y: c.each(3), "brief-column"),
    (lambda c, y: c.why(2024), "call-item"),
    (lambda c, y: y.chart(FRAME, category="s", value="v", title="\ud800"), "brief-value"),
]


@pytest.mark.parametrize(("wrong", "code"), CALLS)
def test_calls_with_other_things_are_told(wrong: Callable[[Any, Any], Any], code: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        wrong(yz.chart(FRAME, category="s", value="v"), yz)
    assert error.value.code == code
    assert "object at 0x" not in str(error.value)


def test_years_days_and_numbers_may_be_pythons_own() -> None:
    rows = {"d": pd.date_range("2023-06-01", periods=12, freq="MS"), "v": range(12)}
    chart = yz.chart(rows, category="d", value="v", order="in time")
    day = yz.measure("d")
    made: list[tuple[Any, str]] = [
        (day.before(2024), 'd before "2024"'),
        (day.after(dt.date(2024, 2, 1)), 'd after "2024-02-01"'),
        (day == pd.Timestamp("2024-03-01"), 'd = "2024-03-01"'),
        (yz.measure("v") > np.float32(2.5), "v above 2.5"),
        (yz.measure("v").above(2), "v above 2"),
    ]
    for condition, text in made:
        assert str(condition) == text
        assert (
            chart.rule(condition, color="adverse")
            .flags()
            .equals(chart.rule(text, color="adverse").flags())
        )
    assert chart.reference(3).brief() == chart.reference("3").brief()
    assert chart.reference(-2.5).stages.page.charts[0].references.lines[0].value == -2.5


def test_pictures_are_saved_into_open_files(tmp_path: Path) -> None:
    chart = yz.chart(FRAME, category="s", value="v").rule("highest", color="adverse")
    for said, start in ((None, b"\x89PNG"), ("svg", b"<?xml"), (".PDF", b"%PDF")):
        buffer = io.BytesIO()
        assert chart.save(buffer, said) is buffer
        assert buffer.getvalue().startswith(start)
    with (tmp_path / "own.svg").open("wb") as file:
        chart.save(file)
    pd.testing.assert_frame_equal(yz.load_picture(tmp_path / "own.svg").flags(), chart.flags())
    closed = io.BytesIO()
    closed.close()
    with pytest.raises(
        yz.YuzenError, match="I cannot write into this file: I/O operation on closed file"
    ):
        chart.save(closed)


@pytest.mark.parametrize("kind", ["bar", "column", "line", "area"])
def test_letters_that_no_picture_can_hold_are_replaced(kind: Any) -> None:
    names = [
        "a\x00",
        "b\x1b[31m",
        "c\uffff",
        "d\x85",
        "e\u202e",
        "f\tg",
        "<h>&\"'",
        "i\U0001ffff",
        "naïve\u200d",
    ]
    rows = {"s": names, "v": range(len(names)), "w": ["x\x01", "y\x02", "z\x0b"] * 3}
    chart = yz.chart(
        rows,
        category="s",
        value="v",
        kind=kind,
        title="t\x03 {total}",
        subtitle="s\x04",
        footer="f\x05",
    )
    chart = chart.rule("top 3", color="adverse", key="k\x06", label="l\x07 {v}").reference(
        "average", label="r\x08"
    )
    layered = {
        "layer": [
            {"name": "x\x0e", "value": "v"},
            {"name": 'y\x0f"<', "value": "total of v * 2", "axis": "own"},
        ]
    }
    others = [
        yz.chart(rows, category="s", value="v", kind=kind, **k)
        for k in ({"series": "w"}, {"panels": "w"}, layered)
    ]
    for made in (chart, *others):
        text = made.image("svg").decode()
        minidom.parseString(text)
        assert not set(text) & {
            chr(code) for code in (*range(9), *range(14, 32), 0x7F, 0x85, 0xFFFF)
        }
        assert made.image("pdf")
    assert "�" in chart.image("svg").decode()


def test_a_record_with_one_wrong_field_is_damaged_or_as_good_as_before(
    tmp_path: Path, folder: Path
) -> None:
    charts = [yz.load(folder / f"{name}.toml") for name in ("busiest", "every_route", "plan")]
    path, told, fine = tmp_path / "x.png", set(), 0
    for seed in range(150):
        path.write_bytes(b"x " + tampered(charts[seed % 3].stages.record.packed(), Random(seed)))
        try:
            chart = yz.load_picture(path)
        except yz.YuzenError as error:
            told.add((error.code, error.faults[0].message))
        else:
            fine += 1
            assert len(chart.flags()) >= len(chart.stages.marks)
            assert str(chart.why())
    damaged = "The record in this picture is damaged. Draw the picture again from its brief."
    assert told == {("data-picture", damaged)}
    assert fine > 5


def test_a_thousand_changes_are_counted_and_pictured() -> None:
    rng = np.random.default_rng(7)
    old, new = (
        {"s": [f"name {i}" for i in range(2_000)], "v": rng.integers(-50, 50, 2_000)}
        for _ in range(2)
    )
    charts = [yz.chart(rows, category="s", value="v", kind="line").rule("negative", color="adverse", name="changed")
              for rows in (old, new)]  # fmt: skip
    found = compare(*charts)
    before, after = (np.asarray(rows["v"]) < 0 for rows in (old, new))
    assert len(found.changes) == np.count_nonzero(before != after) > 900
    lost = np.count_nonzero(before & ~after)
    assert f"Lost its flag: {lost:,}" in str(found)
    assert f"and {lost - 50:,} more, which --json includes" in str(found)
    pictured = found.pictured("May")
    assert np.count_nonzero(pictured.stages.verdict.whole.won(0)) == len(found.changes)
    assert pictured.stages.design.rules[0].section.called == "changed 2"
    assert len(pictured.with_rows(new).keep("v positive").stages.marks) == np.count_nonzero(
        np.asarray(new["v"]) > 0
    )


@pytest.fixture(scope="module")
def hostile_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return lay_out(tmp_path_factory.mktemp("hostile"))


@settings(max_examples=examples(200))
@given(kind=st.sampled_from(sorted(KINDS)), seed=st.integers(0, 2**32))
def test_hostile_input_never_ends_in_a_defect(hostile_folder: Path, kind: Any, seed: int) -> None:
    found = outcome(kind, seed, hostile_folder)
    assert not found.is_defect, found


def test_the_rest_of_stacked_dates_is_one_stack_with_its_sum() -> None:
    dates = [*pd.date_range("2024-01-01", periods=5, freq="MS"), pd.NaT]
    rows = pd.DataFrame({"d": dates * 2, "v": range(1, 13), "w": ["x"] * 6 + ["y"] * 6})
    chart = yz.chart(
        rows,
        category="d",
        value="v",
        series="w",
        arrange="stacked",
        kind="column",
        limit=2,
        rest="Others",
    )
    plot = chart.stages.page.charts[0]
    assert list(plot.axes.category.names.texts) == ["2024-04", "2024-05", "Others"]
    assert chart.stages.marks.category_names() == ["2024-04"] * 3 + ["2024-05"] * 3 + ["Others"] * 3
    sums = np.asarray(chart.stages.marks.columns["v"])[chart.stages.marks.sums]
    assert sums.tolist() == [4 + 10, 5 + 11, 1 + 2 + 3 + 6 + 7 + 8 + 9 + 12]
    whole = yz.chart(
        rows,
        category="d",
        value="v",
        series="w",
        arrange="stacked",
        kind="column",
        limit=6,
        rest="Others",
    )
    assert list(whole.stages.page.charts[0].axes.category.names.texts)[-1] == "(no name)"
