"""What pictures say to those who do not see them: alternative texts, and titles at marks."""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import numpy as np
import pandas as pd
import pytest
from PIL import Image
from tools.legibility.charts import chart_of

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.sampling import SAMPLED, seeds
from tests.support.written_numbers import number_of
from yuzen.compose.judged_chart import MAX_NAMED_MARKS
from yuzen.errors import YuzenError
from yuzen.formats.english import ENGLISH
from yuzen.formats.words import Words, plural_form, words_fault, words_of

SVG = "{http://www.w3.org/2000/svg}"
LANGUAGES = ("de", "fr", "es", "it", "nl", "pl")
FOUND = re.compile(r": ([\d,]+) of ([\d,]+)(?:, (.*))?\.$")


def judged_against_flags(chart: yz.Chart) -> int:
    """Read every number of an alternative text, and hold it against the flags. Returns how many."""
    stages = chart.stages
    told, flags = chart.alt(), chart.flags()
    assert len(told.split()) <= 60
    marks, called = stages.marks, stages.judged.called
    own = flags[flags["target"] == "mark"].reset_index(drop=True)
    assert len(own) == len(called) or marks.sums.any()
    numbers_read = 0
    for index, rule in enumerate(stages.verdict.rules):
        section = stages.design.rules[index].section
        key = section.key.text if section.key else section.name or section.condition_text
        start = f"{key[:1].upper()}{key[1:]}"
        sentence = next(
            (part for part in sentences_of(told) if part.startswith(f"{start}: ")), None
        )
        if sentence is None or "{" in key:
            continue
        found = FOUND.search(sentence.removeprefix(start))
        assert found is not None, sentence
        table = flags[flags["target"] == str(rule.on)]
        also = table["also"].str.split("; ").apply(lambda names: rule.name in names)  # noqa: B023
        held = table[(table["rule"] == rule.name) | also]
        assert int(found[1].replace(",", "")) == len(held), sentence
        numbers_read += 1
        for name, text in re.findall(
            r"(?:^|[,;] | and )([^();]*?) \(([^()]*|\([^()]*\))\)", found[3] or ""
        ):
            place = called.index(name.removeprefix("and "))
            measure = next(
                (m for m in marks.columns if text.startswith(f"{m.replace('_', ' ')} ")), None
            )
            column = np.asarray(marks.columns[measure or measure_of(stages, index)], dtype=float)
            if "–" in text:
                assert np.isnan(column[place])
                continue
            value, near = number_of(text.removeprefix(f"{(measure or '').replace('_', ' ')} "))
            parts = stages.context.part_values(rule)[place] if measure is None else np.nan
            assert (
                min(abs(value - column[place]), abs(value - np.nan_to_num(parts, nan=np.inf)))
                <= near
            ), (name, text)
            numbers_read += 1
    return numbers_read


def measure_of(stages: Any, index: int) -> str:
    """The measure that a rule's numbers are of where none is named."""
    rule = stages.design.rules[index]
    layer = stages.design.layer_of(rule.on)
    return str(layer.value if layer is not None else stages.marks.value)


def sentences_of(text: str) -> Iterator[str]:
    """The sentences after the title's: each ends with a full stop before a capital, or at the end."""
    yield from re.split(r"(?<=\.) (?=[A-ZÄÖÜ])", text)


@pytest.mark.parametrize("name", CHARTS)
def test_every_number_of_an_alternative_text_is_true(name: str) -> None:
    chart = CHARTS[name]
    told, marks = chart.alt(), chart.stages.marks
    values = np.asarray(marks.columns[marks.value], dtype=float)
    items = np.flatnonzero(~marks.totals & np.isfinite(values))
    assert f", {np.count_nonzero(~marks.totals):,} " in told
    low, high = re.search(r" from (\S+) \((.*?)\) to (\S+) \((.*?)\)\. ?", told).group(1, 3)  # type: ignore[union-attr]
    for text, true in ((low, values[items].min()), (high, values[items].max())):
        value, near = number_of(text)
        assert abs(value - true) <= near
    judged_against_flags(chart)


def test_numbers_of_random_charts_are_true() -> None:
    read = 0
    for seed in seeds(40_000, 40_300):
        try:
            read += judged_against_flags(chart_of(seed))
        except YuzenError:
            continue
    assert read > 300 // SAMPLED


def test_rules_on_columns_layers_and_small_parts_are_told_with_their_own_numbers() -> None:
    rows = {"c": list("abcd"), "v": [1.0, 2, 3, 4], "w": [40.0, 30, -20, 10]}
    table = yz.chart(rows, kind="table", category="c", value="v").column("v").column("w")
    table = table.rule("negative", on="column w", color="adverse", name="under")
    assert "Under: 1 of 4, c (w −20)." in table.alt()
    layered = yz.chart(rows, category="c", value="v").layer("plan", value="w", kind="tick")
    layered = layered.rule("highest", on="layer plan", color="adverse", name="best plan")
    assert "Best plan: 1 of 4, a (w 40)." in layered.alt()
    ringed = yz.chart(rows, category="c", value="v").rule("highest", outline="ink", name="ring")
    assert "Ring: 1 of 4, d (4)." in ringed.alt()


