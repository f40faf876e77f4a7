"""Formats, languages, words and parameters in texts, orders, and notes at marks."""

from __future__ import annotations

import json
import re
import tomllib
from datetime import date
from itertools import combinations
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from babel import Locale as Table
from babel.dates import format_date
from babel.numbers import format_percent
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

import yuzen as yz
from tests.support.command_line import Called
from tests.support.scenes import boxes_of, drawn, shapes_of, texts_of
from yuzen.brief.language import locale_of
from yuzen.compose.texts.exponent_labels import power_of
from yuzen.draw.axes.axis import tick_texts
from yuzen.formats.date_text import formatted
from yuzen.formats.locales import PLAIN_LOCALE
from yuzen.formats.number_format import Form, NumberFormat
from yuzen.rules.grammar.wording import parse_format
from yuzen.scene.primitives import Segments
from yuzen.shape.listing import sorting_key

ROWS = {
    "route": ["Ash", "Elm", "Fir", "Oak"],
    "waters": ["North", "North", "South", "South"],
    "fares": [1_250_000, 830_400, 410_000, 99_500],
    "surplus": [250_000, -83_040, 4_100, 9_950],
    "since": ["2019-04-01", "2020-05-01", "2021-06-15", "2021-07-01"],
}
MARGIN = {"margin": "total of surplus / total of fares"}


def written(chart: yz.Chart) -> list[str]:
    """Every text of a picture."""
    return texts_of(drawn(chart))


def chart(**said: Any) -> yz.Chart:
    return yz.chart(ROWS, **{"category": "route", "value": "fares", **said})


def test_a_format_is_said_once_and_used_everywhere() -> None:
    said = chart(formats={"fares": "€{,.2fM}", "surplus": "{,.0f} kr"})
    made = said.rule("fares above average", name="rich", color="favorable").reference("average")
    made = made.label("{fares}", name="f").label(" ({surplus:sign})", name="s")
    texts = written(made)
    assert any("€1.25M" in text for text in texts)
    assert any("(+250,000 kr)" in text for text in texts)
    assert any("(−83,040 kr)" in text for text in texts)
    assert "average €0.65M" in texts
    why = str(made.why("Ash"))
    assert "€1,250,000 fares, surplus 250,000 kr" in why
    assert "fares €1,250,000 is above average (€647,475, over 4 marks)" in why
    titled = chart(formats={"fares": "€{,.1fM}"}, title="{fares} in all, {highest:,.0f} at most")
    assert titled.stages.page.words.title == "€2.6M in all, 1,250,000 at most"
    shaded = chart(kind="table", value="surplus", formats={"surplus": "{,.1fk}"})
    shaded = shaded.rule("always", shade={"colors": ["adverse", "paper", "favorable"]})
    assert {"−250.0k", "250.0k"} <= {
        t
        for ramp in shaded.stages.page.key.entries
        for t in (ramp.low, ramp.high)  # type: ignore[union-attr]
    }


@pytest.mark.parametrize(
    ("measure", "expected"),
    [
        ("total of surplus / total of fares", ["20.0%", "−10.0%", "1.0%", "10.0%"]),
        ("share of fares", ["48%", "32%", "16%", "4%"]),
        ("total of surplus / total of fares - 1", ["−80%", "−110%", "−99%", "−90%"]),
        ("total of fares / total of surplus", ["5", "−10", "100", "10"]),
        ("1000 * total of surplus / total of fares", ["200", "−100", "10", "100"]),
    ],
)
def test_shares_are_written_in_percent_by_themselves(measure: str, expected: list[str]) -> None:
    said = chart(value="m", measures={"m": measure}, order="as given")
    own = [
        text
        for label in said.stages.page.charts[0].layers[0].labels
        for text in label.pieces[0].texts
    ]
    assert own == expected


