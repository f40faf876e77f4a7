"""Briefs: out and in again, all their faults, and the records inside pictures."""

from __future__ import annotations

import base64
import datetime as dt
import struct
import zlib
from pathlib import Path
from typing import Any, get_args

import numpy as np
import pandas as pd
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic_core.core_schema import ErrorType

import yuzen as yz
from tests.support.ferries import DEMO
from tests.support.sampling import examples
from tests.support.strategies import marks_of, plain_numbers, tables, written
from yuzen.brief.model import Brief
from yuzen.brief.toml.document import make_brief, parse_brief, write_brief
from yuzen.brief.toml.faults import TAKES
from yuzen.brief.toml.source import BriefSource
from yuzen.color.themes import THEMES
from yuzen.files.records.kept_records import record_in
from yuzen.files.records.record import Record, unpacked
from yuzen.files.whole import write_whole
from yuzen.formats.periods import Calendar, Grain, Times
from yuzen.rules.lineage import Origin, Pooled, Remark
from yuzen.rules.marks import Marks

words = st.text(
    st.characters(exclude_categories=("Cc", "Cf", "Cs", "Zl", "Zp")), min_size=1, max_size=12
)
plain_texts = words.map(lambda text: text.replace("{", "{{").replace("}", "}}"))
colors = st.sampled_from(["favorable", "adverse", "navy", "#123456", "#abc"])


def optional(**keys: st.SearchStrategy[Any]) -> st.SearchStrategy[dict[str, Any]]:
    return st.fixed_dictionaries({}, optional=keys)


rules = st.builds(
    lambda number, required, rest: {**required, **rest, "name": f"rule {number}"},
    st.integers(),
    st.fixed_dictionaries({"when": written.map(str)}),
    optional(
        color=colors,
        key=plain_texts,
        outline=colors,
        opacity=st.floats(0, 1),
        weight=st.sampled_from(["normal", "bold"]),
        badge=st.sampled_from(["up", "cup", "dot"]),
        pattern=st.sampled_from(["stripes", "grid"]),
        label=plain_texts,
        ties=st.sampled_from(["dense", "ordinal"]),
        totals=st.sampled_from([True, False, "only"]),
        shade=optional(
            center=plain_numbers, steps=st.integers(2, 9), range=st.just("5% to 95%")
        ).map(lambda shade: {"of": "v", **shade}),
    ),
)
columns = st.builds(
    lambda name, rest: {"value": "v", "name": name, **rest},
    words,
    optional(title=plain_texts, width=st.integers(20, 900))
    | st.just({"show": "trend", "over": "d", "grain": "week"})
    | st.builds(lambda text: {"format": f"{text}{{,.1fk}}{text}", "show": "both"}, plain_texts),
)
briefs = st.builds(
    lambda chart, rest: {"chart": {"category": "c", "value": "v", **chart}, **rest},
    optional(
        kind=st.sampled_from(["bar", "column", "table"]),
        order=st.sampled_from(["by name", "in time", "v / 2, smallest first"]),
        grain=st.sampled_from(["week", "year"]),
        limit=st.integers(1, 99),
        rest=words,
        totals=st.lists(words, max_size=2),
    ),
    optional(
        title=plain_texts,
        subtitle=plain_texts,
        footer=plain_texts,
        theme=words,
        key=st.sampled_from(["none", "beside subtitle"]),
        data=optional(file=words, keep=written.map(str)),
        parameters=st.dictionaries(words, plain_numbers, max_size=3),
        measures=st.dictionaries(words, st.just("total of a / total of b"), max_size=2),
        rule=st.lists(rules, max_size=3, unique_by=lambda rule: rule["name"]),
        reference=st.lists(
            st.just({"at": "average", "label": "x"}) | st.just({"low": "1", "high": "2"}),
            max_size=2,
        ),
        label=st.lists(
            st.builds(lambda text: {"text": text, "where": "base", "plate": True}, plain_texts),
            max_size=2,
        ),
        column=st.lists(columns, max_size=3, unique_by=lambda column: column["name"]),
        size=optional(width=st.integers(320, 6000), height=st.integers(240, 30_000)),
    ),
).filter(
    lambda values: not {"grain", "column"} <= {*values, *values["chart"]}
)  # which trends may refuse


@given(briefs)
def test_a_brief_written_out_loads_to_an_equal_one(values: dict[str, Any]) -> None:
    brief = make_brief(values)
    assert parse_brief(BriefSource("brief", write_brief(brief))) == brief


