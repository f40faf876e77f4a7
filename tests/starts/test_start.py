"""What is in rows, and the first chart of them: rules of the choice, real tables, dirty ones."""

from __future__ import annotations

import json
import sqlite3
import sys
import tomllib
from contextlib import closing, suppress
from importlib.util import find_spec
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import yuzen as yz
from tests.support.sampling import a_sample_of, seeds
from yuzen.sources.inputs import source_of
from yuzen.starts.choice import Choice
from yuzen.starts.dirt import columns_side_by_side, spellings_of, totals_in
from yuzen.starts.first_rules import few_that_make_up_most
from yuzen.starts.profile import ColumnFacts, Profile
from yuzen.starts.read_rows import profile_of

# Findings about the rows; any other would be a fault of the first brief.
IN_THE_DATA = {
    "guess",
    "name-twice",
    "numbers-missing",
    "numbers-partly-missing",
    "outsized",
    "partial-period",
    "rows-in-no-bin",
    "total-among-items",
}


def _real_tables() -> list[Path]:
    """The sample tables of general packages, which nobody has made for us, and the demo's."""
    places = {
        "statsmodels": "datasets/*/*.csv",
        "plotly": "package_data/datasets/*.csv.gz",
        "yuzen": "demo/data/*.csv",
    }
    tables: list[Path] = []
    for package, pattern in places.items():
        spec = find_spec(package)
        assert spec is not None
        for folder in spec.submodule_search_locations or ():
            tables += sorted(Path(folder).glob(pattern))
    return tables


TABLES = _real_tables()


def test_there_are_enough_real_tables() -> None:
    assert len(TABLES) >= 35


@pytest.mark.sampled(3)
@pytest.mark.parametrize(
    ("table",),  # noqa: PT006 - of cases
    a_sample_of([(table,) for table in TABLES]),
    ids=lambda path: path.name.split(".")[0],
)
def test_a_first_brief_of_a_real_table_is_sound(table: Path, tmp_path: Path) -> None:
    made = yz.start(table)
    findings = made.chart.check()
    assert {finding.code for finding in findings} <= IN_THE_DATA, findings
    written = made.write(tmp_path / "first.toml")
    loaded = yz.load(written)
    pd.testing.assert_frame_equal(loaded.flags(), made.chart.flags())
    text = written.read_text("utf-8")
    values = tomllib.loads(text)
    assert values["title"]
    assert values["chart"]["category"]
    _each_key_is_explained(text)
    # A rule that flags nothing, or everything, says nothing.
    flags = made.chart.flags()
    for rule in values.get("rule", []):
        flagged = flags["rule"].eq(rule["name"]) | flags["also"].str.contains(
            rule["name"], regex=False
        )
        # A part of a histogram may lie in each of a few bins.
        assert 0 < flagged.sum() < len(flags) + ("part" in rule)
    assert {key for key, _ in made.reasons} >= {"value", "category", "kind"}


def _each_key_is_explained(text: str) -> None:
    """Over each key, and each section, stands what it does; a second rule needs none."""
    lines = text.splitlines()
    section = ""
    seen: set[str] = set()
    for before, line in zip(["", *lines], lines, strict=False):
        if line.startswith("["):
            assert before.startswith("# ") or line in seen, line
            section = line
        elif " = " in line and not line.startswith("#"):
            key = f"{section} {line.split(' = ')[0]}"
            assert before.startswith("# ") or key in seen, line
            seen.add(key)
        seen.add(section)


MONTHS = [str(np.datetime64("2024-01") + np.timedelta64(i, "M")) for i in range(30)]
NAMES = ["Ottery", "Kelpwick", "Larkholm", "Pellburn"]
RISING = [100.0 + i for i in range(30)]

