"""The tables of the reference, made of the models, registers and commands that they describe."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any, Final

from yuzen.brief.keys.codes import code_tables
from yuzen.brief.keys.key_help import KeyHelp, keys_of
from yuzen.brief.kinds import KINDS
from yuzen.brief.sections.effects import EFFECT_TABLE
from yuzen.brief.toml.document import brief_schema
from yuzen.cli.printing.answer_shapes import answer_schemas
from yuzen.documents.report_file import report_schema
from yuzen.page.shapes import AREA, BAR, CELL, DOT, LINE, POINT, SLICE, TICK, TREND
from yuzen.rules.claims import CLAIMS

SHAPES: Final = {
    BAR: "bars",
    LINE: "lines",
    AREA: "areas",
    TICK: "ticks",
    CELL: "cells",
    SLICE: "slices",
    DOT: "dots",
    POINT: "points",
    TREND: "small lines",
}
ABOUT: Final = {  # what claims are about, as headings
    "a number by itself": "A number by itself",
    "among its peers": "A number among its peers",
    "from mark to mark": "From mark to mark",
    "its place, its name, its date": "Place, name and date",
}
LAYERS: Final = {shape for shape in SHAPES if shape.drawn}
MARKS: Final = LAYERS - {TICK}  # what a chart's own marks can be; ticks are layers


def table(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """A table in Markdown."""
    lines = [heads, ["---"] * len(heads), *rows]
    return "\n".join(f"| {' | '.join(_cell(cell) for cell in line)} |" for line in lines) + "\n"


def _cell(text: str) -> str:
    return text.replace("|", "\\|").replace("\n", "<br>")


def conditions() -> str:
    """What a rule can say, by what it is about: when it holds, and an example of each."""
    groups: dict[str, list[tuple[str, str, str]]] = {about: [] for about in ABOUT}
    for claim in CLAIMS:
        row = (claim.listing, claim.holds_for, f"`{claim.example}`")
        groups[claim.about].append(row)
    heads = ("say", "it holds for", "for example")
    parts = [f"### {ABOUT[about]}\n\n{table(heads, rows)}" for about, rows in groups.items()]
    return "\n".join(["## What can be said\n", *parts])


def effects() -> str:
    """What each effect changes, and for each target the matrix of effects by shapes of marks."""
    about = [(f"`{effect.name}`", effect.about) for effect in EFFECT_TABLE]
    targets = dict.fromkeys(name for effect in EFFECT_TABLE for name in effect.shown)
    parts = [table(("effect", "what it changes"), about), "## Who shows what\n"]
    parts += [f"### `{target}`\n\n{_matrix(target)}" for target in targets]
    return "\n".join(parts)


def _matrix(target: str) -> str:
    """The effects that a target has, by the shapes that show them; equal rows are one."""
    whole = LAYERS if target == "layer NAME" else MARKS
    able = [effect for effect in EFFECT_TABLE if target in effect.shown]
    shapes = [
        shape
        for shape in SHAPES
        if shape in whole | {TREND} and any(shape.traits & effect.shown[target] for effect in able)
    ]
    rows: dict[tuple[str, ...], list[str]] = {}
    for effect in able:
        marks = tuple("●" if shape.traits & effect.shown[target] else "–" for shape in shapes)
        rows.setdefault(marks, []).append(f"`{effect.name}`")
    heads = ("effect", *(SHAPES[shape] for shape in shapes))
    return table(heads, [(", ".join(names), *marks) for marks, names in rows.items()])


def kinds() -> str:
    """The kinds of chart: what their marks are called, how they are drawn, what they lack."""
    rows = [
        (
            f"`{name}`",
            kind.plural,
            "down the page" if kind.horizontal else "across the page",
            ", ".join(f"`{key}`" for key in kind.lacks) or "–",
        )
        for name, kind in KINDS.items()
    ]
    return table(("kind", "its marks", "marks follow", "does not support"), rows)


def findings() -> str:
    """The codes of findings."""
    return _codes("findings")


def errors() -> str:
    """The page of error codes."""
    head = (
        "# Errors\n\nA message says what is wrong, where, and what to do. Its code is in `--json`,"
        " in `YuzenError.code`, and here. `yuzen help CODE` explains it.\n\n"
    )
    groups = {
        "brief": "In a brief",
        "rule": "In a rule",
        "text": "In a text with numbers",
        "keep": "In keep",
        "measure": "In a measure",
        "data": "In the data",
        "call": "In a call",
        "draw": "In drawing",
        "paint": "In painting",
        "report": "In a report",
        "limit": "Limits of a caller",
    }
    parts = [f"## {title}\n\n{_codes('errors', f'{start}-')}" for start, title in groups.items()]
    return head + "\n".join(parts)


def _codes(name: str, start: str = "") -> str:
    """The codes that begin so, with what each means and what to do."""
    listed = code_tables()[name]
    rows = [(f"`{code}`", *said) for code, said in listed.items() if code.startswith(start)]
    return table(("code", "what it means", "what to do"), rows)


def keys() -> str:
    """The page of all keys of briefs and report files."""
    head = (
        "# Keys\n\nA brief is a TOML file. These are all its keys. `yuzen help KEY` shows the same"
        " on a terminal.\n\nAn editor can show it while you type. `yuzen schema > schema.json`"
        " writes the schema. The first line of a brief, `#:schema schema.json`, names it for many"
        " editors.\n\n"
    )
    report = "# Keys of a report file\n"
    parts = (head, _sections(keys_of(brief_schema())), report, _sections(keys_of(report_schema())))
    return "\n".join(parts)


def _sections(of_file: Mapping[str, KeyHelp]) -> str:
    """A table for each section of a file."""
    top = [key for key in of_file.values() if not key.section and not key.keys]
    parts = [f"## At the top\n\n{_table_of(top)}"]
    for section in of_file.values():
        if section.keys:
            inner = [of_file[f"{section.path}.{name}"] for name in section.keys]
            parts.append(f"## `{section.heading}`\n\n{section.about}\n\n{_table_of(inner)}")
    return "\n".join(parts)


def _table_of(several: Sequence[KeyHelp]) -> str:
    rows = [
        (
            f"`{key.name}`",
            key.about,
            key.accepted,
            "must be set" if key.required else f"`{key.default}`" if key.default else "–",
            "see its section" if key.keys else f"`{key.example}`",
        )
        for key in several
    ]
    return table(("key", "what it does", "takes", "default", "example"), rows)


# What pages are replaced in, by the mark that stands there: <!-- made: effects -->.
def answers() -> str:
    """A table of keys for each object that answers are made of."""
    parts = []
    for command, schema in answer_schemas().items():
        parts.append(f"## yuzen {command} --json\n")
        for name, shape in schema.get("$defs", {}).items():
            if name in {"Error", "Failure"}:
                continue
            rows = [(f"`{key}`", _type(of)) for key, of in shape["properties"].items()]
            parts.append(f"**{name}**: {shape['description']}\n\n{table(('key', 'holds'), rows)}")
        if not schema.get("$defs", {}).keys() - {"Error", "Failure"}:
            parts.append(f"It holds {_type(schema)}.\n")
    return "\n".join(parts)


def _type(schema: Mapping[str, Any]) -> str:
    """What a value of an answer may be, in words."""
    if "$ref" in schema:
        return f"an object: {schema['$ref'].rpartition('/')[2]}"
    if "anyOf" in schema:
        kinds = [_type(one) for one in schema["anyOf"] if "Failure" not in one.get("$ref", "")]
        return " or ".join(kinds)
    if "enum" in schema:
        return "one of " + ", ".join(f"`{value}`" for value in schema["enum"])
    if schema.get("type") == "array":
        return f"a list; each entry is {_type(schema['items'])}"
    if schema.get("type") == "object" and "additionalProperties" in schema:
        return f"an object by names; each value is {_type(schema['additionalProperties'])}"
    return TYPE_WORDS.get(schema.get("type", ""), "any value")


TYPE_WORDS: Final = {
    "string": "a text",
    "integer": "a whole number",
    "number": "a number",
    "boolean": "true or false",
    "null": "null",
}
MADE: Final[Mapping[str, Callable[[], str]]] = {
    "conditions": conditions,
    "effects": effects,
    "kinds": kinds,
    "findings": findings,
    "answers": answers,
}
PAGES: Final[Mapping[str, Callable[[], str]]] = {  # which are made as wholes
    "reference/keys.md": keys,
    "reference/errors.md": errors,
}


def filled(page: str) -> str:
    """A page with the tables that are made in their places."""
    for name, make in MADE.items():
        page = page.replace(f"<!-- made: {name} -->", make())
    return page