@settings(max_examples=examples(60))
@given(
    optional(
        kind=st.sampled_from(["bar", "column", "line"]),
        limit=st.integers(1, 5),
        rest=words,
        order=st.sampled_from(["by name", "as given"]),
    ),
    optional(title=plain_texts, footer=plain_texts, parameters=st.just({"n": 2.0})),
    st.lists(
        st.tuples(
            st.sampled_from(
                ["top 2", "c = \"a 'b'\"", "v above 3 and not negative", 'c contains "\\"']
            ),
            colors,
        ),
        max_size=2,
        unique_by=lambda rule: rule[0],
    ),
)
def test_a_chart_written_into_a_file_loads_to_an_equal_one(
    tmp_path_factory: pytest.TempPathFactory,
    chart: dict[str, Any],
    rest: dict[str, Any],
    said: list[Any],
) -> None:
    folder = tmp_path_factory.getbasetemp()
    (folder / "rows.csv").write_text("c,v\na 'b',1\n\\x,5\ny,3\nz,4\n")
    made = yz.chart(folder / "rows.csv", category="c", value="v", **chart, **rest)
    for when, color in said:
        made = made.rule(when, color=color)
    again = yz.load(made.write(folder / "made.toml"))
    assert again.stages.brief.plain() | {"data": {}} == made.stages.brief.plain() | {"data": {}}
    pd.testing.assert_frame_equal(again.flags(), made.flags())
    assert again.write(folder / "again.toml").read_text() == (folder / "made.toml").read_text()


@pytest.mark.parametrize(
    "path", sorted((DEMO / "briefs").glob("*.toml")), ids=lambda path: path.stem
)
def test_demo_briefs_come_back_whole(path: Path) -> None:
    brief = parse_brief(BriefSource("brief", path.read_text(encoding="utf-8")))
    assert parse_brief(BriefSource("brief", write_brief(brief))) == brief
    assert len(path.read_text(encoding="utf-8").splitlines()) < 80


def test_five_lines_make_a_chart(folder: Path) -> None:
    text = '[data]\nfile = "routes.csv"\n[chart]\ncategory = "route"\nvalue = "passengers"\n'
    (folder / "five.toml").write_text(text)
    page = yz.load(folder / "five.toml").stages.page
    assert (page.words.title, page.words.footer) == ("Passengers by route", "Source: routes.csv")
    assert page.key.entries == ()
    assert len(page.charts[0].layers[0].labels) == 1