# rows -> the kind, the category, the value, the grain, and the conditions of the rules
CHOICES: dict[str, tuple[dict[str, Any], tuple[Any, ...]]] = {
    "names and amounts": (
        {"route": NAMES, "surplus": [900, -300, 120, 80]},
        ("bar", "route", "surplus", None, ["surplus negative", "highest"]),
    ),
    "an average of ratios": (
        {"route": NAMES, "on_time": [0.91, 0.8, 0.85, 0.99]},
        ("bar", "route", "average_on_time", None, ["highest", "lowest"]),
    ),
    "a target": (
        {"route": NAMES, "trips": [9, 8, 7, 6], "target_trips": [8, 8, 8, 5]},
        ("bar", "route", "trips", None, ["trips below target_trips", "highest"]),
    ),
    "few that make up most": (
        {"route": list("abcdefgh"), "trips": [90, 80, 5, 6, 7, 8, 9, 10]},
        ("bar", "route", "trips", None, ["top n", "lowest"]),
    ),
    "months": (
        {"month": MONTHS[:12], "trips": [*range(12)]},
        ("column", "month", "trips", "month", ["highest", "lowest"]),
    ),
    "months with a year before": (
        {"month": MONTHS, "trips": [*range(100, 128), 60, 130]},
        ("line", "month", "trips", "month", ["falls on a year before", "highest"]),
    ),
    "years": (
        {"year": [*range(2000, 2010)], "trips": [5, 6, 7, 8, 9, 10, 9, 12, 13, 14]},
        ("column", "year", "trips", None, ["falls", "highest", "lowest"]),
    ),
    "bins of numbers": (
        {"height": [i / 7 for i in range(1, 200)]},
        ("column", "height", "count of rows", 2, ["height at least limit"]),
    ),
    "codes are no amounts": (
        {"route": NAMES, "route_id": [7, 12, 3, 44], "trips": [4, 3, 2, 1]},
        ("bar", "route", "trips", None, ["highest", "lowest"]),
    ),
    "no numbers": (
        {"route": ["a", "b", "b", "c", "c", "c"]},
        ("bar", "route", "count of rows", None, ["highest", "lowest"]),
    ),
    "grades on many rows": (
        {"route": NAMES * 20, "grade_given": [1, 2, 3, 4] * 20, "paid": [*range(0, 240, 3)]},
        ("bar", "route", "paid", None, ["highest", "lowest"]),
    ),
    "two words and dates": (
        {"month": MONTHS[:10], "way": ["in", "out"] * 5, "trips": [*range(10)]},
        ("column", "month", "trips", "month", ["highest", "lowest"]),
    ),
}


@pytest.mark.parametrize("named", CHOICES)
def test_the_choice_follows_the_written_rules(named: str) -> None:
    rows, (kind, category, value, grain, rules) = CHOICES[named]
    brief = yz.start(rows).chart.stages.brief
    chart = brief.chart
    assert (chart.kind, chart.category, chart.value, chart.grain) == (kind, category, value, grain)
    assert [str(rule.when if rule.part is None else rule.part) for rule in brief.rule] == rules


def test_many_names_are_gathered_and_the_latest_year_is_kept() -> None:
    routes = [f"Route {place:03}" for place in range(90)]
    rows = {
        "route": [route for route in routes for _ in MONTHS],
        "month": MONTHS * 90,
        "trips": [place + 1 for place in range(90) for _ in MONTHS],
    }
    brief = yz.start(rows, category="route").chart.stages.brief
    assert (brief.chart.limit, brief.chart.rest) == (20, "All others")
    assert str(brief.data.keep) == "month in last 12 months"


def test_what_the_call_sets_is_kept() -> None:
    rows = {"month": MONTHS, "route": NAMES * 7 + NAMES[:2], "trips": RISING, "cost": RISING}
    chart = yz.start(rows, kind="line", value="cost").chart.stages.brief.chart
    assert (chart.kind, chart.category, chart.value) == ("line", "month", "cost")
    across = yz.start(rows, kind="scatter").chart.stages.brief.chart
    assert (across.value, across.across) == ("trips", "cost")
    table = yz.start(rows, kind="table").chart.stages.brief
    assert [column.value for column in table.column] == ["trips", "cost"]
    made = yz.start(rows, value="total of trips / total of cost")
    assert made.chart.stages.brief.chart.value == "total of trips / total of cost"


