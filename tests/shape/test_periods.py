"""Periods, times before, the data's own period and measures of marks, beside pandas' own calendar."""

from __future__ import annotations

import re
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import yuzen as yz
from tests.support.sampling import examples
from yuzen.formats.date_text import formatted, in_words
from yuzen.formats.locales import PLAIN_LOCALE
from yuzen.formats.periods import CYCLES, MONTH_NAMES, UNITS, WEEKDAYS, Calendar, Grain, Unit
from yuzen.rules.written_dates import period
from yuzen.sources.sql.database import Database

calendars = st.builds(Calendar, st.integers(0, 11), st.integers(0, 6))
days = st.dates(pd.Timestamp(1990, 1, 1).date(), pd.Timestamp(2050, 12, 31).date())
DAYS = ("MON", "TUE", "WED", "THU", "FRI", "SAT", "SUN")


def frequency(unit: Unit, calendar: Calendar) -> str:
    """The same periods as pandas calls them: by their last month or day."""
    ends = MONTH_NAMES[calendar.year_starts - 1][:3].upper()
    return {
        "day": "D",
        "week": f"W-{DAYS[calendar.week_starts - 1]}",
        "month": "M",
        "quarter": f"Q-{ends}",
        "year": f"Y-{ends}",
    }[unit]


@settings(max_examples=examples(200))
@given(st.lists(days, min_size=1, max_size=20), st.sampled_from(UNITS), calendars)
def test_periods_are_those_of_pandas(dates: list[Any], unit: Unit, calendar: Calendar) -> None:
    moments = np.array(dates, dtype="datetime64[s]")
    grain, periods = Grain(unit, calendar), pd.PeriodIndex(dates, freq=frequency(unit, calendar))
    assert (
        grain.floored(moments).tolist()
        == periods.start_time.to_numpy().astype("datetime64[s]").tolist()
    )
    numbers = grain.numbers(moments)
    assert (numbers - numbers[0]).tolist() == [one.ordinal - periods[0].ordinal for one in periods]
    assert calendar.weekdays(moments).tolist() == [
        (d.weekday() - calendar.week_starts) % 7 for d in dates
    ]


@settings(max_examples=examples(300))
@given(days, st.sampled_from(UNITS), st.sampled_from(UNITS), st.integers(1, 30), calendars)
def test_times_before_are_those_of_pandas(
    day: Any, unit: Unit, back: Unit, count: int, calendar: Calendar
) -> None:
    """A period goes by its first day, a week by its middle one; a day that a month lacks is its last."""
    grain = Grain(unit, calendar)
    first = pd.Timestamp(grain.floored(np.array([day], dtype="datetime64[s]"))[0])
    months = {"month": 1, "quarter": 3, "year": 12}
    if back in months:
        moved = (
            first
            + pd.Timedelta(days=3 * (unit == "week"))
            - pd.DateOffset(months=count * months[back])
        )
    else:
        moved = pd.Timestamp(day) - pd.Timedelta(days=count * (7 if back == "week" else 1))
    found = grain.earlier(np.array([day], dtype="datetime64[s]"), count, back)
    assert found.tolist() == grain.numbers(np.array([moved], dtype="datetime64[s]")).tolist()


def test_weeks_begin_on_monday_as_iso_8601_has_them() -> None:
    every = pd.date_range("2019-12-20", "2027-01-15")
    weeks = Grain("week").numbers(every.to_numpy().astype("datetime64[s]"))
    iso = every.isocalendar()
    assert len({(y, w) for y, w in zip(iso.year, iso.week, strict=True)}) == len(
        set(weeks.tolist())
    )
    assert pd.Series(weeks).groupby([iso.year.to_numpy(), iso.week.to_numpy()]).nunique().max() == 1


GAPPY = {"month": ("MS", 40), "week": ("W-MON", 130), "day": ("D", 420), "quarter": ("QS", 24)}
OFFSETS = {
    "month": pd.DateOffset(months=12),
    "quarter": pd.DateOffset(months=12),
    "day": pd.DateOffset(years=1),
}