def test_data_is_found_from_the_briefs_folder(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir("/")
    assert len(yz.load(folder / "busiest.toml").stages.marks) == 20


BROKEN = {
    "[chart]\ncategory = 3.5\nvalue = 'v'": 'chart, category: 3.5 has no place here; category takes a column. For example: category = "route"',
    "[chart]\nvalue = 'v'": 'chart: category is missing. For example: category = "route"',
    "title = 'x'": "chart is missing.",
    "chart = 3": "chart: 3 has no place here",
    "[chart]\ncategory = 'c'\nvalue = 'v'\nlimit = 'ten'": "chart, limit: 'ten' has no place here",
    "[chart]\ncategory = 'c'\nvalue = 'v'\n[[label]]\ntext = 'x'\nwhere = 'ends'": "Did you mean end?",
    "[chart]\ncategory = 'c'\nvalue = 'v'\n[[reference]]\nlabel = 'x'": "a reference has at",
    "[chart]\ncategory = 'c'\nvalue = 'v'\n[[reference]]\nat = '1'\nafter = 'top 1'": "a reference has at",
    "[chart]\ncategory = 'c'\nvalue = 'v'\n[[reference]]\nlow = '1'": "a reference has at",
    "[chart]\ncategory = 'c'\nvalue = 'v'\n[[rule]]\nwhen = 'top 3'\nbadge = 'cups'": "Did you mean cup?",
    "[chart]\ncategory = 'c'\nvalue = 'v'\n[[rule]]\nwhen = 'top 3'\nopacity = 2": "opacity takes a number, at least 0 and at most 1.",
    "[chart]\ncategory = 'c'\nvalue = 'v'\n[size]\nwidht = 900": "I know no key 'widht' in size. Did you mean width?",
    "[chart]\ncategory = 'c'\nvalue = 'v'\n[data]\nkeep = 'service ='": "data, keep: The rule ends too early",
    "[chart\n": "This is no TOML: ",
    "a = " + "[" * 5_000: "This is no TOML: ",
}


@pytest.mark.parametrize(("text", "message"), BROKEN.items())
def test_broken_briefs_are_told_with_place_and_remedy(text: str, message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        parse_brief(BriefSource("b.toml", text))
    assert message in str(error.value)
    assert str(error.value).startswith("b.toml")
    assert error.value.exit_code == 2


def test_briefs_that_are_no_text_or_too_large(folder: Path) -> None:
    (folder / "big.toml").write_bytes(b"#" * 1_000_001)
    (folder / "odd.toml").write_bytes(b"\xff\xfe\x00")
    for name, message in (
        ("big", "more than 1,000,000 bytes"),
        ("odd", "no text in UTF-8"),
        ("gone", "There is no brief"),
    ):
        with pytest.raises(yz.YuzenError, match=message):
            yz.load(folder / f"{name}.toml")
    with pytest.raises(yz.YuzenError, match="The brief cannot be read"):
        yz.load(folder)


def test_errors_carry_their_facts() -> None:
    with pytest.raises(yz.YuzenError) as error:
        make_brief(
            {"chart": {"category": "c", "value": "v"}, "rule": [{"when": "top", "name": "x"}]}
        )
    fault = error.value.faults[0]
    assert (fault.code, fault.where, fault.source) == ("rule-syntax", 'rule 1 "x", when', "top")
    assert fault.span is not None
    assert (fault.span.start, error.value.code) == (3, "rule-syntax")


REMARK = Remark("guess", "A guess.", "A remedy.")


@given(tables(), st.booleans())
def test_records_come_back_whole(table: Any, with_totals: bool) -> None:
    marks = marks_of(table)
    count = len(marks)
    days = np.array(["2026-01-01", "NaT"] * 5, dtype="datetime64[s]")[:count]
    marks = Marks(
        {**marks.columns, "day": days},
        "item",
        "value",
        order=marks.order,
        role=np.zeros(count, np.int8) if with_totals else None,
        times=Times({"day": Grain("month", Calendar(3, 6))}, Calendar(3, 6)),
        joined=True,
        origin=Origin(
            np.arange(count),
            {"value": np.arange(count)},
            {"value": "whole"},
            (REMARK,),
            {"value": "total of value"},
            overall={Pooled("value", frozenset({"item"})): np.arange(count) / 3},
        ),
        ambiguous_columns={"depot": "a"},
        column_names=("item", "value"),
    )
    packed = Record("the brief", marks, THEMES["press"], "rows.csv").packed()
    again = unpacked(packed.split(":")[2].encode())
    assert (again.brief, again.theme, again.source) == ("the brief", THEMES["press"], "rows.csv")
    assert again.marks.names() == marks.names()
    for name, column in marks.columns.items():
        values = [
            getattr(c, "values", lambda c=c: c)() for c in (column, again.marks.columns[name])
        ]
        assert [str(v) for v in values[0]] == [str(v) for v in values[1]]
    for field in (
        "grains",
        "calendar",
        "ambiguous_columns",
        "column_names",
        "series",
        "peer_columns",
        "panel",
        "bins",
        "joined",
    ):
        assert getattr(again.marks, field) == getattr(marks, field)
    told = [
        (str(o.row_counts), str(o.value_counts), o.types, o.remarks)
        for o in (again.marks.origin, marks.origin)
    ]
    assert told[0] == told[1]
    (key,) = again.marks.origin.overall
    assert again.marks.origin.overall[key].tolist() == marks.origin.overall[key].tolist()
    assert key == Pooled("value", frozenset({"item"}))


def damaged(text: str, tmp_path: Path) -> str:
    (tmp_path / "x.png").write_text(f"yuzen-record:8:{text}:end")
    with pytest.raises(yz.YuzenError) as error:
        yz.load_picture(tmp_path / "x.png")
    return str(error.value)


@given(place=st.floats(0, 0.999), letter=st.sampled_from("AQgz+/=09"), cut=st.integers(0, 2))
@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_records_with_a_wrong_letter_are_told(
    place: float, letter: str, cut: int, tmp_path: Path
) -> None:
    chart = yz.chart({"c": ["a", "b"], "v": [1, 2]}, category="c", value="v").rule(
        "top 1", color="adverse"
    )
    whole = chart.stages.record.packed().split(":")[2]
    at = int(place * len(whole))
    changed = whole[:at] + letter + whole[at + cut :]
    if changed != whole:
        assert "The record in this picture is damaged." in damaged(changed, tmp_path)


@pytest.mark.parametrize(
    "text", ["", "AAAA", "===", "x", "z..p", base64.b64encode(b"[" * 100_000).decode()]
)
def test_damaged_records_are_refused(text: str, tmp_path: Path) -> None:
    assert "The record in this picture is damaged." in damaged(text, tmp_path)


def test_a_record_that_would_fill_the_memory_is_refused(tmp_path: Path) -> None:
    bomb = zlib.compress(b"0" * 60_000_000, 9)
    body = struct.pack("<I", len(bomb)) + bomb
    letters = base64.b64encode(struct.pack("<I", zlib.crc32(body)) + body).decode()
    assert "more than 50 MB" in damaged(letters, tmp_path)
    (tmp_path / "old.png").write_text("yuzen-record:zAAAA.pBBBB:end")
    with pytest.raises(yz.YuzenError, match="Another version of Yuzen drew this picture"):
        yz.load_picture(tmp_path / "old.png")


def test_files_are_written_whole(tmp_path: Path) -> None:
    path = tmp_path / "file.bin"
    write_whole(path, b"old")
    write_whole(path, b"new")
    assert path.read_bytes() == b"new"
    assert [item.name for item in tmp_path.iterdir()] == ["file.bin"]
    with pytest.raises(yz.YuzenError, match="I cannot write"):
        write_whole(tmp_path, b"a folder")
    assert sorted(item.name for item in tmp_path.iterdir()) == ["file.bin"]


def test_a_brief_in_a_picture_is_the_charts(folder: Path) -> None:
    chart = yz.load(folder / "busiest.toml")
    record = record_in(chart.save(folder / "b.svg"))
    assert parse_brief(BriefSource("", record.brief)) == chart.stages.brief
    assert isinstance(chart.stages.brief, Brief)


VALUES: list[tuple[dict[str, Any], str]] = [
    ({"title": "x" * 3_000}, f"title: '{'x' * 60}…' has no place here; it takes a text of at most 2,000 characters, and this has 3,000."),
    ({"title": dt.date(2026, 1, 2)}, 'title: 2026-01-02 has no place here; title takes a text with numbers. For example: title = "Ferries in {latest month}"'),
    ({"size": {"width": 1.5}}, "size, width: 1.5 has no place here; width takes a whole number, at least 320 and at most 6,000 (pixels). For example: width = 1600"),
    ({"size": {"width": 10**80}}, "size, width: A number of many digits has no place here; width takes a whole number, at least 320 and at most 6,000 (pixels). For example: width = 1600"),
    ({"size": 3}, "size: 3 has no place here; size takes a section with keys of its own. For example: size = { width = 1600 }"),
    ({"scale": {"low": float("inf")}}, "scale, low: inf has no place in a rule: numbers are 0 or from 1e-18 to 1e18 in size, with a minus before them."),
    ({"rule": [3]}, "rule 1: 3 has no place here; it takes a section with keys of its own."),
    ({"rule": [{"when": "top 3"}] * 201}, "rule: A list has no place here; it takes at most 200 entries, and this has 201."),
    ({"rule": [{"when": "top 3", "totals": "x"}]}, "rule 1, totals: 'x' has no place here; totals takes true or false or \"only\". For example: totals = true"),
    ({"rule": [{"when": True}]}, 'rule 1, when: true has no place here; when takes a condition. For example: when = "surplus negative"'),
    ({"reference": [None]}, "reference 1: None has no place here; it takes a section with keys of its own."),
    ({"reference": [{"at": [1]}]}, 'reference 1, at: A list has no place here; at takes a quantity or a number. For example: at = "average"'),
    ({"data": {"url": 3}}, 'data, url: What is written here has no place here; url takes a text. For example: url = "sqlite:///ferry.db"'),
    ({"data": {"wide": {"columns": 3, "name": "a", "value": "b"}}}, 'data, wide, columns: 3 has no place here; columns takes a text or a list of texts. For example: columns = "2026-01 to 2026-06"'),
    ({"data": {"wide": {"columns": ["a", 3], "name": "a", "value": "b"}}}, "data, wide, columns, 1: 3 has no place here; it takes a text."),
    ({"parameters": {"float": None, "n": []}}, "parameters, float: None has no place here; it takes a number or a text or a list.\nparameters, n: a parameter is a number, a text, a date, or a list of texts."),
    ({"measures": {"int": {}}}, "measures, int: A section has no place here; it takes a text."),
    ({"aliases": {"list": {"str": 3}}}, "aliases, list, str: 3 has no place here; it takes a text."),
    ({"theme": ""}, "theme: '' has no place here; theme takes a text. For example: theme = \"dusk\""),
    ({"key": "abov"}, "key_place: 'abov' has no place here; key_place takes one of above, beside subtitle, none. Did you mean above?"),
    ({"footer": object()}, 'footer: An object has no place here; footer takes a text with numbers. For example: footer = "Source: monthly accounts"'),
]  # fmt: skip


@pytest.mark.parametrize(("said", "message"), VALUES)
def test_values_out_of_place_are_told_in_our_words(said: dict[str, Any], message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        make_brief({"chart": {"category": "c", "value": "v"}, **said})
    assert str(error.value) == message


def test_whatever_pydantic_finds_has_words_of_ours() -> None:
    """Every type of fault that pydantic knows and a brief's types can have is among those that are told."""
    asked = {
        "bool",
        "dict",
        "finite",
        "float",
        "greater",
        "int",
        "less",
        "list",
        "literal",
        "model",
        "string",
        "too",
        "tuple",
    }
    nobodys = {"string_pattern_mismatch", "string_not_ascii"}  # of which no section's values can be
    found = {kind for kind in get_args(ErrorType) if kind.split("_")[0] in asked}
    assert found - nobodys <= TAKES.keys()