@pytest.mark.parametrize(
    ("wish", "message"),
    [
        ({"category": "rout"}, "There is no column 'rout'. Did you mean route? There are route and trips."),
        ({"kind": "pie chart"}, "'pie chart' is no kind of chart. There are bar, column, line, area, table, dots, scatter, bridge, ring."),
        ({"kind": "scatter"}, "A scatter needs two columns of numbers, and there is one. Choose another kind."),
        ({"value": "route"}, "route holds words, and a value is a number. Count them: --value 'count of distinct route'."),
    ],
)  # fmt: skip
def test_a_wish_that_the_rows_cannot_fulfil_is_refused(wish: dict[str, str], message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        yz.start({"route": NAMES, "trips": [1, 2, 3, 4]}, **wish)
    assert str(error.value) == message


DIRTY = """Depot;Date;Revenue;Margin;Note
North ;03.01.2026;1.234,50;19%;ok
north;03.02.2026;(234,50);-12%;
South;03.03.2026;2.234,50-;10%;n/a
South;03.04.2026;n/a;5%;x
Total;03.04.2026;3.000,00;8%;
"""


def test_dirt_is_reported_and_put_right_in_the_brief(tmp_path: Path) -> None:
    (tmp_path / "dirty.csv").write_text(DIRTY, "utf-8")
    made = yz.start(tmp_path / "dirty.csv")
    told = str(made)
    for line in (
        "Total in Depot is a total among the items.",
        "Depot has several spellings: north for North ([aliases]).",
        "I read (234,50) as −234.5 and n/a as missing in Revenue.",
        "2 below zero (brackets for a minus, minus behind the number)  1 missing",
        "(percent)",
        "South, North, north, … (blanks around names)",
    ):
        assert line in told
    brief = tomllib.loads(made.brief(tmp_path))
    assert brief["data"] == {"file": "dirty.csv", "keep": 'Depot != "Total"'}
    assert brief["aliases"] == {"Depot": {"north": "North"}}
    assert made.chart.flags()["Depot"].tolist() == ["North", "South"]
    assert made.chart.flags()["Revenue"].tolist() == [1000.0, -2234.5]


def test_months_side_by_side_become_one_column(tmp_path: Path) -> None:
    head = ",".join(["route", *MONTHS[:14]])
    lines = [
        ",".join([name, *(str(100 * i + m) for m in range(14))]) for i, name in enumerate(NAMES)
    ]
    (tmp_path / "wide.csv").write_text("\n".join([head, *lines]) + "\n", "utf-8")
    made = yz.start(tmp_path / "wide.csv")
    wide = tomllib.loads(made.brief(tmp_path))["data"]["wide"]
    assert wide == {"columns": "2024-01 to 2025-02", "name": "month", "value": "amount"}
    assert made.chart.flags()["amount"].sum() == sum(
        100 * i + m for i in range(4) for m in range(2, 14)
    )


@pytest.mark.parametrize(
    ("names", "ends"),
    [
        (["a", "Jan", "Feb", "Mar"], ("Jan", "Mar")),
        (["a", "2019", "2020", "2021", "b"], ("2019", "2021")),
        (["a", "Q1 2026", "Q2 2026", "Q3 2026"], ("Q1 2026", "Q3 2026")),
        (["Jan", "Feb", "a", "Mar"], None),
        (["may", "march past", "june"], None),
    ],
)
def test_only_columns_called_as_periods_are_side_by_side(
    names: list[str], ends: tuple[str, str] | None
) -> None:
    columns = [ColumnFacts(name, "numbers", 3, different=3, least=0.0, most=9.0) for name in names]
    beside = columns_side_by_side(columns)
    assert (None if beside is None else (beside.first, beside.last)) == ends


def test_totals_and_spellings_are_found_by_their_names() -> None:
    words = (("Nord", 9), ("NORD", 2), ("Grand total", 1), ("Totalling", 1), ("Nord-", 1))
    column = ColumnFacts("depot", "words", 14, different=5, words=words)
    assert totals_in(column) == ("Grand total",)
    assert spellings_of(column) == {"NORD": "Nord", "Nord-": "Nord"}


CELLS = st.one_of(
    st.none(), st.integers(-1000, 1000), st.floats(-1e6, 1e6).map(lambda x: round(x, 3))
)


@settings(max_examples=60, deadline=None)
@given(
    st.lists(CELLS, min_size=1, max_size=40),
    st.lists(st.sampled_from([None, "a", "b", "c d"]), min_size=40, max_size=40),
)
def test_a_profile_says_what_pandas_counts(
    numbers: list[float | None], words: list[str | None]
) -> None:
    frame = pd.DataFrame({"n": pd.array(numbers, dtype="Float64"), "w": words[: len(numbers)]})
    n, w = profile_of(source_of(frame)).columns
    known = frame["n"].dropna()
    assert n.missing == frame["n"].isna().sum()
    if len(known):
        assert (n.different, n.negative) == (known.nunique(), int((known < 0).sum()))
        assert (n.least, n.most) == (known.min(), known.max())
        assert n.whole == bool((known == known.round()).all())
    assert (w.different, w.missing) == (frame["w"].nunique(), frame["w"].isna().sum())
    assert dict(w.words) == frame["w"].value_counts().to_dict()


def test_an_engine_and_a_database_say_what_the_rows_say(tmp_path: Path) -> None:
    rng = np.random.default_rng(7)
    frame = pd.DataFrame(
        {
            "day": pd.to_datetime("2024-01-01")
            + pd.to_timedelta(rng.integers(0, 40, 500) * 7, "D"),
            "depot": np.array(["North", "South", "East", None], dtype=object)[
                rng.integers(0, 4, 500)
            ],
            "amount": np.where(rng.random(500) < 0.1, np.nan, rng.normal(50, 60, 500).round(2)),
            "units": rng.integers(1, 9, 500),
        }
    )
    frame.to_parquet(tmp_path / "rows.parquet", index=False)
    with closing(sqlite3.connect(tmp_path / "rows.db")) as base, base:
        frame.to_sql("rows", base, index=False)
    base.close()
    read = profile_of(source_of(frame)).columns
    engine = profile_of(source_of(tmp_path / "rows.parquet")).columns
    database = profile_of(yz.Database(f"sqlite:///{tmp_path}/rows.db", table="rows")).columns
    for column, other, third in zip(read, engine, database, strict=True):
        assert dict(column.words) == dict(other.words) == dict(third.words)
        for field in ("kind", "rows", "missing", "different", "least", "most", "negative", "unit"):
            assert getattr(column, field) == getattr(other, field) == getattr(third, field), field
    made = yz.start(f"sqlite:///{tmp_path}/rows.db")
    assert tomllib.loads(made.brief(tmp_path))["data"]["table"] == "rows"
    assert yz.start(tmp_path / "rows.parquet").chart.flags().equals(made.chart.flags())


def test_a_database_of_several_tables_asks_for_one(tmp_path: Path) -> None:
    with closing(sqlite3.connect(tmp_path / "two.db")) as base, base:
        base.execute("create table a (x)")
        base.execute("create table b (x)")
    base.close()
    with pytest.raises(yz.YuzenError, match=r"has 2 tables: a and b\. Name one of them: --table a"):
        yz.start(f"sqlite:///{tmp_path}/two.db")


@given(st.lists(st.integers(0, 50), min_size=1, max_size=30))
def test_the_few_are_the_smallest_number_that_makes_up_half(values: list[int]) -> None:
    choice = Choice("bar", ColumnFacts("c", "words", 9), "v", ColumnFacts("v", "numbers", 9))
    rule = few_that_make_up_most(np.array(values, dtype=float), choice, Profile("", 9, ()))
    ranked = sorted(values, reverse=True)
    half = next((n for n in range(1, len(ranked) + 1) if 2 * sum(ranked[:n]) >= sum(ranked)), 0)
    if len(values) < 6 or sum(values) == 0 or not 1 < half <= len(values) / 3:
        assert rule is None
    else:
        assert rule is not None
        assert rule.parameters == {"n": half}


def test_gaps_in_dates_are_named() -> None:
    months = [month for month in MONTHS if month != "2024-05"]
    assert "month has no rows for 2024-05." in str(
        yz.start({"month": months, "trips": [*range(29)]})
    )


def test_the_command_writes_a_brief_and_its_picture_and_replaces_none(
    folder: Path, call: Any
) -> None:
    told = call("start", "routes.csv", "-o", "new/first.toml")
    assert told.code == 0, told.err
    assert (folder / "new" / "first.png").is_file()
    assert tomllib.loads((folder / "new" / "first.toml").read_text("utf-8"))["data"]["file"]
    assert "The first chart:" in told.out
    assert "category" in told.out
    assert call("draw", "new/first.toml", "-o", "again.png").code == 0
    before = (folder / "new" / "first.toml").read_bytes()
    again = call("start", "routes.csv", "-o", "new/first.toml")
    assert again.code == 2
    assert "is there already, and a brief is never replaced" in again.err
    assert (folder / "new" / "first.toml").read_bytes() == before


def test_the_command_gives_programs_the_same_facts(folder: Path, call: Any) -> None:
    told = json.loads(call("start", "routes.csv", "-o", "facts.toml", "--json").out)
    frame = pd.read_csv(folder / "routes.csv")
    assert told["rows"] == len(frame)
    assert [column["name"] for column in told["columns"]] == list(frame.columns)
    assert {reason["key"] for reason in told["reasons"]} >= {"category", "value", "kind"}
    assert (folder / told["picture"]).is_file()


def test_draw_of_a_file_alone_chooses_as_start_does(folder: Path, call: Any) -> None:
    told = call("draw", "routes.csv", "-o", "alone.png")
    assert told.code == 0, told.err
    assert "category           the column of words" in told.err
    assert "828 rows, 14 columns" in told.err
    kept = yz.load_picture(folder / "alone.png").stages.brief
    assert kept.rule == yz.start(folder / "routes.csv").chart.stages.brief.rule
    own = call(
        "draw", "routes.csv", "-o", "own.png", "--rule", "bottom 2", "adverse", "--title", "Mine"
    )
    assert own.code == 0, own.err
    kept = yz.load_picture(folder / "own.png").stages.brief
    assert [str(rule.when) for rule in kept.rule] == ["bottom 2"]
    assert str(kept.title) == "Mine"


def test_odd_rows_end_in_a_message_and_not_in_a_trace(tmp_path: Path) -> None:
    odd = {
        "empty.csv": "",
        "head.csv": "a,b\n",
        "blank.csv": "a,b\n,\n,\n",
        "one.csv": "a\n1\n",
        "quotes.csv": 'na"me,v{a}l\n"x ""y""",1\n"z{}",2\n"{q}",-3\n',
        "words.csv": "when,and\ntop 3,1\nabove,2\nnot,-3\n",
        "same.csv": "a,b\nx,1\nx,1\nx,1\n",
        "infinite.csv": "a,b\nx,inf\ny,-inf\nz,nan\n",
        "long.csv": "a,b\n" + "x" * 5000 + ",1\ny,2\nz,-9\n",
        "unicode.csv": "Straße,Größe\nÖ,1\n東京,−2\n🙂,3\n",
        "dates.csv": "day,v\n0001-01-01,1\n9999-12-31,2\n2020-01-01,3\n",
        "total.csv": "a,b\nTotal,1\nAll,2\n",
    }
    for name, text in odd.items():
        (tmp_path / name).write_text(text, "utf-8")
        # Any other exception would be a trace that an analyst sees.
        with suppress(yz.YuzenError):
            made = yz.start(tmp_path / name)
            assert made.save(tmp_path / f"{name}.svg").is_file()
            assert yz.load(made.write(tmp_path / f"{name}.toml")).flags().equals(made.chart.flags())
    drawn = {path.name.split(".")[0] for path in tmp_path.glob("*.svg")}
    assert drawn >= {"quotes", "words", "unicode", "long", "total"}


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["-"], "Save the rows into a file first."),
        (["busiest.toml"], "busiest.toml is a brief. Draw it: yuzen draw busiest.toml"),
        (
            ["picture.png"],
            "picture.png is a picture, which has no rows. Ask it: yuzen why picture.png",
        ),
        (["nothere.csv"], "There is no file nothere.csv."),
        (["nowhere"], "There is no file nowhere."),
        (["routes.csv", "--table", "sales"], "these rows are in none. Leave the table out."),
        (["ferry.db"], "ferry.db is a database, which has a URL: yuzen start sqlite:///ferry.db"),
        ([""], "A path is empty; name a file."),
    ],
)
def test_what_holds_no_rows_is_refused_with_what_to_do(
    folder: Path, call: Any, words: list[str], message: str
) -> None:
    yz.load(folder / "heights.toml").save(folder / "picture.png")
    told = call("start", *words)
    assert told.code in {2, 3}
    assert message in told.err