def series_with_gaps(unit: str, seed: int) -> pd.Series:
    """A random series by period, a fifth of whose periods are left out."""
    draw = np.random.default_rng(seed)
    code, count = GAPPY[unit]
    index = pd.date_range(
        "2022-01-03" if unit == "week" else "2022-01-01", periods=count, freq=code
    )
    series = pd.Series(draw.integers(50, 150, count).astype(float), index)
    return series[draw.random(count) > 0.2]


def chart_of(series: pd.Series, unit: str, **said: Any) -> yz.Chart:
    rows = pd.DataFrame({"date": series.index, "v": series.to_numpy()}).sample(
        frac=1, random_state=1
    )
    return yz.chart(rows, kind="column", category="date", value="v", grain=unit, **said)  # type: ignore[arg-type]


@pytest.mark.parametrize("unit", sorted(GAPPY))
@pytest.mark.parametrize("seed", range(4))
def test_a_year_before_is_what_pandas_finds_a_year_earlier(unit: str, seed: int) -> None:
    series = series_with_gaps(unit, seed)
    if unit == "week":
        before = series.reindex([moment - pd.Timedelta(weeks=52) for moment in series.index])
    else:
        before = series.reindex([moment - OFFSETS[unit] for moment in series.index])
    chart = chart_of(series, unit).measure(
        gain="change of v on a year before", old="previous of v a year before"
    )
    flags = chart.rule("falls by 5% on a year before", name="fell", color="adverse").flags()
    old = before.to_numpy()
    np.testing.assert_allclose(flags["old"], old)
    np.testing.assert_allclose(flags["gain"], series.to_numpy() - old)
    with np.errstate(invalid="ignore"):
        expected = series.to_numpy() <= old - 0.05 * old
    assert (flags["rule"] == "fell").tolist() == expected.tolist()
    assert (flags["unknown"] == "fell").tolist() == np.isnan(old).tolist()


@pytest.mark.parametrize("unit", sorted(GAPPY))
@pytest.mark.parametrize("over", [1, 2, 3, 7])
def test_a_moving_average_is_that_of_pandas_over_whole_periods(unit: str, over: int) -> None:
    series = series_with_gaps(unit, over)
    whole = series.asfreq(GAPPY[unit][0])
    expected = whole.rolling(over).mean().reindex(series.index)
    flags = chart_of(series, unit).measure(calm=f"moving average of v over {over}").flags()
    np.testing.assert_allclose(flags["calm"], expected.to_numpy())


def test_times_of_the_day_are_compared_with_the_same_time(stores: Any) -> None:
    del stores
    at = pd.date_range("2026-01-01", periods=40, freq="6h").delete([3, 11])
    values = np.random.default_rng(2).random(len(at))
    chart = yz.chart({"at": at, "v": values}, category="at", value="v").measure(
        old="previous of v a day before"
    )
    expected = pd.Series(values, at).reindex([moment - pd.Timedelta(days=1) for moment in at])
    np.testing.assert_allclose(chart.flags()["old"], expected.to_numpy())


def test_a_moving_average_of_equal_numbers_is_that_number() -> None:
    chart = yz.chart({"m": list(range(9)), "v": [0.1] * 9}, category="m", value="v")
    flags = chart.rule("above moving average over 3", color="adverse").flags()
    assert not flags["rule"].any()


LAST = [("month", 12), ("month", 1), ("quarter", 2), ("year", 1), ("week", 5), ("day", 40)]


