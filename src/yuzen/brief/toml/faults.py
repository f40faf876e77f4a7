"""Faults in a brief's values in our words; pydantic finds them."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import date, time
from functools import cache
from typing import Any, Final

from pydantic import BaseModel
from pydantic_core import ErrorDetails

from yuzen.brief.keys.key_help import KeyHelp, keys_of
from yuzen.brief.keys.schema import schema_of
from yuzen.brief.model import Brief
from yuzen.errors import Fault, YuzenError, suggestion, type_name
from yuzen.regex import regex

LISTS: Final = ("rule", "reference", "label", "layer", "note")
MAX_SHOWN_CHARACTERS: Final = 60  # characters of a value that a message shows
PLACES_OF_ROWS: Final = (
    "file",
    "url",
    "table",
    "query",
)  # which may hold a password, so they are not shown
EITHER: Final = "either"
# How pydantic calls a type of several in the place of a fault.
TYPE_STEP: Final = regex(
    r"bool|str|int|float|(?:literal|tuple|list|constrained-\w+|function-\w+)\b.*"
)

# What may stand where something of another type stands, by pydantic's name of what is wrong. What
# is not here is told without saying what may.
TAKES: Final[Mapping[str, Callable[[Mapping[str, Any]], str]]] = {
    EITHER: lambda told: str(told["takes"]),
    "bool_parsing": lambda _: "true or false",
    "bool_type": lambda _: "true or false",
    "dict_type": lambda _: "a section with keys of its own",
    "finite_number": lambda _: "a number with an end",
    "float_parsing": lambda _: "a number",
    "float_type": lambda _: "a number",
    "greater_than": lambda told: f"a number above {told['gt']:,g}",
    "greater_than_equal": lambda told: f"a number of at least {told['ge']:,g}",
    "int_from_float": lambda _: "a whole number",
    "int_parsing": lambda _: "a whole number",
    "int_parsing_size": lambda _: "a smaller number",
    "int_type": lambda _: "a whole number",
    "less_than": lambda told: f"a number below {told['lt']:,g}",
    "less_than_equal": lambda told: f"a number of at most {told['le']:,g}",
    "list_type": lambda _: "a list",
    "literal_error": lambda told: _choice(_words_of(told["expected"])),
    "model_attributes_type": lambda _: "a section with keys of its own",
    "model_type": lambda _: "a section with keys of its own",
    "string_sub_type": lambda _: "a text",
    "string_too_long": lambda told: f"a text of at most {told['max_length']:,} characters",
    "string_too_short": lambda _: "a text that is not empty",
    "string_type": lambda _: "a text",
    "string_unicode": lambda _: "a text of whole letters",
    "too_long": lambda told: f"at most {told['max_length']:,} entries",
    "too_short": lambda told: f"at least {told['min_length']:,}",
    "tuple_type": lambda _: "a list",
}


def faults_of(
    details: Sequence[ErrorDetails], values: Mapping[str, Any], model: type[BaseModel] = Brief
) -> list[Fault]:
    """All that pydantic found in plain values, each with its place and its key.

    model: what the file holds, whose keys messages explain.
    """
    return [
        replace(fault, key=detail["loc"])
        for detail in _joined(details, values)
        for fault in _told(detail, values, model)
    ]


@cache
def _help_of(model: type[BaseModel]) -> Mapping[str, KeyHelp]:
    """What each key of a model does."""
    return keys_of(schema_of(model, "faults"))


def _key_help(loc: tuple[int | str, ...], model: type[BaseModel]) -> KeyHelp | None:
    """What the key at a place does; None for an entry of a list, or a name of the analyst's own."""
    if not loc or isinstance(loc[-1], int):
        return None
    return _help_of(model).get(".".join(step for step in loc if isinstance(step, str)))