def test_columns_that_repeat_in_long_rows_are_not_added_up(tmp_path: Path) -> None:
    lines = [
        "Account,Jan,Feb,Mar,Total",
        *(f"K{i},{i},{2 * i},{3 * i},{6 * i}" for i in range(1, 7)),
    ]
    (tmp_path / "wide.csv").write_text("\n".join(lines) + "\n", "utf-8")
    made = yz.start(tmp_path / "wide.csv")
    assert made.chart.stages.brief.chart.value == "amount"
    assert made.chart.flags()["amount"].tolist() == [36, 30, 24, 18, 12, 6]


def test_foreign_names_and_unreadable_columns_are_understood(tmp_path: Path) -> None:
    rows = {
        "Jahr": [2024, 2025] * 3,
        "Land": list("aabbcc"),
        "Preis": [1.5, 900.5, 3, 4, 5, 6],
        "Umsatz": [1, 20, 3, 40, 5, 60],
    }
    brief = yz.start(rows).chart.stages.brief
    assert (brief.chart.value, str(brief.data.keep)) == ("Umsatz", "Jahr = 2025")
    (tmp_path / "mixed.csv").write_text("shop;sales\nA;1.5\nB;2,5\nC;3\n", "utf-8")
    assert "sales cannot be read. sales must hold numbers, but row 2 (line 3) holds '2,5'" in str(
        yz.start(tmp_path / "mixed.csv")
    )