@pytest.mark.parametrize(("unit", "count"), LAST)
@pytest.mark.parametrize("end", ["last", "first"])
def test_the_last_periods_end_with_the_latest_date(
    unit: Unit, count: int, end: str, stores: Any
) -> None:
    rows, url, calendar = stores
    table = calendar | {"data": {"keep": f"opened in {end} {count} {unit}s"}}
    periods = pd.PeriodIndex(rows["opened"], freq=frequency(unit, Calendar(3, 6)))
    edge = periods.max() - count if end == "last" else periods.min() + count
    kept = rows[periods > edge] if end == "last" else rows[periods < edge]
    for given_rows in (rows, Database(url, "visits")):
        chart = yz.chart(given_rows, category="depot", value="v", **table)
        expected = kept.groupby("depot")["v"].sum()
        found = chart.flags().set_index("depot")["v"]
        pd.testing.assert_series_equal(found.sort_index(), expected.sort_index(), check_dtype=False)


@pytest.fixture(scope="module")
def stores(tmp_path_factory: pytest.TempPathFactory) -> tuple[pd.DataFrame, str, dict[str, Any]]:
    """Random visits in a frame and in a database, and a calendar of its own."""
    draw = np.random.default_rng(7)
    opened = pd.Timestamp("2023-02-05") + pd.to_timedelta(draw.integers(0, 1100, 600), unit="D")
    rows = pd.DataFrame(
        {
            "opened": opened,
            "depot": draw.choice(["Ash", "Elm", "Oak"], 600),
            "v": draw.integers(1, 90, 600),
        }
    )
    path = tmp_path_factory.mktemp("visits") / "visits.db"
    with closing(sqlite3.connect(path)) as store, store:
        rows.assign(opened=rows["opened"].dt.strftime("%Y-%m-%d")).to_sql(
            "visits", store, index=False
        )
    return (
        rows,
        f"sqlite:///{path}",
        {"calendar": {"year_starts": "April", "week_starts": "Sunday"}},
    )


@pytest.mark.sampled(3)
@pytest.mark.parametrize("unit", [*UNITS, *CYCLES])
@pytest.mark.parametrize("place", ["category", "series", "panels", "within", "each"])
def test_periods_from_a_file_and_from_a_database_are_the_same(
    unit: str, place: str, stores: Any
) -> None:
    rows, url, calendar = stores
    said: dict[str, Any] = {"category": "depot", "value": "v", **calendar}
    if place not in {"each", "within"}:
        said[place] = f"{unit} of opened"
    if place == "category":
        said["value"] = "total of v / count of distinct day of opened"
    if place == "within":
        said |= {"category": "opened"}
    plain = yz.chart(rows, **said).rule(
        "highest" + f" within {unit}" * (place == "within"), color="adverse"
    )
    if unit == "day" and place == "panels":
        plain = plain.also_keep('opened before "2023-03"')
    stored = plain.with_rows(Database(url, "visits"))
    if place == "each":
        if unit in {"day", "week"}:
            plain, stored = (
                chart.also_keep('opened before "2023-04"') for chart in (plain, stored)
            )
        both = [dict(chart.each(f"{unit} of opened")) for chart in (plain, stored)]
        assert set(both[0]) == set(both[1])
        for name, part in both[0].items():
            pd.testing.assert_frame_equal(part.flags(), both[1][name].flags(), check_exact=False)
        return
    pd.testing.assert_frame_equal(plain.flags(), stored.flags(), check_exact=False)
    if unit in UNITS and place == "within":
        freq = frequency(unit, Calendar(3, 6))
        sums = rows.groupby("opened")["v"].sum()
        best = sums.groupby(pd.PeriodIndex(sums.index, freq=freq)).transform("max") == sums
        assert (plain.flags()["rule"] != "").tolist() == best.tolist()


def test_titles_say_the_same_period_from_a_file_and_from_a_database(stores: Any) -> None:
    rows, url, _ = stores
    title = "{earliest month} to {latest day of opened}, {latest week}"
    for said in (
        {"value": "v"},
        {"value": "median of v"},
        {"value": "v", "series": "quarter", "arrange": "stacked"},
    ):
        plain = yz.chart(rows, category="depot", title=title, **said).keep(  # type: ignore[arg-type]
            "opened in first 9 months"
        )
        stored = plain.with_rows(Database(url, "visits"))
        assert plain.stages.page.words.title == stored.stages.page.words.title
        pd.testing.assert_frame_equal(plain.flags(), stored.flags(), check_exact=False)
    assert (
        plain.stages.page.words.title
        == "February 2023 to 31 October 2023, the week of 30 October 2023"
    )


