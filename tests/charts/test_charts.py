"""Charts from Python: rules, flags, reasons, briefs and records."""

from __future__ import annotations

import copy
import json
import pickle
import re
import subprocess
import sys
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor
from io import BytesIO
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import pandas as pd
import pytest
from PIL import Image

import yuzen as yz
from tests.support.ferries import CHARTS, LAST_YEAR
from yuzen.page.page import KeyEntry


@pytest.fixture
def chart(routes: pd.DataFrame) -> yz.Chart:
    """The busiest routes, and those that lose money."""
    return (
        yz.chart(routes, category="route", value="passengers")
        .keep(LAST_YEAR)
        .rule("surplus negative", color="adverse", name="loss", key="Runs at a loss")
        .rule("top n", color="favorable", name="busiest")
        .given(n=3)
    )


def test_flags_as_pandas_would_make_them(chart: yz.Chart, last_year: pd.DataFrame) -> None:
    sums = last_year.groupby("route")[["passengers", "surplus"]].sum()
    flags = chart.flags().set_index("route")
    loss = sums["surplus"] < 0
    busiest = sums["passengers"].rank(method="min", ascending=False) <= 3
    expected = pd.Series("", sums.index).mask(busiest, "busiest").mask(loss, "loss")
    assert flags["rule"].to_dict() == expected.to_dict()
    assert (
        flags["also"].to_dict()
        == pd.Series("", sums.index).mask(loss & busiest, "busiest").to_dict()
    )
    assert set(zip(flags["rule"], flags["role"], flags["color"], strict=True)) == {
        ("loss", "adverse", "#C63E2F"),
        ("busiest", "favorable", "#0A4A80"),
        ("", "quiet", "#C9CCD0"),
    }
    assert list(flags.columns) == [
        "passengers", "surplus", "target", "rule", "role", "color", "also", "unknown",
    ]  # fmt: skip


def test_why_tells_winner_beaten_and_numbers(chart: yz.Chart) -> None:
    assert str(chart.why("brinewick")) == (
        "Brinewick  48,980 passengers, surplus −16,890  (12 rows)\n"
        '  bar  adverse (#C63E2F)  rule 1 "loss": surplus −16,890 is negative\n'
        '       also held          rule 2 "busiest": passengers 48,980 ranks 3 of 20, top n (3)'
    )
    everything = chart.why()
    assert [mark.name for mark in everything.marks] == [
        "Cinderquay", "Gullhaven", "Brinewick", "Hollowmere", "Kelpwick", "Quarrel Head",
    ]  # fmt: skip
    assert str(everything).endswith("14 more: no rule holds.")
    quiet = str(chart.why("Larkholm"))
    assert "quiet (#C9CCD0)  no rule holds" in quiet
    assert quiet.count("not held") == 2
    assert (
        json.loads(json.dumps(chart.why("Brinewick").data()))[0]["rules"][1]["outcome"]
        == "also held"
    )
    with pytest.raises(yz.YuzenError, match="Did you mean Brinewick"):
        chart.why("Brinewik")


def test_a_chart_never_changes(chart: yz.Chart, last_year: pd.DataFrame) -> None:
    before = chart.brief()
    few = chart.given(n=1).rule("always", color="notice").with_rows(last_year[:24])
    assert len(few.stages.marks) == 2
    assert chart.brief() == before
    assert len(chart.stages.marks) == 20


def test_a_brief_is_the_same_chart(chart: yz.Chart, routes: pd.DataFrame, tmp_path: Path) -> None:
    full = chart.reference("average", label="usual {average:,.0f}").label("{passengers:,.0f}")
    (tmp_path / "chart.toml").write_text(full.brief(), encoding="utf-8")
    loaded = yz.load(tmp_path / "chart.toml")
    assert loaded.stages.brief == full.stages.brief
    pd.testing.assert_frame_equal(loaded.with_rows(routes).flags(), full.flags())