def test_days_that_a_shop_is_closed_are_no_gaps() -> None:
    days = pd.bdate_range("2026-01-05", periods=60).delete(7)
    rows = {"day": days, "sold": range(59)}
    assert [
        column.missing_periods for column in profile_of(source_of(pd.DataFrame(rows))).columns
    ] == [
        ("2026-01-14",),
        (),
    ]


def test_what_is_not_installed_is_said(monkeypatch: pytest.MonkeyPatch, call: Any) -> None:
    monkeypatch.setitem(sys.modules, "sqlalchemy", None)
    told = call("start", "sqlite:///ferry.db")
    assert told.code == 3
    assert 'pip install "yuzen[database]"' in told.err


ODD_CELLS = (
    "Total", "n/a", "", "  ", '"q"', "{x}", "{{", 'a"b', "it's", "top 3", "0", "-0", "1e5", "1,5", "1.5", "12%", "(3)", "3-",
    "2026-01", "2026-02-30", "31.12.2025", "Q1 2026", "12:30", "€5", "True", "東京", "🙂", "x" * 300, "=1+1", "`tick`", "month", "inf", "1999",
)  # fmt: skip
ODD_HEADS = (
    "a",
    "b",
    "value",
    "year",
    "rate",
    "id",
    "surplus",
    "target_a",
    "Jan",
    "Feb",
    "Mar",
    *ODD_CELLS[4:12],
)