@given(
    st.integers(-20, 20),
    st.builds(lambda d, p: float(f"{d}e{p}"), st.sampled_from([1, 2, 2.5, 5]), st.integers(-3, 7)),
    st.sampled_from(["{,.0f}", "{.1%}", "€{,.1fM}", "{.2f} m", "{,.0fk}"]),
)
def test_ticks_of_an_axis_are_all_alike_and_true(first: int, step: float, form: str) -> None:
    ticks = np.array([(first + place) * step for place in range(5)])
    texts = tick_texts(ticks, parse_format(form))
    plain = [t.replace("−", "-").replace(",", "").replace("€", "").replace(" m", "") for t in texts]
    digits = [re.fullmatch(r"-?\d+(\.\d+)?([%kMB]?)", text) for text in plain]
    assert len({len(d[1] or "") for d in digits if d}) == 1 or any("e" in text for text in texts)
    assert len({d[2] for d, tick in zip(digits, ticks, strict=True) if d and tick}) <= 1
    sizes = {"%": 0.01, "k": 1e3, "M": 1e6, "B": 1e9}
    for text, tick in zip(plain, ticks, strict=True):
        size = sizes.get(text[-1], 1.0)
        assert float(text.rstrip("%kMB")) * size == pytest.approx(tick, rel=1e-6, abs=1e-6 * size)


LANGUAGES = ["de", "fr", "en_GB", "sv", "pl", "tr", "pt_BR", "de_CH", "cs"]


@pytest.mark.parametrize("name", LANGUAGES)
@pytest.mark.parametrize("value", [1_234_567.891, -0.5, 12.0, 0.0])
def test_numbers_and_months_are_those_of_babels_tables(name: str, value: float) -> None:
    locale = locale_of(name)
    made = NumberFormat(Form("", ",.2f"), locale=locale).write(value)
    # By the signs of its tables: its own writing of seven digits has no thousands in de_CH (Babel 2.19).
    signs = Table.parse(name).number_symbols["latn"]
    assert made.replace("−", "-") == f"{value:,.2f}".translate(
        {44: signs["group"], 46: signs["decimal"]}
    )
    share = NumberFormat(Form("", ".1%"), locale=locale).write(abs(value) % 1)
    percent = Table.parse(name).percent_formats[None].pattern.replace("#,##0", "0.0")
    assert share == format_percent(abs(value) % 1, percent, locale=name, numbering_system="latn")
    day = date(2026, 3, 9)
    for ours, theirs in (("%B", "LLLL"), ("%b", "LLL"), ("%A", "cccc")):
        assert formatted(np.datetime64(day), ours, locale) == format_date(day, theirs, locale=name)


def test_a_locale_is_in_pictures_and_sentences_and_not_in_flags(folder: Path) -> None:
    plain = yz.load(folder / "calls.toml")
    text = (folder / "calls.toml").read_text()
    (folder / "german.toml").write_text('locale = "de"\n' + text)
    made = yz.load(folder / "german.toml")
    assert made.stages.page.words.subtitle.endswith("Juli 2023 to Juni 2026")
    texts = written(made)
    assert "58,3k" in texts
    assert "Okt" in texts
    assert "Oct" not in texts
    assert "passengers 27.930" in str(made.why("2026-02"))
    pd.testing.assert_frame_equal(made.flags(), plain.flags())
    with pytest.raises(yz.YuzenError, match="There is no locale 'xx_'"):
        chart(locale="xx_").flags()


@pytest.mark.parametrize("kind", ["bar", "column", "line", "dots", "ring", "table"])
def test_numbers_that_are_names_are_written_in_the_language(kind: Any) -> None:
    rows = {"age": [0.5, 1.5, 2.5, 3.5], "v": [4.25, 3.5, 2.75, 1.5]}
    texts = written(yz.chart(rows, kind=kind, category="age", value="v", locale="de"))
    if kind != "table":  # whose letters are drawn by themselves
        assert {"0,5", "1,5"} <= set(texts)
        assert not any(re.search(r"\d\.\d", text) for text in texts)
    page = yz.chart(rows, kind=kind, category="age", value="v", locale="de").stages.page
    assert any("2,5" in text for plot in page.plots for text in plot.texts)
    bins = yz.chart(rows, kind="column", category="age", value="v", grain=0.5, locale="de")
    assert {"0,5", "4,0"} <= set(written(bins)) or "4" in written(bins)
    assert (
        yz.chart(rows, category="age", value="v", locale="de").flags()["age"].tolist()
        == rows["age"]
    )


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("{route} in {waters}", ["Ash in North", "Elm in North", "Fir in South", "Oak in South"]),
        ("{since}", ["1 April 2019", "1 May 2020", "15 June 2021", "1 July 2021"]),
        ("{since:%b %y}", ["Apr 19", "May 20", "Jun 21", "Jul 21"]),
        ("{rank of fares:place|places}", ["place", "places", "places", "places"]),
        ("{fares:arrow ,.0fk}", ["▲ 1,250k", "▲ 830k", "▲ 410k", "▲ 100k"]),
    ],
)
def test_words_and_dates_are_written_at_marks(text: str, expected: list[str]) -> None:
    made = chart(order="as given").label(text)
    assert list(made.stages.page.charts[0].layers[0].labels[0].pieces[0].texts) == expected