@pytest.mark.parametrize("kind", ["png", "svg", "pdf"])
def test_a_picture_alone_can_be_asked_why(chart: yz.Chart, kind: Any, tmp_path: Path) -> None:
    path = chart.save(tmp_path / f"chart.{kind}")
    again = yz.load_picture(path)
    assert str(again.why()) == str(chart.why())
    pd.testing.assert_frame_equal(again.flags(), chart.flags())
    assert again.brief() == chart.brief()


def test_a_notebook_shows_a_chart(chart: yz.Chart) -> None:
    data, sizes = chart._repr_mimebundle_()
    with (
        Image.open(BytesIO(data["image/png"])) as picture,
        Image.open(BytesIO(chart.image())) as plain,
    ):
        assert picture.size == (2 * plain.width, 2 * plain.height)
        shown = {"width": plain.width, "height": plain.height, "alt": chart.alt()}
        assert sizes == {"image/png": shown}
    unprefixed = re.sub("chart-[0-9a-f]{8}-", "", data["image/svg+xml"])
    assert unprefixed == chart.image("svg").decode()
    assert data["text/plain"] == chart.alt()
    assert set(chart._repr_mimebundle_(include={"image/png", "text/plain"})[0]) == {
        "image/png",
        "text/plain",
    }
    assert set(chart._repr_mimebundle_(exclude={"image/svg+xml"})[0]) == {"image/png", "text/plain"}


def test_charts_are_copied_compared_hashed_and_sent_elsewhere(chart: yz.Chart) -> None:
    picture = chart.image()
    again = pickle.loads(pickle.dumps(chart))  # noqa: S301 - our own
    for same in (again, copy.copy(chart), copy.deepcopy(chart), chart.given()):
        assert (same, hash(same)) == (chart, hash(chart))
    for other in (
        chart.rule("lowest", color="notice"),
        chart.themed("dusk"),
        chart.with_rows({"route": ["a"]}),
    ):
        assert other != chart
        assert other != 3
    assert again.image() == picture
    assert len({chart, again, chart.themed("dusk")}) == 2
    with ThreadPoolExecutor(8) as threads:
        assert set(threads.map(lambda _: chart.image(), range(16))) == {picture}
    with ProcessPoolExecutor(2, mp_context=get_context("spawn")) as processes:
        assert list(processes.map(yz.Chart.image, [chart, again])) == [picture, picture]
    code = [sys.executable, "-m", "yuzen", "--version"]
    assert (
        subprocess.run(code, capture_output=True, text=True, check=True)
        .stdout.strip()
        .endswith(yz.__version__)
    )


def test_every_demo_chart_speaks_the_truth() -> None:
    for name, chart in CHARTS.items():
        page = chart.stages.page
        flags = chart.flags().query("rule != ''")
        flagged = flags[
            flags["target"].isin(["mark", "line"]) | flags["target"].str.match("(layer|column) ")
        ]
        fills = [entry for entry in page.key.entries if isinstance(entry, KeyEntry)]
        shown = {
            entry.color
            for entry in fills
            if entry.seen in {"fill", "line", "point"} and not entry.outline
        }
        shown -= {chart.stages.theme.color("slate")}
        base = chart.stages.verdict.palette.base
        quiet = {*base.series, *base.layers.values()}
        cut = {
            chart.stages.theme.color(rule.section.color)
            for rule in chart.stages.design.rules
            if rule.section.part is not None
        }
        quiet |= {chart.stages.theme.color("ink")} if chart.stages.design.traits.steps else set()
        assert shown - quiet | cut == set(flagged[flagged["role"] != ""]["color"]) - quiet | cut, (
            name
        )
        assert page.words.title, name
        assert "{" not in page.words.title + page.words.subtitle + page.words.footer, name


