"""Briefs in and out: TOML or plain values to the typed model, with every fault in one report."""

from __future__ import annotations

import tomllib
from typing import TYPE_CHECKING, Any

from pydantic import ValidationError

from yuzen.brief.model import Brief
from yuzen.errors import Fault, YuzenError, suggestion, wrong

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping
    from pathlib import Path

    from pydantic import BaseModel
    from pydantic_core import ErrorDetails

MAX_BYTES = 1_000_000  # of one brief


def brief_schema() -> dict[str, Any]:
    """The JSON Schema of a brief, for editors that complete and check one."""
    dialect = "https://json-schema.org/draft/2020-12/schema"
    return {"$schema": dialect, **Brief.model_json_schema(mode="validation")}


def load_brief(path: Path) -> Brief:
    """The brief in a TOML file. Raises YuzenError with all its faults, each with its place."""
    try:
        size = path.stat().st_size
        if size > MAX_BYTES:
            message = f"A brief has at most {MAX_BYTES:,} bytes, and this file has {size:,}."
            raise wrong("brief-size", message, where=str(path))
        text = path.read_text(encoding="utf-8-sig")
    except FileNotFoundError:
        raise wrong("brief-file", f"There is no brief {path}.") from None
    except UnicodeDecodeError:
        raise wrong("brief-text", "This file is no text in UTF-8.", where=str(path)) from None
    except OSError as error:
        raise wrong("brief-file", f"The brief cannot be read: {error.strerror}.",
                    where=str(path)) from None  # fmt: skip
    return parse_brief(text, where=path.name)


def parse_brief(text: str, *, where: str = "brief") -> Brief:
    """The brief in a TOML text."""
    try:
        values = tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError) as error:
        said = str(error) if isinstance(error, tomllib.TOMLDecodeError) else "it is nested too deep"
        raise wrong("brief-toml", f"This is no TOML: {said}.", where=where) from None
    return make_brief(values, where=where)


def make_brief(values: Mapping[str, Any], *, where: str = "") -> Brief:
    """The brief of plain values. Raises YuzenError with all its faults."""
    try:
        brief = Brief.model_validate(values)
    except ValidationError as error:
        faults = [fault for detail in error.errors() for fault in _faults(detail, values)]
        raise YuzenError(*(fault.at(where) if where else fault for fault in faults)) from None
    _refuse_twins(brief, where)
    return brief


def write_brief(brief: Brief) -> str:
    """The brief as TOML that loads to an equal one."""
    import tomli_w  # noqa: PLC0415 - only when a brief is written

    return tomli_w.dumps(brief.plain())


def _faults(detail: ErrorDetails, values: Mapping[str, Any]) -> Iterable[Fault]:
    place = _place(detail["loc"], values)
    inner = detail.get("ctx", {}).get("error")
    if isinstance(inner, YuzenError):
        return [fault.at(place) for fault in inner.faults]
    if detail["type"] == "yuzen":
        return [Fault("brief-value", detail["msg"], place)]
    if detail["type"] == "extra_forbidden":
        key = str(detail["loc"][-1])
        hint = suggestion(key, _keys(detail["loc"][:-1]))
        section = _place(detail["loc"][:-1], values) or "a brief"
        return [Fault("brief-key", f"I know no key '{key[:60]}' in {section}.{hint}")]
    if detail["type"] == "missing":
        message = f"{detail['loc'][-1]} is missing."
        return [Fault("brief-missing", message, _place(detail["loc"][:-1], values))]
    said = detail["msg"].removeprefix("Input should be ")
    given = repr(detail["input"])[:60]
    hint = ""
    if detail["type"] == "literal_error":
        expected = str(detail.get("ctx", {}).get("expected", ""))
        options = [part.strip(" '") for part in expected.replace(" or ", ", ").split(",")]
        hint = suggestion(str(detail["input"]), options)
        said = "one of " + ", ".join(options)
    return [Fault("brief-value", f"{given} cannot stand here; it takes {said}.{hint}", place)]


def _place(loc: tuple[int | str, ...], values: Mapping[str, Any]) -> str:
    """Where in the brief: 'rule 2 "loss", when'."""
    if not loc:
        return ""
    if len(loc) > 1 and isinstance(loc[1], int):
        section = values.get(str(loc[0]), ())
        entry = section[loc[1]] if loc[1] < len(section) else {}
        name = entry.get("name") if isinstance(entry, dict) else None
        called = f"{loc[0]} {loc[1] + 1}" + (f' "{name}"' if name else "")
        return ", ".join([called, *map(str, loc[2:])])
    return ", ".join(map(str, loc))


def _keys(loc: tuple[int | str, ...]) -> list[str]:
    """The keys that the section at this place knows."""
    model: type[BaseModel] = Brief
    for step in loc:
        if isinstance(step, str) and step in model.model_fields:
            model = _model_of(model.model_fields[step].annotation) or model
    return list(model.model_fields)


def _model_of(annotation: Any) -> type[BaseModel] | None:  # noqa: ANN401 - a type of any form
    for part in (annotation, *getattr(annotation, "__args__", ())):
        if hasattr(part, "model_fields"):
            return part  # type: ignore[no-any-return]
    return None


def _refuse_twins(brief: Brief, where: str) -> None:
    """Names are unique, so that titles and reasons can speak of them."""
    for what, names in (
        ("rules", [rule.called for rule in brief.rules]),
        ("pieces of the label", [piece.name for piece in brief.label if piece.name]),
    ):
        twins = [name for name in dict.fromkeys(names) if names.count(name) > 1]
        if twins:
            message = f'Two {what} are called "{twins[0]}"; give one of them another name.'
            raise wrong("brief-twins", message, where=where)