@pytest.mark.parametrize(
    ("title", "message"),
    [
        (
            "{waters}",
            "waters differs from mark to mark (North and South), and one word is needed here.",
        ),
        ("{route:,.0f}", "route holds words, and this is no format of them"),
        ("{fares:%b}", "fares holds numbers, and this is a format of dates"),
        ('{names "x":a|b}', 'Names have no format. Write {names "x"}.'),
        (
            "{since:,.0f}",
            "since holds dates, and this is no format of them. Write one such as %b %Y.",
        ),
        ("{since:%Q}", "I cannot read this date format"),
        ("{latest month of route}", "A text refers to 'month of route', and route holds no dates"),
        (
            "{latest month of sinse}",
            "There is no column 'sinse' for 'month of sinse'. Did you mean since",
        ),
    ],
)
def test_what_a_title_cannot_say_is_told(title: str, message: str) -> None:
    with pytest.raises(yz.YuzenError, match=re.escape(message)):
        _ = chart(title=title).stages.page


def test_titles_say_one_word_plurals_and_the_datas_period() -> None:
    made = chart(
        title='{waters}: {count "rich"} {count "rich":route|routes}',
        data={"keep": 'waters = "North"'},
    )
    assert made.rule("highest", name="rich").stages.page.words.title == "North: 1 route"
    assert made.rule("top 2", name="rich").stages.page.words.title == "North: 2 routes"
    spans = chart(title="{earliest year} to {latest month of since:%B %Y}, {latest quarter}")
    assert spans.stages.page.words.title == "2019 to July 2021, Q3 2021"


PARAMETERS = {"home": "North", "n": 2, "opened": "2020-05", "good": "favorable", "line": "#123456"}


def test_parameters_are_words_dates_and_colors() -> None:
    made = chart(
        parameters=PARAMETERS, title="{home}: {n} since {opened}", data={"keep": "waters = home"}
    )
    made = made.rule("since after opened", name="young", color="adverse")
    made = made.rule("top n", name="busy", color="good", outline="line")
    assert made.stages.page.words.title == "North: 2 since 2020-05"
    flags = made.flags()
    assert flags["route"].tolist() == ["Ash", "Elm"]
    assert flags["role"].tolist() == ["favorable", "favorable"]
    other = made.given(home="South", opened="2021-06", good="notice")
    assert other.flags()["rule"].tolist() == ["busy", "young"]
    assert other.flags()["role"].tolist() == ["notice", "adverse"]
    with pytest.raises(yz.YuzenError, match="waters is a parameter, and waters is a column"):
        chart(parameters={"waters": "North"}).rule("route = waters", color="adverse").flags()
    several = chart(parameters={"a": "Ash", "b": "Oak"}).rule(
        "route one of a, b", name="own", color="adverse"
    )
    assert several.flags()["rule"].tolist() == ["own", "", "", "own"]


@pytest.mark.parametrize(
    ("rule", "message"),
    [
        (
            "fares above home",
            'The parameter home is the word "North", and a number is needed here.',
        ),
        ("route = Ash", 'Write: route = "Ash"'),
        ("route contains Ash", 'Write: route contains "Ash"'),
        ("since before opening", 'Write: since before "opening"'),
    ],
)
def test_words_in_the_wrong_place_are_told(rule: str, message: str) -> None:
    with pytest.raises(yz.YuzenError, match=re.escape(message)):
        chart(parameters=PARAMETERS).rule(rule, color="adverse").flags()


