"""Calls that take the keys of a section say them one by one, to whoever asks a function what it takes.

Checkers of types read the keys where they are declared (`Unpack` of a TypedDict, PEP 692). A notebook that
completes, and help(), ask `inspect.signature`, which knows nothing of those.
"""

from __future__ import annotations

from inspect import Parameter, Signature, signature
from typing import TYPE_CHECKING, Any, TypeVar

from yuzen.brief.texts import Phrase

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.brief.section import Section

Call = TypeVar("Call", bound="Callable[..., Any]")


def taking(keys: type, *sections: type[Section]) -> Callable[[Call], Call]:
    """A function with these further keys in its signature, each with what the sections have without it.

    keys: a TypedDict.
    """

    def told(call: Call) -> Call:
        said = list(signature(call).parameters.values())
        fields = {name: field for section in sections for name, field in section.model_fields.items()}
        further = [
            Parameter(name, Parameter.KEYWORD_ONLY, default=_default(fields[name]), annotation=kind)
            for name, kind in _written(keys).items()
        ]
        own = [parameter for parameter in said if parameter.kind is not Parameter.VAR_KEYWORD]
        made = Signature([*own, *further], return_annotation=signature(call).return_annotation)
        call.__signature__ = made  # type: ignore[attr-defined]  # where `inspect` looks first (PEP 362)
        return call

    return told


def _written(keys: type) -> dict[str, str]:
    """What each key takes, as the source says it."""
    return {name: str(getattr(kind, "__forward_arg__", kind)) for name, kind in keys.__annotations__.items()}


def _default(field: Any) -> object:  # noqa: ANN401 - a field of pydantic
    """What a brief has where a key is left out."""
    if field.is_required():
        return Parameter.empty
    if field.default_factory is not None:
        return None
    if isinstance(field.default, Phrase):
        return str(field.default)
    return field.default