def test_days_of_the_week_are_called_as_the_language_calls_them(stores: Any) -> None:
    rows = stores[0]
    chart = yz.chart(rows, kind="column", category="weekday", value="v", locale="de")
    assert chart.stages.page.charts[0].axes.category.names.texts[:2] == ("Montag", "Dienstag")
    assert chart.rule('weekday = "Monday"', name="m", color="adverse").flags()["rule"].tolist() == [
        "m",
        *[""] * 6,
    ]


def test_fiscal_years_are_called_by_both_and_days_of_the_week_keep_their_order(stores: Any) -> None:
    rows, _, calendar = stores
    names = yz.chart(rows, category="year of opened", value="v", **calendar).stages.marks.names()
    assert names == ["2022/23", "2023/24", "2024/25", "2025/26"]
    quarters = yz.chart(rows, category="quarter", value="v", **calendar).stages.marks.names()
    assert quarters[:2] == ["2022/23-Q4", "2023/24-Q1"]
    week = yz.chart(rows, category="weekday", value="v", **calendar).stages.marks.names()
    assert week == [WEEKDAYS[-1], *WEEKDAYS[:-1]]
    keeping = yz.chart(rows, category="depot", value="v", **calendar).keep('opened = "2023/24-Q2"')
    own = rows[(rows["opened"] >= "2023-07-01") & (rows["opened"] < "2023-10-01")]
    assert keeping.flags()["v"].sum() == own["v"].sum()


@pytest.mark.parametrize(
    ("said", "message"),
    [
        ({"category": "quarter of depot"}, "depot holds no dates, so there is no quarter of it"),
        (
            {"category": "quarter of opend"},
            "There is no column 'opend' for 'quarter of opend'. Did you mean opened",
        ),
        (
            {"rule": "highest within year"},
            "within year needs one year for each mark; Oak has 2024 and 2025.",
        ),
        (
            {"category": "quarter", "rule": "highest within month of opened"},
            "'month of opened' is shorter than a mark, and each mark is a whole quarter. Take longer",
        ),
        ({"category": "opened", "grain": "week", "rule": "highest within weekday"}, "a whole week"),
        ({"category": "month", "rule": "highest within week"}, "each mark is a whole month"),
        ({"rule": "highest within year of depot"}, "depot holds no dates"),
        (
            {"rule": "falls on a year before"},
            "depot holds no dates. It is for marks that follow",
        ),
        (
            {"category": "month of opened", "rule": "falls on a week before"},
            "Go back by whole months",
        ),
        (
            {"category": "quarter of opened", "rule": "v above previous 2 months before"},
            "whole quarters",
        ),
        (
            {"rule": "depot in last 3 months"},
            "depot holds no dates, and 'in last 3 months' is for dates",
        ),
        ({"rule": "falls on a year"}, "on is followed by a time before, such as a year before"),
        ({"rule": "above moving average"}, "over a number of marks"),
        (
            {"category": "opened", "rule": "above moving average over 0"},
            "a whole number from 1 on, and this is 0",
        ),
        ({"measures": {"a": "change of b", "b": "change of a"}}, "The measure a refers to itself"),
        ({"measures": {"a": "change of depot"}}, "depot"),
        (
            {"measures": {"a": "change of v"}, "rule": "v above overall of a"},
            "compares marks with one another",
        ),
    ],
)
def test_what_cannot_be_judged_is_told(said: dict[str, Any], message: str, stores: Any) -> None:
    rows, _, _ = stores
    keys: dict[str, Any] = {"category": "depot", "value": "v", **said}
    rule = keys.pop("rule", "highest")
    with pytest.raises(yz.YuzenError, match=re.escape(message)):
        yz.chart(rows, **keys).rule(rule, color="adverse").flags()