def test_words_are_set_by_the_command_line(folder: Path, call: Any) -> None:
    (folder / "pier.toml").write_text(
        'title = "{home}"\n[data]\nfile = "routes.csv"\nkeep = "waters = home"\n[parameters]\nhome = "Saltmarsh"\n'
        '[chart]\ncategory = "route"\nvalue = "passengers"\n'
    )
    told: Called = call("flags", "pier.toml", "--set", "home=Outer Isles", "--format", "csv")
    rows = pd.read_csv(folder / "routes.csv")
    expected = set(rows[rows["waters"] == "Outer Isles"]["route"])
    assert told.code == 0
    assert {line.split(",")[0] for line in told.out.splitlines()[1:]} == expected
    assert "North: " not in told.out
    wrong: Called = call("flags", "pier.toml", "--set", "hom=x")
    assert wrong.code == 2
    assert "Did you mean home" in wrong.err
    empty: Called = call("flags", "pier.toml", "--set", "home=")
    assert "write it like --set n=5 or --set pier=Kelpwick" in empty.err


@pytest.mark.parametrize(
    ("order", "expected"),
    [
        (["Oak", "fir"], ["Oak", "Fir", "Ash", "Elm"]),
        ("surplus, smallest first", ["Elm", "Fir", "Oak", "Ash"]),
        ("by name", ["Ash", "Elm", "Fir", "Oak"]),
    ],
)
def test_marks_stand_in_the_order_that_is_said(order: Any, expected: list[str]) -> None:
    assert chart(order=order).flags()["route"].tolist() == expected


def test_an_order_of_names_is_written_into_the_brief_as_it_was_said(tmp_path: Path) -> None:
    pd.DataFrame(ROWS).to_csv(tmp_path / "rows.csv", index=False)
    made = yz.chart(tmp_path / "rows.csv", category="route", value="fares", order=["Oak", "Ash"])
    path = made.note("strike", at="Ash").write(tmp_path / "order.toml")
    again = yz.load(path)
    assert again.flags()["route"].tolist() == ["Oak", "Ash", "Elm", "Fir"]
    assert (
        again.stages.page.charts[0].annotations
        == made.note("strike", at="Ash").stages.page.charts[0].annotations
    )


def test_names_in_an_order_that_nothing_has_are_told() -> None:
    assert any(
        "order lists 'Oat', and no route is called so. Did you mean Oak" in n
        for n in chart(order=["Oat"]).notes()
    )


@given(
    st.lists(
        st.tuples(st.sampled_from(["Ward", "Élan", "elan", "Zeta"]), st.integers(0, 200)),
        max_size=12,
    )
)
def test_names_are_sorted_by_the_numbers_in_them_and_without_accents(
    parts: list[tuple[str, int]],
) -> None:
    names = [f"{word} {number}" for word, number in parts]
    plain = {"Ward": 2, "Élan": 0, "elan": 0, "Zeta": 3}
    expected = [f"{w} {n}" for w, n in sorted(parts, key=lambda part: (plain[part[0]], part[1]))]
    assert sorted(names, key=sorting_key) == expected


@pytest.mark.parametrize(
    ("scale", "ends"),
    [
        ({"low": 0, "high": "110% of highest"}, (0.0, 1_375_000.0)),
        ({"high": "cap"}, (np.nan, 2e6)),
        ({"low": "lowest", "high": "average + 2 * deviation"}, (99_500.0, 1_649_585.378)),
    ],
)
def test_ends_of_an_axis_follow_the_data_or_the_plan(
    scale: dict[str, Any], ends: tuple[float, float]
) -> None:
    axis = chart(parameters={"cap": 2e6}, scale=scale).stages.page.charts[0].axes.value
    assert axis.ends == pytest.approx(ends, nan_ok=True, rel=1e-6)


def test_an_axis_that_ends_before_it_begins_is_refused() -> None:
    with pytest.raises(yz.YuzenError, match="low has to be less than high"):
        chart(scale={"low": 5, "high": 5})
    with pytest.raises(yz.YuzenError, match="The axis would go from 1,250,000 to 99,500"):
        _ = chart(scale={"low": "highest", "high": "lowest"}).stages.page


