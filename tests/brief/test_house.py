"""What briefs share or are given: rules of the house, parameters that are lists or move, second tables."""

from __future__ import annotations

import datetime as dt
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest

import yuzen as yz
from tests.support.command_line import Called

HOUSE = """
[parameters]
n = 2
unused = 9

[[rule]]
name = "loss"
when = "surplus negative"
color = "adverse"

[[rule]]
when = "top n"
color = "favorable"

[[rule]]
name = "thin"
when = "margin below 5%"
badge = "down"

[[rule]]
on = "layer plan"
when = "missing"
color = "notice"
"""
BRIEF = """
rules = "house.toml"
[data]
file = "rows.csv"
[chart]
category = "route"
value = "v"
[[rule]]
when = "lowest"
color = "notice"
"""
ROWS = "route,v,surplus\nAsh,3,-2\nElm,9,4\nOak,5,1\nYew,1,1\n"


@pytest.fixture
def house(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    for name, text in {"house.toml": HOUSE, "brief.toml": BRIEF, "rows.csv": ROWS}.items():
        (tmp_path / name).write_text(text)
    monkeypatch.chdir(tmp_path)
    return tmp_path


def test_rules_of_the_house_stand_before_those_of_the_brief(house: Path, call: Any) -> None:
    chart = yz.load("brief.toml")
    table = chart.flags().set_index("route")
    assert table["rule"].to_dict() == {
        "Elm": "top n",
        "Oak": "top n",
        "Ash": "loss",
        "Yew": "lowest",
    }
    assert chart.given(n=1).flags()["rule"].tolist().count("top n") == 1
    notes = "\n".join(chart.notes())
    assert (
        "house.toml, rule 3 \"thin\" does not apply here: there is no measure or column 'margin'"
        in notes
    )
    assert "there is no 'layer plan' to act on" in notes
    found = {finding.code: finding for finding in chart.check()}
    assert "rule-elsewhere" in found
    assert "parameter-unused" not in found
    assert 'rules = "house.toml"' in chart.brief()
    measured = chart.measure(margin="total of surplus / total of v").flags()
    assert measured.set_index("route").loc["Ash", "also"] == "thin"
    chart.save("picture.png")
    (house / "house.toml").unlink()
    assert yz.load_picture("picture.png").flags().equals(chart.flags())
    told: Called = call("draw", "brief.toml")
    assert (told.code, told.err.strip()) == (
        2,
        "yuzen: rules: There is no file of rules house.toml.",
    )


@pytest.mark.parametrize(
    ("old", "new", "message"),
    [
        ("surplus negative", "route above 3", 'house.toml, line 8, rule 1 "loss": route holds words'),
        ('color = "adverse"', 'colour = "adverse"', "house.toml, line 9: I know no key 'colour'"),
        ("surplus negative", "surplus negativ", "house.toml, line 8"),
        ("[parameters]", "[title]", "I know no key 'title'"),
        ("n = 2", "n = ", "This is no TOML"),
        ('name = "thin"', 'name = "loss"', 'Two rules are called "loss"'),
    ],
)  # fmt: skip
def test_what_is_wrong_in_the_house_is_told_with_its_file_and_line(
    old: str, new: str, message: str, house: Path
) -> None:
    text = HOUSE.replace(old, new, 1).replace("margin below", "surplus below")
    (house / "house.toml").write_text(text)
    with pytest.raises(yz.YuzenError) as error:
        yz.load("brief.toml").flags()
    assert message in str(error.value)


@pytest.mark.usefixtures("house")
def test_rules_that_say_the_same_on_different_targets_need_no_names() -> None:
    chart = yz.load("brief.toml").rule("lowest", on="label", color="notice")
    targets = chart.flags().set_index("target")["rule"]
    assert (targets == "lowest").sum() == 2
    with pytest.raises(yz.YuzenError, match="Two rules without a name say the same"):
        chart.rule("lowest", on="label", weight="bold")


@pytest.mark.usefixtures("house")
def test_parameters_are_lists_of_words(call: Any) -> None:
    chart = yz.chart("rows.csv", category="route", value="v", parameters={"piers": ["Ash", "oak"]}, title="At {piers}")  # fmt: skip
    chart = chart.rule("route one of piers", name="own", key="Near {piers}", color="adverse")

    def own(of: yz.Chart) -> set[str]:
        table = of.flags()
        return set(table["route"][table["rule"] == "own"])

    assert own(chart) == {"Ash", "Oak"}
    assert (
        own(chart.given(piers="Elm, Yew"))
        == own(chart.given(piers=["Elm", "Yew"]))
        == {"Elm", "Yew"}
    )
    assert chart.stages.page.words.title == "At Ash and oak"
    assert "piers = [" in chart.brief()
    chart.write("piers.toml")
    told: Called = call("flags", "piers.toml", "--set", "piers=Yew,Ash", "--format", "csv")
    assert told.out.count(",own,") == 2
    for condition in (
        "route = piers",
        "v above piers",
        "route starts with piers",
        "route != piers",
    ):
        with pytest.raises(yz.YuzenError, match="The parameter piers is a list of words"):
            chart.rule(condition, name="odd").flags()


def test_today_moves_is_told_and_is_kept_by_the_picture(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    today = dt.datetime.now().astimezone().date()
    days = [today - dt.timedelta(days=1), today, today + dt.timedelta(days=1)]
    rows = {"route": ["Ash", "Elm", "Oak"], "v": [3, 2, 1], "day": days}
    chart = yz.chart(rows, category="route", value="v").keep("day before today")
    assert chart.flags()["route"].tolist() == ["Ash"]
    assert f"today is {today.day} {today:%B %Y}" in chart.stages.page.words.footer
    until = yz.chart(rows, category="route", value="v", parameters={"until": "today"}, title="{until}").keep("not day after until")  # fmt: skip
    assert until.flags()["route"].tolist() == ["Ash", "Elm"]
    assert until.stages.page.words.title == today.isoformat()
    fixed = until.given(until=str(days[0]))
    assert fixed.flags()["route"].tolist() == ["Ash"]
    assert "today" not in fixed.stages.page.words.footer
    assert chart.given(today=days[2].isoformat()).flags()["route"].tolist() == ["Ash", "Elm"]
    assert f'today = "{today.isoformat()}"' in _record(chart)
    with pytest.raises(
        yz.YuzenError, match="The brief has no parameter 'today', and nothing uses it"
    ):
        fixed.given(today="2026-01-01")


def _record(chart: yz.Chart) -> str:
    chart.save("today.png")
    return yz.load_picture("today.png").brief()


def tables(seed: int) -> tuple[pd.DataFrame, pd.DataFrame]:
    draw = np.random.default_rng(seed)
    keys = [(route, month) for route in ("Ash", "Elm", "Oak") for month in pd.date_range("2026-01-01", periods=5, freq="MS")]  # fmt: skip
    rows = pd.DataFrame(keys, columns=["route", "month"])
    rows["v"] = draw.integers(1, 9, len(rows))
    targets = rows[["route", "month"]].sample(frac=1, random_state=seed)
    targets["target"] = draw.integers(1, 9, len(targets))
    return rows, targets


PLACES = {
    "csv": ('file = "rows.csv"', 'file = "targets.csv"'),
    "parquet": ('file = "rows.parquet"', 'file = "targets.csv"'),
    "database": ('url = "sqlite:///both.db"\ntable = "rows"', 'table = "targets"'),
}


@pytest.mark.parametrize("place", PLACES)
def test_a_second_table_is_joined_one_row_for_one(
    place: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    rows, targets = tables(3)
    rows.to_csv("rows.csv", index=False)
    rows.to_parquet("rows.parquet")
    targets.assign(month=targets["month"].dt.strftime("%Y-%m")).to_csv("targets.csv", index=False)
    with closing(sqlite3.connect("both.db")) as base, base:
        for name, table in {"rows": rows, "targets": targets}.items():
            table.assign(month=table["month"].dt.strftime("%Y-%m-%d")).to_sql(
                name, base, index=False
            )
    first, second = PLACES[place]
    Path("brief.toml").write_text(
        f'[data]\n{first}\n[data.also]\n{second}\nby = ["route", "month"]\n'
        '[chart]\ncategory = "route"\nvalue = "v"\n[[rule]]\nwhen = "below target"\nname = "late"\ncolor = "adverse"\n'
    )
    sums = rows.merge(targets, on=["route", "month"]).groupby("route")[["v", "target"]].sum()
    table = yz.load("brief.toml").flags().set_index("route")
    assert set(table.index[table["rule"] == "late"]) == set(sums.index[sums["v"] < sums["target"]])


@pytest.mark.parametrize(
    ("change", "message"),
    [
        (lambda rows, more: (rows, more.drop(more.index[:2])), "targets.csv has no row for "),
        (lambda rows, more: (rows, pd.concat([more, more.iloc[:1]])), "targets.csv has several rows for "),
        (lambda rows, more: (pd.concat([rows, rows.iloc[:1]]), more), "Several rows are joined with one of targets.csv: Ash · 2026-01"),
        (lambda rows, more: (rows, more.assign(v=1)), "Both tables have the columns: v"),
        (lambda rows, more: (rows, more.rename(columns={"month": "monat"})), "There is no column 'month' in targets.csv to join by. Did you mean monat"),
        (lambda rows, more: (rows, more.assign(month=1)), "month holds dates in one table and numbers in the other"),
    ],
)  # fmt: skip
def test_rows_without_one_partner_are_refused_by_name(
    change: Any, message: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    rows, targets = change(*tables(1))
    targets.to_csv("targets.csv", index=False)
    chart = yz.chart(rows, category="route", value="v", data={"also": {"file": "targets.csv", "by": ["route", "month"]}})  # fmt: skip
    with pytest.raises(yz.YuzenError) as error:
        chart.rule("below target", name="r", color="adverse").flags()
    assert message in str(error.value)
    if "no row" in message:
        # What is not kept needs no partner.
        missing = set(tables(1)[1]["route"]) - set(targets["route"][targets["route"] != "Ash"])
        assert missing <= {"Ash"}
        whole = targets.groupby("route").size()
        full = whole.index[whole == 5][0]
        assert len(chart.keep(f'route = "{full}"').rule("below target", name="r").flags()) == 1