@pytest.mark.parametrize("unit", ["month", "quarter", "year"])
@pytest.mark.parametrize("keys", [{"category": "d", "grain": "week"}, {"category": "week of d"}])
def test_weeks_lie_in_the_period_of_their_middle_day(
    unit: str, keys: dict[str, Any], tmp_path: Path
) -> None:
    random = np.random.default_rng(4)
    days = pd.date_range("2024-11-20", "2026-02-10", freq="D").to_series()
    days = days[random.random(len(days)) < 0.4]
    rows = pd.DataFrame({"d": days.to_numpy(), "v": random.integers(1, 90, len(days))})
    weeks = rows.groupby(rows["d"].dt.to_period("W").dt.start_time)["v"].sum()
    middles = pd.DatetimeIndex(weeks.index.to_numpy() + np.timedelta64(3, "D")).to_period(
        {"month": "M", "quarter": "Q", "year": "Y"}[unit]
    )
    expected = weeks.index[weeks.to_numpy() == weeks.groupby(middles).transform("max").to_numpy()]
    with closing(sqlite3.connect(tmp_path / "weeks.db")) as store, store:
        rows.assign(d=rows["d"].dt.strftime("%Y-%m-%d")).to_sql("weeks", store, index=False)
    for source in (rows, yz.Database(f"sqlite:///{tmp_path / 'weeks.db'}", "weeks")):
        chart = yz.chart(source, value="v", **keys).rule(
            f"highest within {unit}", color="notice", name="top"
        )
        flags = chart.flags()
        assert flags[flags["rule"] == "top"][keys["category"]].tolist() == expected.tolist()


WRITTEN = {
    "2026-01": ("month", ["2026-01", "2026-02", "2026-04"]),
    "2026-01-01": ("", ["2026-01-01", "2026-02-01", "2026-04-01"]),
    "Jan 2026": ("month", ["Jan 2026", "Feb 2026", "Apr 2026"]),
    "01/2026": ("month", ["01/2026", "02/2026", "04/2026"]),
    "Jan-26": ("month", ["Jan-26", "Feb-26", "Apr-26"]),
    "1 Jan 2026": ("", ["1 Jan 2026", "1 Feb 2026", "1 Apr 2026"]),
    "Q1 2026": ("quarter", ["Q1 2026", "Q2 2026", "Q4 2026"]),
    "2026W01": ("week", ["2026W01", "2026W02", "2026W04"]),
}


@pytest.mark.parametrize("written", WRITTEN)
def test_dates_written_as_periods_have_gaps_and_days_have_none(
    written: str, tmp_path: Path
) -> None:
    unit, dates = WRITTEN[written]
    (tmp_path / "rows.csv").write_text(
        "d,v\n" + "".join(f"{d},{9 - n}\n" for n, d in enumerate(dates))
    )
    chart = yz.chart(tmp_path / "rows.csv", category="d", value="v").rule(
        "falls", color="adverse", name="f"
    )
    flags = chart.flags()
    assert flags["d"].dt.year.tolist() in ([2026] * 3, [2025, 2026, 2026])
    # What follows a period that is left out has no step.
    assert flags["rule"].tolist() == ["", "f", "" if unit else "f"]
    assert flags["unknown"].tolist() == ["f", "", "f" if unit else ""]
    assert {grain.unit for grain in chart.stages.marks.grains.values()} == (
        {unit} if unit else set()
    )
    # Dates that a program keeps as dates are days, whatever day of the month they are.
    framed = yz.chart(flags[["d", "v"]], category="d", value="v").rule(
        "falls", color="adverse", name="f"
    )
    assert framed.flags()["rule"].tolist() == ["", "f", "f"]


def test_two_columns_of_dates_want_to_be_told_apart(stores: Any) -> None:
    rows = stores[0].assign(closed=stores[0]["opened"])
    with pytest.raises(
        yz.YuzenError, match=r"There are dates in opened and closed\. Write year of opened"
    ):
        yz.chart(rows, category="year", value="v").flags()
    assert len(yz.chart(rows, category="closed", value="v").rule("highest within year").flags())


