"""Every key of a file that analysts write explains itself, and says what is true."""

from __future__ import annotations

import ast
import json
import re
import tomllib
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import pytest
from pydantic import BaseModel, TypeAdapter

import yuzen
from yuzen.brief.house_rules import HouseFile
from yuzen.brief.keys.key_help import KeyHelp, keys_of
from yuzen.brief.keys.schema import schema_of
from yuzen.brief.model import Brief
from yuzen.cli.show import codes
from yuzen.documents.report_file import ReportFile
from yuzen.recolor.rules_file import PaintFile

if TYPE_CHECKING:
    from collections.abc import Iterator

    from pydantic.fields import FieldInfo

FILES: dict[str, type[BaseModel]] = {
    "brief": Brief,
    "report": ReportFile,
    "house rules": HouseFile,
    "painting": PaintFile,
}


def _models_in(kind: Any) -> Iterator[type[BaseModel]]:
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        yield kind
    for part in getattr(kind, "__args__", ()):
        yield from _models_in(part)


def _fields(model: type[BaseModel], above: str = "") -> Iterator[tuple[str, FieldInfo]]:
    """Every key with its field, walked through the models and not through their schema."""
    for name, field in model.model_fields.items():
        path = f"{above}{field.alias or name}"
        yield path, field
        for inner in _models_in(field.annotation):
            yield from _fields(inner, f"{path}.")


HELP: dict[str, dict[str, KeyHelp]] = {
    called: keys_of(schema_of(model, called)) for called, model in FILES.items()
}
KEYS = [(called, path) for called, model in FILES.items() for path, _ in _fields(model)]


def _field(called: str, path: str) -> FieldInfo:
    return dict(_fields(FILES[called]))[path]


@pytest.mark.parametrize(("called", "path"), KEYS)
def test_every_key_says_what_it_does_with_an_example_that_is_valid(called: str, path: str) -> None:
    key, field = HELP[called][path], _field(called, path)
    assert 15 <= len(key.about) <= 95, "one line that a reader reads once"
    assert key.about.endswith(".")
    assert ". " not in key.about, "one sentence"
    values: Any = tomllib.loads(key.example)
    value = values[key.name]
    kind: Any = field.annotation
    if field.metadata:
        kind = Annotated[kind, *field.metadata]
    adapter: TypeAdapter[Any] = TypeAdapter(kind)
    adapter.validate_python(value)
    assert key.required == field.is_required()
    if key.default:
        default = tomllib.loads(f"it = {key.default}")["it"]
        assert str(adapter.validate_python(default)) == str(field.get_default())
    if not key.keys:
        assert value != field.default, "an example shows another value than the default"


def test_no_key_is_left_out() -> None:
    for called, keys in HELP.items():
        assert list(keys) == [path for of, path in KEYS if of == called]
    assert len(HELP["brief"]) > 140


@pytest.mark.parametrize(
    ("path", "takes"),
    {
        "size.width": "a whole number, at least 320 and at most 6,000 (pixels)",
        "data.seconds": "a number, above 0 and at most 86,400 (seconds)",
        "rule.when": "a condition",
        "rule.color": "a color",
        "rule.bands.edges": "a list of quantities or numbers",
        "data.decimal": 'one of ".", ","',
        "chart.limit": "a whole number, at least 1 and at most 1,000,000",
        "parameters": "a section of names, each with a number or a text or a list of texts",
        "rule.totals": 'true or false or "only"',
        "data.delimiter": "one character",
        "chart.edges": "a list of numbers or dates or texts",
    }.items(),
)
def test_what_a_key_takes_is_said_in_words(path: str, takes: str) -> None:
    assert HELP["brief"][path].accepted == takes


def test_help_explains_a_key_a_section_and_all_of_a_name(call: Any) -> None:
    told = call("help", "rule.part")
    assert told.out == (
        "rule.part  A comparison; the piece of a bar, a line or an area on that side has the"
        " colour.\n  takes    a comparison\n  default  nothing\n"
        '  example  part = "above average"\n'
    )
    assert "[[rule]]  A condition" in call("help", "[[rule]]").out
    several = call("help", "across").out
    assert [
        name for name in ("chart.across", "reference.across", "[scale.across]") if name in several
    ]
    assert "default  none: it must be set" in call("help", "chart.category").out
    assert "briefs   The briefs of the charts" in call("help", "section", "--report").out


def test_help_lists_all_keys_and_gives_programs_the_same(call: Any) -> None:
    listed = call("help").out
    told = json.loads(call("help", "--json").out)
    assert {key["path"] for key in told} == set(HELP["brief"])
    assert all(key["about"] in listed for key in told)


def test_help_knows_commands_and_nears(call: Any) -> None:
    assert call("help", "why").out.startswith("Usage: yuzen why")
    assert json.loads(call("help", "why", "--json").out)["command"] == "why"
    told = call("help", "catgory")
    assert told.code == 2
    assert told.err == (
        "yuzen: There is no key 'catgory'. Did you mean category? yuzen help lists all keys.\n"
    )


def test_the_schemas_describe_every_key_for_editors(call: Any) -> None:
    schema = json.loads(call("schema").out)
    assert schema["$id"].endswith("brief.json")
    about = {name: key["description"] for name, key in schema["properties"].items()}
    assert about == {key.name: key.about for key in HELP["brief"].values() if not key.section}
    assert json.loads(call("schema", "--report").out)["$id"].endswith("report.json")


def _codes_in_sources() -> tuple[set[str], set[str]]:
    """The codes that are raised, and those of findings, read off the sources."""
    raised, found = set(), set()
    for path in Path(yuzen.__file__).parent.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.Call) and node.args:
                called = getattr(node.func, "id", getattr(node.func, "attr", ""))
                texts = {
                    part.value
                    for part in ast.walk(node.args[0])
                    if isinstance(part, ast.Constant)
                    and isinstance(part.value, str)
                    and re.fullmatch(r"[a-z]+(-[a-z]+)+", part.value)
                }
                raised |= (
                    texts if called in {"make_error", "Fault", "fault", "external_call"} else set()
                )
                found |= texts if called in {"Finding", "Remark", "of_rule"} else set()
    return raised, found


def test_every_code_of_a_message_is_explained(call: Any) -> None:
    raised, found = _codes_in_sources()
    listed = codes()
    assert raised | found <= set(listed)
    # Codes that are handed over by a name are found in the text of the sources.
    text = "\n".join(p.read_text("utf-8") for p in Path(yuzen.__file__).parent.rglob("*.py"))
    assert all(f'"{code}"' in text for code in listed)
    for means, remedy in listed.values():
        assert means.endswith(".")
        assert remedy.endswith(".")
    told = call("help", "data-number")
    assert told.out.startswith("data-number  A column of numbers holds a word")


def test_messages_about_other_files_name_their_own_keys(folder: Path, call: Any) -> None:
    (folder / "r.toml").write_text('title = "x"\n[[section]]\nbrief = ["a.toml"]\n', "utf-8")
    told = call("report", "r.toml", "-o", "r.html")
    assert told.err == (
        'yuzen: r.toml, line 2, section 1: briefs is missing. For example: briefs = ["busiest.toml"]\n'
        "r.toml, line 3: I know no key 'brief' in section 1. Did you mean briefs?\n"
    )
    (folder / "r.toml").write_text('page = "A3"\n[[section]]\nbriefs = ["a.toml"]\n', "utf-8")
    assert (
        "page takes one of A4, A5, letter, screen." in call("report", "r.toml", "-o", "r.html").err
    )