FAULTS: list[tuple[dict[str, Any], str]] = [
    ({"rules": [{"when": "top 3", "color": "favourable"}]}, "rules names a file of rules. The brief's own are entries: [[rule]]"),
    ({"rule": [{"when": "top 3", "color": "favourable"}]},
     "rule 1 \"top 3\", color: I know no color 'favourable'. Did you mean favorable?"),
    ({"rule": [{"when": "top 3", "colour": "adverse"}]}, "I know no key 'colour' in rule 1. Did you mean color?"),
    ({"rule": [{"when": "top 3", "color": "#12345"}]}, "CSS name or #RRGGBB"),
    ({"rule": [{"color": "adverse"}]}, 'rule 1: when is missing; say "always"'),
    ({"rule": [{"when": "top 3"}, {"when": "top 3"}]}, 'Two rules without a name say the same, "top 3"'),
    ({"rule": [{"when": "top 3", "on": "lable"}]}, "There is no 'lable' to act on. Did you mean label?"),
    ({"rule": [{"when": "top 3", "ties": "dence"}]}, "competition, dense, ordinal. Did you mean dense?"),
    ({"kind": "barr"}, "Did you mean bar?"),
    ({"order": "largest frist"}, "Did you mean largest first?"),
    ({"theme": "lines"}, "I know no theme 'lines'. Did you mean linen?"),
    ({"title": "{passengers:,.0f"}, "This brace is not closed"),
    ({"title": "{passengers:>9s}"}, "I cannot read this number format"),
    ({"title": "{passengers.__class__}"}, "I cannot read"),
    ({"title": "{surplu}"}, "title: I know no measure or column 'surplu'. Did you mean surplus?"),
    ({"title": '{count "los"}', "rule": [{"when": "top 3", "name": "loss"}]}, "Did you mean loss?"),
    ({"label": [{"text": "{x + }"}]}, "label 1, text: "),
    ({"reference": [{"at": "averge"}]}, "reference 1: I know no measure or column 'averge'. Did you mean average?"),
    ({"size": {"width": 99_999}}, "size, width"),
    ({"parameters": {"n": float("inf")}}, "parameters, n"),
]  # fmt: skip


@pytest.mark.parametrize(("said", "message"), FAULTS)
def test_faults_of_a_brief_name_place_and_remedy(
    said: dict[str, Any], message: str, last_year: pd.DataFrame
) -> None:
    with pytest.raises(yz.YuzenError) as error:
        _ = yz.chart(last_year, **{"category": "route", "value": "passengers", **said}).stages.page
    assert message in str(error.value)
    assert error.value.exit_code == 2


def test_all_faults_of_a_brief_come_at_once(last_year: pd.DataFrame) -> None:
    rules = [{"when": "top"}, {"when": "value > ", "color": 3}]
    with pytest.raises(yz.YuzenError) as error:
        yz.chart(last_year, category="route", value="passengers", kind="pie", rule=rules)  # type: ignore[arg-type]
    assert [fault.where.split(",")[0] for fault in error.value.faults] == [
        "chart",
        "rule 1",
        "rule 2",
        "rule 2",
    ]


TEXTS = {
    "{total:,.0f}": "300",
    "{average:.1f} of {highest}": "100.0 of 200",
    "{n:.0f} {{n}}": "2 {n}",
    '{count "low"} {names "low"} {share "low":.0%}': "2 a and b 33%",
    '{names "none"}': "none",
    "{highest of change of v:sign .0f}": "+150",
    "{average / lowest - 1:arrow .0%}": "▲ 100%",
    "{lowest - highest:paren ,.1fk}": "(0.1k)",
    "{v:,.0f} people": "300 people",
}


@pytest.mark.parametrize(("text", "filled"), TEXTS.items())
def test_texts_with_numbers(text: str, filled: str) -> None:
    rows = {"item": ["a", "b", "c"], "v": [50, 50, 200]}
    chart = yz.chart(
        rows, category="item", value="v", title=text, order="as given", parameters={"n": 2}
    )
    chart = chart.rule("v below average", name="low", color="adverse").rule("v > 999", name="none")
    assert chart.stages.page.words.title == filled