def _joined(details: Sequence[ErrorDetails], values: Mapping[str, Any]) -> list[ErrorDetails]:
    """What was found, once where a key that takes one of several types has none of them.

    Of such a key pydantic tells a fault for each type, and names the type in its place. The one
    that was found deepest is of the type that was meant.
    """
    errors_by_place: dict[tuple[int | str, ...], ErrorDetails] = {}
    for number, detail in enumerate(details):
        loc, first = _without_types(detail["loc"], values)
        # Faulty entries are not counted, so that a list of nothing else is too short besides.
        if detail["type"] == "too_short" and any(_is_inside(other, loc) for other in details):
            continue
        if first is None:
            key = (*loc, number)
        else:
            key = loc[:first]
        before = errors_by_place.get(key)
        # The deepest fault is the one nearest to what was meant.
        if before is None or len(loc) > len(before["loc"]):
            errors_by_place[key] = {**detail, "loc": loc}
        elif len(loc) == len(before["loc"]) and before["type"] in TAKES and detail["type"] in TAKES:
            both = f"{_takes(before)} or {_takes(detail)}"
            errors_by_place[key] = {**before, "type": EITHER, "ctx": {"takes": both}}
    return list(errors_by_place.values())


def _is_inside(detail: ErrorDetails, loc: tuple[int | str, ...]) -> bool:
    """Whether a fault is in an entry of the list at a place."""
    return len(detail["loc"]) > len(loc) and detail["loc"][: len(loc)] == loc


def _without_types(
    loc: tuple[int | str, ...], values: Mapping[str, Any]
) -> tuple[tuple[int | str, ...], int | None]:
    """A place without the types that stand in it, and where the first of them stood; None for none.

    A key may be called as a type is, so what stands in the values is a key.
    """
    steps: list[int | str] = []
    first: int | None = None
    holder: Any = values
    for step in loc:
        there = _holds(holder, step)
        if not there and isinstance(step, str) and TYPE_STEP.fullmatch(step):
            if first is None:
                first = len(steps)
            continue
        steps.append(step)
        holder = holder[step] if there else None
    return tuple(steps), first


def _holds(holder: object, step: int | str) -> bool:
    """Whether a section has a key, or a list an entry at an index."""
    if isinstance(holder, dict):
        return step in holder
    return isinstance(holder, list | tuple) and isinstance(step, int) and step < len(holder)


def _told(
    detail: ErrorDetails, values: Mapping[str, Any], model: type[BaseModel]
) -> Iterable[Fault]:
    place = place_in(detail["loc"], values)
    inner = detail.get("ctx", {}).get("error")
    if isinstance(inner, YuzenError):
        return [fault.at(place) for fault in inner.faults]
    if detail["type"] == "yuzen":
        return [Fault("brief-value", detail["msg"], place)]
    if detail["type"] == "extra_forbidden":
        key = str(detail["loc"][-1])
        hint = suggestion(key, _keys(detail["loc"][:-1], model))
        section = place_in(detail["loc"][:-1], values) or "a brief"
        return [Fault("brief-key", f"I know no key '{key[:60]}' in {section}.{hint}")]
    if detail["type"] == "missing":
        message = f"{detail['loc'][-1]} is missing.{_for_example(_key_help(detail['loc'], model))}"
        return [Fault("brief-missing", message, place_in(detail["loc"][:-1], values))]
    if message := _of_brackets(detail, place):
        return [Fault("brief-value", message, place)]
    return [Fault("brief-value", _of_value(detail, _key_help(detail["loc"], model)), place)]


def _for_example(key: KeyHelp | None) -> str:
    """' For example: width = 1600.' of a key; '' where none is known."""
    if key is None or "\n" in key.example:
        return ""
    return f" For example: {key.example}"


def _of_brackets(detail: ErrorDetails, place: str) -> str:
    """The remedy for single brackets where a list is needed, or the reverse; '' otherwise."""
    if detail["type"] == "tuple_type" and detail["loc"] in {(name,) for name in LISTS}:
        return f"There can be several of these: write [[{place}]], in two brackets."
    if detail["type"] == "model_type" and isinstance(detail["input"], list):
        return f"There is one of these: write [{place}], in one pair of brackets."
    return ""