@pytest.mark.parametrize("seed", seeds(0, 60))
def test_random_tables_end_in_a_chart_or_a_message(seed: int, tmp_path: Path) -> None:
    rng = np.random.default_rng(seed)
    heads = list(rng.choice(ODD_HEADS, size=rng.integers(1, 7), replace=False))
    count = int(rng.integers(1, 15))
    makers = [
        lambda: [str(n) for n in rng.integers(-50, 1000, count)],
        lambda: [f"{n:.3f}" for n in rng.uniform(-1, 1, count)],
        lambda: list(rng.choice(list("abcde"), count)),
        lambda: [f"2026-{month:02}" for month in rng.integers(1, 13, count)],
        lambda: list(rng.choice(ODD_CELLS, count)),
    ]
    columns = {head: makers[int(rng.integers(len(makers)))]() for head in heads}
    pd.DataFrame(columns).to_csv(tmp_path / "odd.csv", index=False)
    with suppress(yz.YuzenError):
        made = yz.start(tmp_path / "odd.csv")
        assert str(made)
        loaded = yz.load(made.write(tmp_path / "odd.toml"))
        assert loaded.image("svg")
        codes = {finding.code for finding in loaded.check()}
        # A word of 300 letters fits no page.
        assert codes <= IN_THE_DATA | {"names-merged", "rows-uneven", "letters-missing", "left-out"}