RANKED = {"cause": list("abcdef"), "n": [5, 40, 5, 20, 29, 1]}


def test_measures_of_marks_follow_the_drawn_order_of_words() -> None:
    chart = yz.chart(RANKED, category="cause", value="n").measure(
        so_far="running share of n",
        sum_up="running total of n",
        place="rank of n",
        twice="2 * so_far",
    )
    table = pd.DataFrame(RANKED).sort_values("n", ascending=False, kind="stable")
    flags = chart.flags()
    assert flags["cause"].tolist() == table["cause"].tolist()
    np.testing.assert_allclose(flags["sum_up"], table["n"].cumsum())
    np.testing.assert_allclose(flags["so_far"], table["n"].cumsum() / 100)
    np.testing.assert_allclose(flags["twice"], table["n"].cumsum() / 50)
    assert flags["place"].tolist() == table["n"].rank(ascending=False, method="min").tolist()
    drawn = yz.chart(
        RANKED, category="cause", value="running share of n", limit=4, rest="others"
    ).flags()
    assert drawn["cause"].tolist() == ["b", "e", "d", "a", "others"]
    assert drawn["running share of n"].iloc[-1] == 1.0


@pytest.mark.parametrize("panels", [None, "waters"])
def test_marks_are_ordered_by_measures_of_marks(panels: str | None) -> None:
    draw = np.random.default_rng(3)
    rows = pd.DataFrame(
        {"m": np.tile(np.arange(8), 2), "waters": np.repeat(["N", "S"], 8), "v": draw.random(16)}
    )
    said: dict[str, Any] = {"panels": panels} if panels else {}
    if not panels:
        rows = rows[rows["waters"] == "N"]
    chart = yz.chart(rows, category="m", value="v", order="step, largest first", **said)
    flags = chart.measure(step="change of v").flags()
    steps = rows.groupby("waters")["v"].diff()
    expected = rows.assign(step=steps).sort_values(["waters", "step"], ascending=[True, False])
    assert flags["m"].tolist() == expected["m"].tolist()
    np.testing.assert_allclose(flags["step"], expected["step"])


@given(days, st.sampled_from(["%Y", "%b %y", "%-d %B %Y", "%A %d.%m.%Y", "%-m/%y"]))
def test_dates_are_written_as_python_writes_them(day: Any, pattern: str) -> None:
    assert formatted(np.datetime64(day), pattern, PLAIN_LOCALE) == day.strftime(pattern)


def test_periods_in_words() -> None:
    moment, fiscal = np.datetime64("2026-06-17"), Calendar(3, 0)
    said = {unit: in_words(moment, Grain(unit, fiscal), PLAIN_LOCALE) for unit in UNITS}
    assert said == {
        "day": "17 June 2026",
        "week": "the week of 15 June 2026",
        "month": "June 2026",
        "quarter": "Q1 2026/27",
        "year": "2026/27",
    }
    assert period("2026-Q1", fiscal)[0] == np.datetime64("2026-04-01")


@pytest.mark.usefixtures("folder")
def test_the_same_brief_says_the_period_of_next_months_file() -> None:
    chart, rows = yz.load("year_before.toml"), pd.read_csv("routes.csv")
    assert "to June 2026" in chart.stages.page.words.subtitle
    later = rows[rows["month"] == "2026-06"].assign(month="2026-07")
    rows = pd.concat([rows, later])
    assert "to July 2026" in chart.with_rows(rows).stages.page.words.subtitle
    busiest = yz.load("busiest.toml")
    months = rows[rows["month"] > "2025-07"]
    kept = months[months["service"] == "ferry"].groupby("route")["passengers"].sum()
    found = (
        busiest.with_rows(rows).flags().drop_duplicates("route").set_index("route")["passengers"]
    )
    assert found.to_dict() == kept[found.index].to_dict()