@pytest.mark.parametrize("kind", ["bar", "column", "line", "dots", "scatter"])
def test_the_title_of_an_axis_is_drawn(kind: Any) -> None:
    more = {"across": "surplus"} if kind == "scatter" else {}
    assert "thousand crowns" in written(
        chart(kind=kind, scale={"title": "thousand crowns"}, **more)
    )


@pytest.mark.sampled(3)
@pytest.mark.parametrize("kind", ["bar", "column", "line", "area", "dots", "bridge", "scatter"])
@pytest.mark.parametrize("seed", range(6))
def test_notes_stand_beside_their_marks_clear_of_all_else(kind: Any, seed: int) -> None:
    draw = np.random.default_rng(seed)
    count = int(draw.integers(4, 24))
    rows = {
        "item": [f"item {i}" for i in range(count)],
        "v": draw.normal(60, 40, count),
        "w": draw.random(count),
    }
    more: dict[str, Any] = {"across": "w"} if kind == "scatter" else {}
    said = yz.chart(rows, kind=kind, category="item", value="v", order="as given", **more)
    said = said.rule("top 3", color="adverse").label("{v:.0f}", show="flagged")
    notes = [
        {"at": f"item {i}", "text": f"remark {i} about it"}
        for i in draw.choice(count, 3, replace=False)
    ]
    made = yz.chart(rows, **said.spec.plain()["chart"], note=notes) if False else said  # noqa: SIM222, RUF100
    for note in notes:
        made = made.note(**note)
    figure = drawn(made)
    boxes = boxes_of(figure)
    own = [box for text, box in boxes if text.startswith("remark")]
    left_out = sum("left out" in note and "note" in note for note in made.notes())
    assert len(own) == 3 or left_out
    for (text, box), (further, other) in combinations(boxes, 2):
        if text.startswith("remark") or further.startswith("remark"):
            assert not box.overlaps(other), (text, further)
    width, height = figure.width, figure.height
    assert all(b.x0 >= 0 and b.y0 >= 0 and b.x1 <= width and b.y1 <= height for b in own)
    assert shapes_of(figure, Segments)


def test_notes_are_told_where_no_mark_has_them() -> None:
    made = chart().note("x", at="Asch").note("y", when="fares negative")
    told = "\n".join(made.notes())
    assert "note 1: no route is called 'Asch', so it is not drawn. Did you mean Ash?" in told
    assert "note 2: 'fares negative' holds for no mark, so it is not drawn." in told
    with pytest.raises(yz.YuzenError, match="a note is placed at a mark"):
        chart().note("x")
    assert "note: rings have none beside them" in "".join(
        chart(kind="ring").note("x", at="Ash").notes()
    )


def test_a_format_that_nothing_is_written_by_is_refused() -> None:
    with pytest.raises(
        yz.YuzenError,
        match=r"There is no measure and no column 'fare' to write\. Did you mean fares",
    ):
        chart(formats={"fare": "{,.0f}"}).flags()
    assert chart(formats={"surplus": "{,.0f}"}).flags() is not None
    assert PLAIN_LOCALE.number("1,234.5%") == "1,234.5%"


WHOLE: dict[str, Any] = {
    "kind": "column",
    "category": "quarter of since",
    "value": "gain",
    "locale": "de",
    "calendar": {"year_starts": "April"},
    "formats": {"gain": "{sign ,.0f} kr", "fares": "{,.1fk}"},
    "measures": {"gain": "change of fares", "calm": "moving average of fares over 2"},
    "parameters": {"good": "favorable", "home": "Ash", "least": 2},
    "title": "{home} to {latest quarter}: {highest of gain}",
    "scale": {"title": "crowns", "high": "120% of highest"},
    "note": [{"when": "fares highest", "text": "{fares} at most"}],
}