def _of_value(detail: ErrorDetails, key: KeyHelp | None) -> str:
    """What a value is, and what takes its place: what the key's help says, if it has one."""
    given = detail["input"]
    if detail["loc"] and detail["loc"][-1] in PLACES_OF_ROWS:
        subject = "What is written here"
    else:
        subject = value_shown(given)
    takes = _takes(detail)
    if detail["type"] in {"string_too_long", "too_long"} and hasattr(given, "__len__"):
        return f"{subject} has no place here; it takes {takes}, and this has {len(given):,}."
    # The help knows the whole range; pydantic tells only the end that was passed.
    if key is not None:
        takes = f"{key.name} takes {key.accepted}"
    elif takes:
        takes = f"it takes {takes}"
    else:
        return f"{subject} has no place here."
    hint = ""
    if detail["type"] == "literal_error" and isinstance(given, str):
        hint = suggestion(given, _options(detail))
    return f"{subject} has no place here; {takes}.{hint or _for_example(key)}"


def _takes(detail: ErrorDetails) -> str:
    """What may stand there; '' where that is not known."""
    if detail["type"] in TAKES:
        return TAKES[detail["type"]](detail.get("ctx", {}))
    return ""


def _options(detail: ErrorDetails) -> list[str]:
    return _words_of(str(detail.get("ctx", {}).get("expected", "")))


def _choice(options: Sequence[str]) -> str:
    if len(options) == 1:
        return f'"{options[0]}"'
    return f"one of {', '.join(options)}"


def _words_of(expected: str) -> list[str]:
    """The words among which a key chooses, as pydantic lists them."""
    return [part.strip(" '") for part in expected.replace(" or ", ", ").split(",")]


def value_shown(value: object) -> str:  # noqa: PLR0911 - one for each type
    """A value as a brief writes it, in short; of what no brief can hold its type."""
    if value is None:
        return "None"
    if isinstance(value, bool):
        return str(value).lower()
    # Python refuses to print a number of many digits, with an error of its own.
    if isinstance(value, int) and abs(value) >= 10**MAX_SHOWN_CHARACTERS:
        return "A number of many digits"
    if isinstance(value, int | float | date | time):
        return str(value)
    if isinstance(value, str):
        return f"'{value[:MAX_SHOWN_CHARACTERS]}{'…' * (len(value) > MAX_SHOWN_CHARACTERS)}'"
    if isinstance(value, dict):
        return "A section"
    return type_name(value).replace("tuple", "list")


def place_in(loc: tuple[int | str, ...], values: Mapping[str, Any]) -> str:
    """Where in the brief: 'rule 2 "loss", when'."""
    if not loc:
        return ""
    if len(loc) > 1 and isinstance(loc[1], int):
        section = values.get(str(loc[0]), ())
        entry = section[loc[1]] if loc[1] < len(section) else {}
        name = entry.get("name") if isinstance(entry, dict) else None
        called = f"{loc[0]} {loc[1] + 1}" + (f' "{name}"' if isinstance(name, str) and name else "")
        return ", ".join([called, *map(str, loc[2:])])
    return ", ".join(map(str, loc))


def _keys(loc: tuple[int | str, ...], model: type[BaseModel]) -> list[str]:
    """The keys that the section at this place of a model knows."""
    for step in loc:
        if isinstance(step, str) and step in model.model_fields:
            model = _model_of(model.model_fields[step].annotation) or model
    return [field.alias or name for name, field in model.model_fields.items()]


def _model_of(annotation: Any) -> type[BaseModel] | None:  # noqa: ANN401 - a type of any form
    for part in (annotation, *getattr(annotation, "__args__", ())):
        if hasattr(part, "model_fields"):
            return part  # type: ignore[no-any-return]
    return None
