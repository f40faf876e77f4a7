"""Signatures of calls that list the keys of a section one by one, for help and notebooks.

Checkers of types read the keys where they are declared (`Unpack` of a TypedDict, PEP 692). A
notebook that completes, and help(), ask `inspect.signature`, which knows nothing of those.
"""

from collections.abc import Callable
from inspect import Parameter, Signature, signature
from typing import Any, TypeVar

from yuzen.brief.sections.base import Section
from yuzen.brief.sections.phrases import Phrase

Call = TypeVar("Call", bound="Callable[..., Any]")


class _Written(str):
    """A type as the source says it, which help() shows without quotes."""

    __slots__ = ()

    def __repr__(self) -> str:
        return str(self)


def with_keys_in_signature(keys: type, *sections: type[Section]) -> Callable[[Call], Call]:
    """A function with further keys in its signature, each with the section's default.

    keys: a TypedDict.
    """

    def told(call: Call) -> Call:
        plain = signature(call)
        shown_parameters = [_shown(parameter) for parameter in plain.parameters.values()]
        fields = {
            name: field for section in sections for name, field in section.model_fields.items()
        }
        further = [
            Parameter(
                name,
                Parameter.KEYWORD_ONLY,
                default=_default(fields[name]),
                annotation=_Written(kind),
            )
            for name, kind in _written(keys).items()
        ]
        plain_parameters = [
            parameter
            for parameter in shown_parameters
            if parameter.kind is not Parameter.VAR_KEYWORD
        ]
        new_signature = Signature(
            [*plain_parameters, *further], return_annotation=_Written(plain.return_annotation)
        )
        call.__signature__ = new_signature  # type: ignore[attr-defined]  # where `inspect` looks first (PEP 362)
        return call

    return told


def _shown(parameter: Parameter) -> Parameter:
    """A parameter with its type as the source says it."""
    if parameter.annotation is Parameter.empty:
        return parameter
    return parameter.replace(annotation=_Written(parameter.annotation))


def _written(keys: type) -> dict[str, str]:
    """What each key takes, as the source says it."""
    return {
        name: str(getattr(kind, "__forward_arg__", kind))
        for name, kind in keys.__annotations__.items()
    }


def _default(field: Any) -> object:  # noqa: ANN401 - a field of pydantic
    """What a brief has where a key is left out."""
    if field.is_required():
        return Parameter.empty
    if field.default_factory is not None:
        return None
    if isinstance(field.default, Phrase):
        return str(field.default)
    return field.default
