"""What each key of a brief or a report does, read off the JSON Schema of its model.

The command line, first briefs, messages and the reference of keys all say what stands here.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Any, Final, TypeAlias

from yuzen.errors import make_error, suggestion
from yuzen.value import Value

Schema: TypeAlias = Mapping[str, Any]

SECTION: Final = "a section with keys of its own"
PLAIN_TYPES: Final[Mapping[str, str]] = {
    "string": "a text",
    "integer": "a whole number",
    "number": "a number",
    "boolean": "true or false",
}
PLURALS: Final[Mapping[str, str]] = {
    "a text": "texts",
    "a number": "numbers",
    "a quantity": "quantities",
    "a date": "dates",
    "a color": "colors",
    SECTION: "sections",
}
BOUNDS: Final[Mapping[str, str]] = {
    "minimum": "at least",
    "exclusiveMinimum": "above",
    "maximum": "at most",
    "exclusiveMaximum": "below",
}
UNBOUNDED: Final = 1e18  # beyond which a bound says nothing to an analyst
DATES: Final = {"date", "date-time"}


class KeyHelp(Value):
    """What a key does.

    path:    the key with its sections, such as rule.part.
    about:   what it does, in one sentence.
    takes:   what it may be set to, with its range.
    unit:    the unit of its numbers; '' for none.
    default: what it is where it is left out, as TOML writes it; '' for nothing.
    example: the key with a value that it may have, as TOML writes it.
    keys:    the names of its own keys, for a section.
    several: whether there may be several such sections, each in two brackets.
    """

    path: str
    about: str
    takes: str
    unit: str
    default: str
    example: str
    required: bool
    keys: tuple[str, ...] = ()
    several: bool = False

    @property
    def name(self) -> str:
        """The key itself, without its sections."""
        return self.path.rpartition(".")[2]

    @property
    def section(self) -> str:
        """The section that it is in; '' for the top of the file."""
        return self.path.rpartition(".")[0]

    @property
    def heading(self) -> str:
        """How a section begins: [chart] or [[rule]]; '' for a plain key."""
        if not self.keys:
            return ""
        return f"[[{self.path}]]" if self.several else f"[{self.path}]"

    @property
    def accepted(self) -> str:
        """What it may be set to, with its unit."""
        return f"{self.takes} ({self.unit})" if self.unit else self.takes


def keys_of(schema: Schema) -> dict[str, KeyHelp]:
    """Every key of a file by its path, sections before their keys, in the order of the model."""
    return {key.path: key for key in _keys(schema, schema.get("$defs", {}), "")}


def _keys(section: Schema, definitions: Schema, above: str) -> Iterator[KeyHelp]:
    """The keys of a section and of the sections in it."""
    # pydantic lists what must be set beside the keys, not at each of them.
    required = set(section.get("required", ()))
    for name, schema in section["properties"].items():
        path = f"{above}.{name}" if above else name
        inner, several = _section(schema, definitions)
        yield KeyHelp(
            path,
            schema.get("description", ""),
            takes_of(schema),
            schema.get("unit", ""),
            _default(schema),
            _example(name, schema),
            name in required,
            tuple(inner.get("properties", ())),
            several,
        )
        if inner:
            yield from _keys(inner, definitions, path)


def _section(schema: Schema, definitions: Schema) -> tuple[Schema, bool]:
    """The section that a key is, and whether there may be several; {} for a plain key."""
    for option in schema.get("anyOf", (schema,)):
        if "$ref" in option:
            return definitions[_referred(option["$ref"])], False
        if "$ref" in option.get("items", {}):
            return definitions[_referred(option["items"]["$ref"])], True
    return {}, False


def _referred(address: str) -> str:
    return address.rpartition("/")[2]


def takes_of(schema: Schema) -> str:  # noqa: PLR0911 - one for each form of a schema
    """What a value of a schema may be, in words.

    >>> takes_of({"anyOf": [{"type": "integer", "minimum": 1, "maximum": 1000}, {"type": "null"}]})
    'a whole number, at least 1 and at most 1,000'
    >>> takes_of({"type": "array", "items": {"type": "string"}})
    'a list of texts'
    """
    # None is how Python says that a key is left out, which a brief cannot write.
    if "anyOf" in schema:
        options = [takes_of(part) for part in schema["anyOf"] if part.get("type") != "null"]
        return " or ".join(dict.fromkeys(options))
    if "$ref" in schema:
        return SECTION
    if "enum" in schema:
        return f"one of {', '.join(map(_choice, schema['enum']))}"
    if "const" in schema:
        return json.dumps(schema["const"])
    if schema.get("type") == "array":
        return f"a list of {_plural(schema.get('items', {}))}"
    if schema.get("type") == "object":
        values = schema.get("additionalProperties", {})
        return f"a section of names, each with {takes_of(values)}"
    return _plain(schema)


def _plural(items: Schema) -> str:
    """What a list holds."""
    if "anyOf" in items:
        return " or ".join(dict.fromkeys(_plural(part) for part in items["anyOf"]))
    one = takes_of(items)
    return PLURALS.get(one, one)


def _plain(schema: Schema) -> str:
    """What a plain value may be, with its range."""
    form = schema.get("format", "")
    if form in DATES:
        return "a date"
    if form:
        return f"an {form}" if form[0] in "aeiou" else f"a {form}"
    if schema.get("maxLength") == 1:
        return "one character"
    bounds = [
        f"{word} {_number(schema[key])}"
        for key, word in BOUNDS.items()
        if key in schema and abs(schema[key]) < UNBOUNDED
    ]
    noun = PLAIN_TYPES[schema["type"]]
    return f"{noun}, {' and '.join(bounds)}" if bounds else noun


def _number(bound: float) -> str:
    """A bound, in full."""
    return f"{bound:,.0f}" if bound == int(bound) else f"{bound:g}"


def _choice(option: object) -> str:
    """One of several values; a sign alone is in quotes."""
    text = str(option)
    return text if text[0].isalnum() else json.dumps(text)


def _default(schema: Schema) -> str:
    """What a key is where it is left out, as TOML writes it; '' for nothing."""
    default = schema.get("default")
    if default in (None, [], {}):
        return ""
    return toml_value(default)


def _example(name: str, schema: Schema) -> str:
    """A key with a value that it may have; a section with its brackets."""
    (value,) = schema["examples"]
    if isinstance(value, list) and value and isinstance(value[0], dict):
        lines = [f"[[{name}]]", *(f"{key} = {toml_value(of)}" for key, of in value[0].items())]
        return "\n".join(lines)
    return f"{name} = {toml_value(value)}"


def toml_value(value: object) -> str:
    r"""A plain value as TOML writes it on one line.

    >>> toml_value({"n": [1, 0.5, True], "title": 'say "loss"'})
    '{ n = [1, 0.5, true], title = \'say "loss"\' }'
    """
    if isinstance(value, Mapping):
        pairs = ", ".join(f"{_key(str(key))} = {toml_value(of)}" for key, of in value.items())
        return f"{{ {pairs} }}"
    if isinstance(value, list | tuple):
        return f"[{', '.join(map(toml_value, value))}]"
    if isinstance(value, str) and '"' in value and "'" not in value and value.isprintable():
        return f"'{value}'"
    # Texts, numbers and truths are written in TOML as in JSON, but for one sign.
    return json.dumps(value, ensure_ascii=False).replace("\x7f", "\\u007F")


def _key(name: str) -> str:
    """A key, in quotes where TOML needs them."""
    bare = name.replace("_", "").replace("-", "")
    return name if bare.isascii() and bare.isalnum() else json.dumps(name, ensure_ascii=False)


def keys_named(name: str, keys: Mapping[str, KeyHelp]) -> list[KeyHelp]:
    """The key of a path, such as rule.part, or all keys of a name, such as part.

    Raises YuzenError (call-key) with the nearest name where there is none.
    """
    wanted = name.strip("[] ").casefold()
    if wanted in keys:
        return [keys[wanted]]
    named = [key for key in keys.values() if key.name.casefold() == wanted]
    if named:
        return named
    known = [*keys, *(key.name for key in keys.values())]
    message = f"There is no key '{name[:60]}'.{suggestion(wanted, known)}"
    raise make_error("call-key", f"{message} yuzen help lists all keys.")