@pytest.mark.parametrize("language", LANGUAGES)
def test_every_language_has_all_words_and_writes_them(language: str) -> None:
    words = words_of(language)
    assert words.texts.keys() == ENGLISH.keys()
    assert not [fault for key, text in words.texts.items() if (fault := words_fault(key, text))]
    assert all("{" not in words.texts[key] for key in words.texts if key.startswith("marks"))
    rows = {"c": list("abc"), "v": [-1.0, 2, 3]}
    chart = yz.chart(rows, category="c", value="v", locale=language)
    chart = chart.rule("negative", color="adverse")
    said = [chart.alt(), chart.stages.page.words.footer]
    said += [entry.text for entry in chart.stages.page.key.entries]
    assert words.texts["rest"] in said
    assert words.say("flagged", flagged=1, asked=3) in said
    english = {"flagged", "bars", "the rest", "from"}
    assert not english & set(" ".join(said).split())
    assert f'lang="{language}"' in chart.image("svg").decode()


def test_plural_forms_are_those_of_babel() -> None:
    babel = pytest.importorskip("babel")
    order = {"one": 0, "few": 1, "many": 2, "other": 2}
    for language in ("en", *LANGUAGES):
        rule = babel.Locale.parse(language).plural_form
        for count in range(300):
            expected = min(order[rule(count)], 2 if language == "pl" else 1)
            assert plural_form(language, count) == expected, (language, count)


def test_a_house_and_a_brief_have_their_own_words(tmp_path: Path) -> None:
    theme = tmp_path / "house.toml"
    theme.write_text('[words]\nrest = "all others"\nflagged = "{flagged}/{asked}"\n')
    rows = {"c": list("abc"), "v": [-1.0, 2, 3]}
    chart = yz.chart(
        rows, category="c", value="v", theme=str(theme), words={"rest": "what is left"}
    )
    page = chart.rule("negative", color="adverse").stages.page
    assert [entry.text for entry in page.key.entries] == ["negative", "what is left"]
    assert page.words.footer == "1/3"
    for text, message in (
        ('[words]\nrset = "x"\n', "I know no words 'rset'. Did you mean rest?"),
        ('[words]\nrest = "{count} x"\n', "'rest' knows no {count}, but no braces."),
    ):
        theme.write_text(text)
        with pytest.raises(YuzenError, match=re.escape(message)):
            _ = chart.stages.page
    assert Words().say("flagged", flagged="{asked}", asked=1) == "{asked} of 1 flagged"


def test_every_mark_of_an_svg_says_what_why_says() -> None:
    rows = {"route": ["Brinewick", "Kelpwick", "Eel <&>"], "surplus": [-16_890.0, 120, 3]}
    chart = yz.chart(rows, category="route", value="surplus").rule("negative", color="adverse")
    root = ET.fromstring(  # noqa: S314 - our own
        chart.image("svg")
    )
    titles = [element.text for element in root.iter(f"{SVG}title")]
    assert titles[1:] == [
        "Kelpwick: 120 surplus", "Eel <&>: 3 surplus", "Brinewick: surplus −16,890 is negative",
    ]  # fmt: skip
    assert str(chart.why("Brinewick")).endswith("surplus −16,890 is negative")
    assert root.attrib["role"] == "img"
    named = {element.get("id"): element.text for element in root}
    assert named[root.attrib["aria-labelledby"]] == "Surplus by route"
    assert named[root.attrib["aria-describedby"]] == chart.alt()


@pytest.mark.parametrize("kind", ["line", "dots", "scatter", "ring", "table", "bridge"])
def test_marks_of_every_kind_have_titles(kind: Any) -> None:
    rows = {"c": list("abcd"), "v": [3.0, 2, 5, 4], "w": [1.0, 2, 3, 4], "p": list("xxyy")}
    more: dict[str, Any] = {"across": "w"} if kind == "scatter" else {}
    chart = yz.chart(
        rows, kind=kind, category="c", value="v", panels=None if kind == "table" else "p", **more
    )
    chart = chart.rule("always", shade="v")
    root = ET.fromstring(  # noqa: S314 - our own
        chart.image("svg")
    )
    said = {(element.text or "").split(":")[0] for element in root.iter(f"{SVG}title")}
    assert {*chart.stages.judged.called} <= said


def test_files_hold_title_description_and_language(tmp_path: Path) -> None:
    rows = pd.DataFrame({"c": list("abc"), "v": [-1.0, 2, 3]})
    chart = yz.chart(rows, category="c", value="v", title="Wörter", locale="de")
    with Image.open(chart.save(tmp_path / "a.png")) as picture:
        assert picture.info["Title"] == "Wörter"
        assert picture.info["Description"] == chart.alt()
    pdf = chart.save(tmp_path / "a.pdf").read_bytes()
    assert b"/Lang (de)" in pdf
    assert b"/Subject" in pdf
    table = yz.chart(rows, kind="table", category="c", value="v", locale="de")
    html = table.save(tmp_path / "a.html").read_text()
    assert '<html lang="de">' in html
    assert f'content="{table.alt()}"' in html


@pytest.mark.parametrize("category", ["number", "day", "word"])
def test_marks_of_a_long_chart_are_called_as_those_of_a_short_one(category: str) -> None:
    count = MAX_NAMED_MARKS + 2
    rows = pd.DataFrame(
        {
            "number": np.arange(count) * 0.5,
            "day": pd.date_range("2000-01-01", periods=count),
            "word": [f"w{place}" for place in range(count)],
            "v": np.arange(count) % 977 + (np.arange(count) == 1234) * 5000.0,
        }
    )
    long = yz.chart(rows, category=category, value="v", kind="scatter", across="v")
    short = yz.chart(rows[1200:1300], category=category, value="v", kind="scatter", across="v")
    (name,) = re.findall(r"to [\d,]+ \((.*?)\)", short.alt())
    assert f"({name})" in long.alt()