def test_a_picture_alone_says_what_its_brief_says(tmp_path: Path) -> None:
    made = yz.chart(ROWS, **WHOLE).rule("gain negative", name="less", color="adverse")
    made = made.rule("fares above calm", name="more", color="good").label("{gain} ({fares})")
    alone = yz.load_picture(made.save(tmp_path / "whole.png"))
    assert str(alone.why()) == str(made.why())
    pd.testing.assert_frame_equal(alone.flags(), made.flags())
    ours, theirs = made.stages.page, alone.stages.page
    assert ours.words == theirs.words
    assert ours.key == theirs.key
    assert ours.charts[0].annotations == theirs.charts[0].annotations
    assert ours.charts[0].axes.value == theirs.charts[0].axes.value
    assert written(alone) == written(made)
    assert "crowns" in written(made)
    assert ours.words.title.startswith("Ash to Q2 2021/22: ")


def test_a_brief_goes_through_toml_and_the_schema_as_it_is(tmp_path: Path, call: Any) -> None:
    pd.DataFrame(ROWS).to_csv(tmp_path / "rows.csv", index=False)
    made = yz.chart(tmp_path / "rows.csv", **WHOLE).rule("gain negative", color="adverse")
    again = yz.load(made.write(tmp_path / "whole.toml"))
    pd.testing.assert_frame_equal(again.flags(), made.flags())
    assert again.stages.page.words == made.stages.page.words
    schema = Draft202012Validator(json.loads(call("schema").out))
    assert not list(schema.iter_errors(tomllib.loads((tmp_path / "whole.toml").read_text())))
    for key, odd in (
        ("calendar", {"year_starts": "Apr"}),
        ("note", [{"text": 3}]),
        ("formats", {"a": 3}),
    ):
        broken = tomllib.loads((tmp_path / "whole.toml").read_text()) | {key: odd}
        assert list(schema.iter_errors(broken)), key


TABLE = {"kind": "table", "category": "route", "value": "fares", "order": "surplus, largest first"}


def test_tables_have_columns_of_measures_of_marks_in_their_formats() -> None:
    made = yz.chart(ROWS, **TABLE, locale="fr", formats={"place": "{.0f}.", "fares": "{,.1fk}"})  # type: ignore[arg-type]
    made = made.measure(place="rank of fares", so_far="running share of fares")
    for name in ("fares", "place", "so_far"):
        made = made.column(name)
    table = made.stages.page.table
    assert table is not None
    cells = [[text for piece in column.pieces for text in piece.texts] for column in table.columns]
    fares = [1_250_000, 99_500, 410_000, 830_400]
    assert cells[0] == [
        f"{fare / 1e3:,.1f}k".replace(",", "\u202f").replace(".", ",") for fare in fares
    ]
    assert cells[1] == ["1.", "4.", "3.", "2."]
    total, shares = sum(fares), np.cumsum(fares)
    assert cells[2] == [
        f"{share / total:.0%}".replace("%", "\u202f%") for share in shares
    ] or cells[2] == [f"{share / total:.0%}".replace("%", "\xa0%") for share in shares]


@pytest.mark.parametrize("kind", ["bar", "column", "line", "area", "dots", "table", "ring"])
def test_kinds_agree_on_measures_of_marks(kind: Any) -> None:
    rows = {"m": [f"2024-{i:02d}" for i in range(1, 9)], "v": [3, 5, 4, 9, 2, 6, 7, 1]}
    plain = yz.chart(rows, category="m", value="v", order="in time")
    made = yz.chart(rows, kind=kind, category="m", value="v", order="in time")
    found = []
    for one in (plain, made):
        ruled = one.measure(calm="moving average of v over 3", step="change of v")
        ruled = ruled.rule("v above calm", name="above", color="adverse").rule(
            "step negative", name="down", outline="ink"
        )
        found.append(ruled.flags()[["m", "v", "calm", "step", "rule", "also", "unknown"]])
    pd.testing.assert_frame_equal(found[0], found[1])


@pytest.mark.parametrize(
    ("largest", "power"),
    [(9.99e12, 0), (1e13, 13), (1.5e13, 13), (1e-4, 0), (0.99e-4, -5), (3e300, 300), (0.0, 0)],
)
def test_axes_are_in_powers_of_ten_from_ten_trillion_on_and_below_a_ten_thousandth(
    largest: float, power: int
) -> None:
    assert power_of(np.array([largest, -largest / 2, np.nan, np.inf])) == power