@pytest.mark.sampled(3)
@pytest.mark.parametrize("place", ["frame", "parquet", "sqlite"])
@pytest.mark.parametrize("day", [1, 15, "last", "any"])
@pytest.mark.parametrize(
    ("grain", "starts", "step", "words"),
    [
        ("quarter", "January", 1, "months"),
        ("year", "January", 1, "months"),
        ("year", "April", 1, "months"),
        ("year", "January", 3, "quarters"),
    ],
)
def test_periods_of_coarse_rows_that_lack_some_are_told_and_left_out(
    grain: Any, starts: str, step: int, words: str, day: Any, place: str, tmp_path: Path
) -> None:
    months = pd.period_range("2024-02", "2026-05", freq="M")[::step]
    months = months.delete(9) if step == 1 else months  # a hole in the middle
    if day == "last":
        days = months.to_timestamp(how="end").normalize()
    else:
        drawn = np.random.default_rng(1).integers(0, 28, len(months)) if day == "any" else day - 1
        days = months.to_timestamp() + pd.to_timedelta(drawn, "D")
    rows: Any = pd.DataFrame({"day": days, "v": range(1, len(days) + 1)})
    begins = {"January": 0, "April": 3}[starts]
    moved = months.to_timestamp() - pd.DateOffset(months=begins)
    freq = {"quarter": "Q", "year": "Y"}[grain]
    counts = pd.Series(moved).dt.to_period(freq).value_counts().sort_index()
    whole = {"quarter": 3, "year": 12}[grain] // step
    kept: list[Any] = [period for period, count in counts.items() if count == whole]
    if place == "parquet":
        rows.to_parquet(tmp_path / "rows.parquet")
        rows = tmp_path / "rows.parquet"
    elif place == "sqlite":
        with closing(sqlite3.connect(tmp_path / "rows.db")) as lite, lite:
            rows.assign(day=rows["day"].astype(str)).to_sql("rows", lite, index=False)
        rows = Database("sqlite:///rows.db", table="rows", folder=tmp_path)
    said: Any = {"kind": "column", "grain": grain, "calendar": {"year_starts": starts}}
    chart = yz.chart(rows, category="day", value="v", **said).rule("falls", color="adverse")
    notes = " ".join(chart.stages.notes)
    lacking = counts[counts < whole]
    assert f" has {lacking.iloc[-1]} of {whole} {words}, so its numbers are not those" in notes
    assert ("earlier" in notes) == (len(lacking) > 3)
    assert f'rule 1 "falls" compares a part with a whole {grain}' in notes
    left = yz.chart(rows, category="day", value="v", partial="leave out", **said)
    flags = left.flags()
    expected = [period.to_timestamp() + pd.DateOffset(months=begins) for period in kept]
    assert flags["day"].tolist() == expected


@pytest.mark.parametrize(
    ("grain", "condition", "told"),
    [
        ("quarter", "day in last 2 months", "about a month, and each mark is a whole quarter"),
        ("quarter", 'day = "2026-02"', "about a month, and each mark is a whole quarter"),
        ("week", 'day != "2026-02-03"', "about a day, and each mark is a whole week"),
        ("month", 'day one of "2026-02", "2026-02-03"', "about a day, and each mark is a whole"),
        ("month", "day in first 2 weeks", "about a week, and each mark is a whole month"),
        ("quarter", 'day = "2026-Q1"', ""),
        ("month", "day in last 1 quarter", ""),
        ("day", 'day = "2026-02"', ""),
    ],
)
def test_claims_about_shorter_periods_than_the_marks_are_refused(
    grain: Any, condition: str, told: str
) -> None:
    rows = pd.DataFrame({"day": pd.date_range("2026-01-01", periods=150), "v": 1})
    chart = yz.chart(rows, category="day", value="v", grain=grain, kind="column")
    chart = chart.rule(condition, color="adverse")
    if told:
        with pytest.raises(yz.YuzenError, match=told):
            chart.flags()
    else:
        assert (chart.flags()["rule"] != "").any()
