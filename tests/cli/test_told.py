"""Nothing that was asked for is passed over in silence: parameters, roles, rows, sources, calls."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pandas as pd
import pytest

import yuzen as yz
from tests.support.command_line import Called
from tests.support.scenes import drawn, texts_of
from yuzen.cli.printing.terminal import printable

Call = Callable[..., Called]
ROWS = {"item": ["a", "b", "c"], "v": [3, 2, 1]}


def test_parameters_that_nothing_speaks_of_are_refused(folder: Path, call: Call) -> None:
    chart = yz.load(folder / "busiest.toml")
    with pytest.raises(
        yz.YuzenError, match="The brief has no parameter 'limt', and nothing uses it yet"
    ) as error:
        chart.given(limt=8)
    assert error.value.code == "call-set"
    assert (
        chart.given(N=5).stages.brief.parameters
        == chart.given(n=5).stages.brief.parameters
        == {"n": 5}
    )
    new = yz.chart(ROWS, category="item", value="v").rule("top many", color="adverse").given(many=2)
    assert new.flags()["rule"].tolist() == ["top many", "top many", ""]
    told = call("check", "busiest.toml", "causes.toml", "--set", "n=2")
    assert (told.code, told.err) == (0, "")
    told = call("check", "busiest.toml", "causes.toml", "--set", "limt=2")
    assert told.code == 2
    assert told.err.count("no parameter 'limt'") == 2


def theme(folder: Path, text: str, **rule: Any) -> yz.Chart:
    (folder / "house.toml").write_text(text)
    chart = yz.chart(ROWS, category="item", value="v", theme=str(folder / "house.toml"))
    return chart.rule("top 1", **{"color": "adverse", **rule})


def test_misspelt_roles_are_told_and_own_ones_are_not(tmp_path: Path) -> None:
    for text in ('[roles]\nfavourable = "#112233"', '[patterns]\nadvers = "dots"'):
        with pytest.raises(yz.YuzenError, match=r"Did you mean (favorable|adverse)") as error:
            _ = theme(tmp_path, text).stages.verdict.palette
        assert error.value.code == "brief-theme"
    assert (
        theme(tmp_path, '[roles]\nfavourable = "#112233"', color="favourable").flags()["color"][0]
        == "#112233"
    )
    assert theme(tmp_path, '[roles]\nbrandy = "#112233"').flags()["color"][0] == "#C63E2F"


def test_roles_that_no_brief_uses_are_found_over_all_briefs(
    tmp_path: Path, call: Call, monkeypatch: Any
) -> None:
    monkeypatch.chdir(tmp_path)
    pd.DataFrame(ROWS).to_csv("rows.csv", index=False)
    (tmp_path / "house.toml").write_text('[roles]\nbrandy = "#445566"\n')
    for name, color in (("one", "brandy"), ("two", "adverse")):
        brief = 'theme="house.toml"\n[data]\nfile="rows.csv"\n[chart]\ncategory="item"\nvalue="v"\n'
        (tmp_path / f"{name}.toml").write_text(f'{brief}[[rule]]\nwhen="top 1"\ncolor="{color}"\n')
    assert "role-unused" in call("check", "two.toml").out
    assert "role-unused" not in call("check", "one.toml", "two.toml").out


def test_a_chart_without_rows_ends_with_3_and_writes_nothing(
    tmp_path: Path, call: Call, monkeypatch: Any
) -> None:
    monkeypatch.chdir(tmp_path)
    (tmp_path / "rows.csv").write_text("item,v\n")
    (tmp_path / "b.toml").write_text(
        '[data]\nfile="rows.csv"\n[chart]\ncategory="item"\nvalue="v"\n'
    )
    for words in (["draw", "b.toml"], ["flags", "b.toml", "-o", "f.csv"], ["why", "b.toml"]):
        told = call(*words)
        assert (told.code, told.out) == (3, "")
        assert "There is a heading, and there are no rows under it." in told.err
    assert sorted(path.name for path in tmp_path.iterdir()) == ["b.toml", "rows.csv"]
    assert "no-rows" in call("check", "b.toml").out
    (edition,) = json.loads(call("draw", "b.toml", "--json").out)
    assert edition["error"]["code"] == "data-rows"


def test_a_value_nearly_written_in_keep_is_told() -> None:
    chart = yz.chart({**ROWS, "depot": ["Ash", "Elm", "Ash"]}, category="item", value="v")
    notes = chart.keep('depot = "Asch" or depot = "Elm"').notes()
    assert notes == [
        "In keep, depot has no 'Asch'. Did you mean Ash? Write it as the rows have it."
    ]
    assert not chart.keep('depot = "Zoo" or depot = "Elm"').notes()


def test_a_word_without_quotes_and_values_that_are_several() -> None:
    rows = {
        "item": ["a", "a", "b"],
        "v": [3, 2, 1],
        "depot": ["Ash", "Elm", "Ash"],
        "team": ["x", "x", "y"],
    }
    chart = yz.chart(rows, category="item", value="v")
    for rule, message in (
        ("team = x", 'Write: team = "x"'),
        ("team above 3", "team holds words, and a number is needed here"),
        ('depot = "Ash"', "depot has several values inside one mark (a has Ash and Elm)"),
        ("highest within depot", "within depot needs one depot for each mark; a has Ash and Elm."),
    ):
        with pytest.raises(yz.YuzenError) as error:
            _ = chart.rule(rule, color="adverse").stages.verdict
        assert message in str(error.value)


SLIPS = {
    '[rule]\nwhen = "top 1"\ncolor = "adverse"': "write [[rule]], in two brackets",
    '[rule]\nwhen = "top 1"\n[rule]\nwhen = "top 2"': "write [[rule]], in two brackets",
    '[[data]]\nfile = "x.csv"': "write [data], in one pair of brackets",
    '[[rule]]\nwhen = "item = "a""': "when = 'item = \"a\"'",
    '[[rule]]\nshade = {of = "v", colors = ["red" "blue"]}': "a comma between all entries",
    '[[rule]]\nshade = "v"\n[[rule]]\nshade = "v"': "Two rules without a name say the same",
}


@pytest.mark.parametrize(("text", "message"), SLIPS.items())
def test_slips_of_toml_are_told_as_they_are_written_right(
    text: str, message: str, tmp_path: Path
) -> None:
    (tmp_path / "b.toml").write_text(f'[chart]\ncategory = "item"\nvalue = "v"\n{text}\n')
    with pytest.raises(yz.YuzenError) as error:
        yz.load(tmp_path / "b.toml")
    assert message in str(error.value)


def test_a_footer_names_the_file_that_the_rows_are_from(folder: Path) -> None:
    frame = pd.read_csv(folder / "routes.csv")
    frame.to_csv(folder / "june.csv", index=False)
    chart = yz.load(folder / "busiest.toml")
    for rows, source in (("june.csv", "june.csv"), (frame, "")):
        own = chart.with_rows(folder / rows if isinstance(rows, str) else rows)
        own = yz.Chart(own.stages.with_brief(own.stages.brief.having(footer=None)))
        assert own.stages.page.words.footer.partition("   ·   ")[0] == (
            f"Source: {source}" if source else "6 of 20 flagged"
        )
    parts = chart.with_rows(folder / "june.csv").each("waters")
    assert {part.stages.data.called for _, part in parts} == {"june.csv"}


def test_calls_say_where_things_go(folder: Path, call: Call) -> None:
    assert call("draw", "busiest.toml", "-o", "new/pictures").code == 0
    assert (folder / "new" / "pictures" / "busiest.png").exists()
    assert call("draw", "busiest.toml", "--each", "waters", "-o", "each").code == 0
    assert len(list((folder / "each").glob("busiest-*.png"))) == 4
    assert call("draw", "busiest.toml", "--theme", "press", "-o", "press.svg").code == 0
    assert "#525252" in (folder / "press.svg").read_text()
    (folder / "house.toml").write_text('base = "dusk"\n')
    assert call("draw", "busiest.toml", "--theme", "house.toml").code == 0
    one, many = (
        json.loads(call("draw", *names, "--json").out)
        for names in (["busiest.toml"], ["busiest.toml", "plan.toml"])
    )
    assert [set(edition) for edition in one] == [set(many[0])]
    assert one[0] == many[0]
    told = json.loads(call("draw", "busiest.toml", "none.toml", "--json").out)
    assert sorted(edition["error"] is None for edition in told) == [False, True]


def test_what_python_shows() -> None:
    chart = yz.chart(ROWS, category="item", value="v").rule("top 1", color="adverse")
    assert repr(chart) == "<Chart bar: v by item, rules: 1>"
    error = yz.YuzenError(yz.Fault("x", "A message."))
    assert error._render_traceback_() == ["YuzenError: A message."]
    told = subprocess.run(
        [sys.executable, "-m", "yuzen", "--help"], capture_output=True, text=True, check=True
    )
    assert "Colour the exceptions of business charts" in told.stdout


def test_keys_that_a_file_or_a_kind_has_no_need_of_are_told(tmp_path: Path) -> None:
    rows = pd.DataFrame(ROWS)
    rows.to_parquet(tmp_path / "rows.parquet")
    rows.to_json(tmp_path / "rows.json", orient="records")
    rows.to_excel(tmp_path / "rows.xlsx", index=False)
    rows.to_csv(tmp_path / "rows.csv", index=False)
    said: dict[str, Any] = {"delimiter": ",", "heading": 1, "text": ["item"]}
    for ending, needless in (
        ("parquet", "delimiter, heading and text"),
        ("json", "delimiter, heading and text"),
        ("xlsx", "delimiter"),
        ("csv", ""),
    ):
        data = {"file": f"rows.{ending}", **said}
        chart = yz.chart(tmp_path / f"rows.{ending}", category="item", value="v", data=data)  # type: ignore[arg-type]
        told = [
            note
            for note in chart.notes()
            if "under [data] has no effect for this type of file" in note
        ]
        assert [note.split(": ")[1].split(" under")[0] for note in told] == (
            [needless] if needless else []
        )
        assert [f.code for f in chart.check() if f.code == "key-needless"] == [
            "key-needless"
        ] * bool(needless)
    for kind, key, value in (
        ("bar", "smooth", True),
        ("line", "base", "lowest of v"),
    ):
        plain = yz.chart(ROWS, category="item", value="v", kind=kind)  # type: ignore[arg-type]
        keyed = yz.chart(ROWS, category="item", value="v", kind=kind, **{key: value})  # type: ignore[arg-type]
        assert next(note for note in keyed.notes() if note not in plain.notes()).startswith(
            f"{key} is for "
        )
    assert not yz.chart(
        ROWS, category="item", value="v", kind="area", base="lowest of v", smooth=True
    ).notes()


@pytest.mark.parametrize("kind", ["bar", "column", "line", "area"])
def test_a_label_of_a_part_is_written_in_bars_and_told_elsewhere(kind: Any) -> None:
    chart = yz.chart(ROWS, category="item", value="v", kind=kind)
    chart = chart.rule("always", part="above 1", color="adverse", label="over", name="r")
    if kind in {"bar", "column"}:
        assert [note for note in chart.notes() if "label" in note] == []
        assert "over" in {*texts_of(drawn(chart))}
    else:
        told = f'rule 1 "r": {kind}s write no label in a part; bars and columns do'
        assert told in chart.notes()
        assert "effect-unshown" in {finding.code for finding in chart.check()}


def test_a_rule_that_is_unknown_for_most_marks_says_why() -> None:
    rows = pd.DataFrame({"m": pd.date_range("2024-01-01", periods=24, freq="MS"), "v": range(24)})
    chart = yz.chart(rows, category="m", value="v", grain="month", kind="column")
    rule: Any = {"when": "falls on a year before", "name": "less", "color": "adverse"}
    assert not any("is unknown" in note for note in chart.rule(**rule).stages.notes)
    kept = chart.keep("m in last 12 months").rule(**rule)
    message = 'rule 1 "less" is unknown for 12 of 12 marks: they have no mark a year before; keep'
    assert any(note.startswith(message) for note in kept.stages.notes)


@pytest.mark.parametrize(
    ("rows", "rule", "told"),
    [
        ({"k": ["a", "b", "Total"], "v": [1, 2, 3]}, "highest", "'Total' looks like a total"),
        ({"k": ["Ash", "ash", "b"], "v": [1, 2, 3]}, "highest", "k has both 'ash' and 'Ash'"),
        ({"k": ["Ash", "b"], "v": [1, 2]}, 'k = "Asch"', "k has no 'Asch'. Did you mean Ash?"),
        ({"k": ["a", "b", "c"], "v": [2, 2, 1]}, "top 1", "a and b have equal numbers at the cut"),
        ({"k": ["a", "b", "c"], "v": [3, 2, 1]}, "top 1", ""),
    ],
)
def test_drawing_reports_what_makes_flags_misleading(
    rows: dict[str, list[Any]], rule: str, told: str
) -> None:
    notes = yz.chart(rows, category="k", value="v").rule(rule, color="adverse").stages.notes
    assert [told in note for note in notes] == [True] * bool(told)


@pytest.mark.parametrize(
    ("written", "right"),
    [
        ("worst", "lowest"),
        ("best 3", "top 3"),
        ("top three", "top 3"),
        ("below v by 10%", "below 90% of v"),
        ("above v by 2.5%", "above 102.5% of v"),
    ],
)
def test_what_people_say_is_answered_with_the_condition(written: str, right: str) -> None:
    chart = yz.chart({"k": ["a", "b"], "v": [1, 2]}, category="k", value="v")

    def flagged() -> pd.DataFrame:
        return chart.rule(written, color="adverse").flags()

    with pytest.raises(yz.YuzenError, match=f"Write: {right}"):
        flagged()


def test_a_call_without_a_category_says_which_one_is_drawn(call: Call, tmp_path: Path) -> None:
    (tmp_path / "r.csv").write_text("k,day,v\na,2026-01-05,1\nb,2026-01-06,2\nc,2026-01-07,9\n")
    told = call("draw", str(tmp_path / "r.csv"), "-o", str(tmp_path / "r.png"))
    assert "the column of words with the most different values" in told.err
    assert told.code == 0
    wrong = call("draw", str(tmp_path / "r.csv"), "--category", "kk")
    assert "There is no column 'kk'. Did you mean k? There are k, day and v." in wrong.err


def test_faults_of_toml_show_their_line_but_no_password(call: Call, tmp_path: Path) -> None:
    (tmp_path / "b.toml").write_text("[chart]\ncategory = route\n")
    told = call("draw", str(tmp_path / "b.toml"))
    assert 'Quotes are missing: category = "route"\n    category = route\n' in told.err
    (tmp_path / "b.toml").write_text('[data]\nurl = "pg://a:hunter2@b"x\n')
    assert "hunter2" not in call("draw", str(tmp_path / "b.toml")).err


def test_none_is_what_nobody_gave_and_blanks_of_a_locale_are_printed() -> None:
    chart = yz.chart({"k": ["a"], "v": [1]}, category="k", value="v", kind=None, theme=None)  # type: ignore[arg-type]
    assert chart.rule("highest", color="ink", badge=None, ties=None).flags()["rule"].tolist() == [  # type: ignore[arg-type]
        "highest"
    ]
    assert printable("158\u202f853\u00a0kr\x1b") == "158\u202f853\u00a0kr\N{REPLACEMENT CHARACTER}"