def test_a_start_gives_its_parts_to_scripts_and_notebooks(folder: Path) -> None:
    made = yz.start(folder / "routes.csv")
    assert isinstance(made, yz.Start)
    assert made.profile.rows == len(pd.read_csv(folder / "routes.csv"))
    assert made.profile.column("surplus") == made.profile.of_kind("numbers")[4]
    assert made.profile.column("nothing") is None
    assert made.save(folder / "first.svg").is_file()
    shown = made._repr_html_()
    assert shown.startswith("<pre>routes.csv: 828 rows, 14 columns")
    assert "<svg" in shown
    bare = made.bare()
    assert bare.stages.brief.rule == ()
    assert bare.stages.brief.title is None
    assert len(bare.flags()) == len(made.chart.flags())
    with pytest.raises(yz.YuzenError, match="is there already"):
        made.write(made.write(folder / "once.toml"))


def test_a_brief_names_its_file_from_its_own_folder(folder: Path) -> None:
    (folder / "deep").mkdir()
    made = yz.start(folder / "routes.csv")
    near = tomllib.loads(made.brief(folder))["data"]["file"]
    far = tomllib.loads(made.brief(folder / "deep"))["data"]["file"]
    assert near == "routes.csv"
    assert (folder / "deep" / far).resolve() == (folder / "routes.csv").resolve()
    assert "data" not in tomllib.loads(yz.start({"a": ["x", "y", "z"], "v": [1, 2, 3]}).brief())


@pytest.mark.parametrize(
    ("numbers", "shown"),
    [
        ([0.25, 0.5, 0.75], "{.1%}"),
        ([3_000_000, 1, 2], "{,.1fM}"),
        ([1_200, 31, 7], "{,.0f}"),
        ([101.5, 150.25, 180.125], "{,.0f}"),
        ([10.25, 12.5, 14.125], "{,.1f}"),
    ],
)
def test_numbers_are_written_as_their_size_asks_for(numbers: list[float], shown: str) -> None:
    values = tomllib.loads(yz.start({"name": list("abc"), "v": numbers}).brief())
    assert list(values["formats"].values()) == [shown]


def test_a_profile_of_many_columns_and_many_notes_stays_short() -> None:
    wide = {"name": ["a", "b", "c"], **{f"n{place}": [1, 2, place] for place in range(1_100)}}
    told = str(yz.start(wide))
    assert "3 rows, 1,101 columns" in told
    assert "Only the first 1,000 columns were looked at." in told
    assert len(told.splitlines()) < 70
    named_by_numbers = str(yz.start({"1.5": ["a", "b", "c"], "7": [1, 2, 3]}))
    assert "The names of the columns are numbers." in named_by_numbers


@pytest.mark.parametrize(
    ("dates", "unit"),
    [
        (["2026-01-01", "2026-02-01", "2026-03-01"], "month"),
        (["2025-01-01", "2025-04-01", "2025-07-01"], "quarter"),
        (["2023-01-01", "2024-01-01", "2026-01-01"], "year"),
        (["2026-01-02", "2026-01-09", "2026-01-16"], "week"),
        (["2026-01-02", "2026-01-03", "2026-01-16"], "day"),
        (["2026-03", "2026-05"], "month"),
        (["Q1 2026", "Q3 2026"], "quarter"),
    ],
)
def test_the_period_of_dates_is_found(dates: list[str], unit: str, tmp_path: Path) -> None:
    (tmp_path / "dates.csv").write_text(
        "\n".join(["d,v", *(f"{date},1" for date in dates)]) + "\n", "utf-8"
    )
    assert profile_of(source_of(tmp_path / "dates.csv")).columns[0].unit == unit


def test_parameters_are_called_as_no_column_is() -> None:
    rows = {
        "route": list("abcdefgh"),
        "sold": [90, 80, 5, 6, 7, 8, 9, 10],
        "n": [1] * 8,
        "limit": [2] * 8,
    }
    brief = yz.start(rows).chart.stages.brief
    assert brief.parameters == {"n_set": 2}
    assert str(brief.rule[0].when) == "top n_set"
    numbers = {"limit": [i / 7 for i in range(1, 200)]}
    assert list(yz.start(numbers).chart.stages.brief.parameters) == ["limit_set"]


@given(
    st.lists(
        st.floats(0.01, 99.99).map(lambda x: round(x, 2)), min_size=40, max_size=200, unique=True
    )
)
def test_of_a_histogram_a_tenth_or_less_is_flagged(numbers: list[float]) -> None:
    brief = yz.start({"height": numbers}).chart.stages.brief
    limit = float(*brief.parameters.values())  # type: ignore[arg-type]
    beyond = sum(number >= limit for number in numbers)
    width = brief.chart.grain
    assert isinstance(width, int | float)
    # The last bin is flagged also where it holds more than a tenth of all.
    last = sum(number >= np.floor(max(numbers) / width) * width for number in numbers)
    assert 0 < beyond <= max(0.1 * len(numbers), last)


def test_columns_of_any_name_stand_beside_months(tmp_path: Path) -> None:
    head = "month,month_set,period,amount,Jan,Feb,Mar,Apr"
    lines = [head, *(f"a{i},b,c,{i},{i},{2 * i},{3 * i},{i}" for i in range(1, 6))]
    (tmp_path / "wide.csv").write_text("\n".join(lines) + "\n", "utf-8")
    wide = tomllib.loads(yz.start(tmp_path / "wide.csv").brief())["data"]["wide"]
    assert (wide["name"], wide["value"]) == ("month_set_set", "amount_set")


NAMES_OF_COLUMNS = st.text(
    st.characters(exclude_categories=["Cs"], exclude_characters="\x00"), min_size=1, max_size=8
).filter(str.strip)


@given(
    st.lists(
        NAMES_OF_COLUMNS,
        min_size=3,
        max_size=5,
        unique_by=lambda name: " ".join(name.split()).casefold(),
    )
)
def test_names_of_columns_do_not_break_the_brief(names: list[str]) -> None:
    first, *others = names
    rows = {
        first: ["x", "y", "z", "w"],
        **{name: [3, -1, 2 + place, 5] for place, name in enumerate(others)},
    }
    with suppress(yz.YuzenError):
        made = yz.start(rows)
        brief = tomllib.loads(made.brief())
        assert brief["chart"]["category"] == made.chart.stages.brief.chart.category
        assert made.chart.image("svg")


@pytest.mark.sampled(3)
@pytest.mark.parametrize(
    "kind", ["bar", "column", "line", "area", "table", "dots", "scatter", "bridge", "ring"]
)
def test_a_first_chart_of_every_kind_is_sound(kind: str, folder: Path) -> None:
    made = yz.start(folder / "routes.csv", kind=kind)
    assert made.chart.stages.brief.chart.kind == kind
    assert {finding.code for finding in made.chart.check()} <= IN_THE_DATA | {"slices-many"}
    rules = {rule.name: rule.on for rule in made.chart.stages.brief.rule}
    if kind == "table":
        assert rules["below zero"] == "column surplus"
