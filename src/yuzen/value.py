"""Values: frozen dataclasses that cost nothing until the first of their kind is made.

`dataclass` compiles each method of a class by itself, which takes a millisecond for a class. A call
of the command line loads some three hundred such classes, and makes objects of eighty of them. Here
a class is completed when its first object is made, and its methods are compiled together.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import MISSING, Field, FrozenInstanceError, dataclass, field, fields
from inspect import Signature, signature
from reprlib import recursive_repr
from threading import RLock
from typing import TYPE_CHECKING, Any, ClassVar, Final, Self, dataclass_transform

_UNUSED: Final[dict[type[Value], dict[str, bool]]] = {}  # classes without an object, their options
_COMPLETING: Final = RLock()  # one thread completes a class, and others wait for it


class _Fields:
    """The fields of a class as long as it is unused: asking for them completes it."""

    def __get__(self, instance: object, cls: type[Value]) -> Any:  # noqa: ANN401 - of dataclasses
        _complete(cls)
        return cls.__dict__["__dataclass_fields__"]


class _Signature:
    """What a class is called with, as editors and `help` show it; `__new__` would hide it."""

    def __get__(self, instance: object, cls: type[Value]) -> Signature | None:
        if instance is not None or cls is Value:
            return None  # which stands for none
        _complete(cls)
        own = signature(cls.__init__)
        return own.replace(parameters=list(own.parameters.values())[1:])


class _Made:
    """What a signature shows for a default that is made anew for each object."""

    def __repr__(self) -> str:
        return "<factory>"


_MADE: Final = _Made()


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
class Value:
    """A base of frozen dataclasses; the keywords of a class are eq, repr and kw_only.

    They mean what they mean to `dataclass`.

    >>> class Place(Value):
    ...     row: int
    ...     column: int = 0
    >>> Place(3)
    Place(row=3, column=0)
    """

    __signature__: ClassVar = _Signature()

    def __init_subclass__(cls, **options: bool) -> None:
        super().__init_subclass__()
        _UNUSED[cls] = options
        cls.__dataclass_fields__ = _Fields()  # type: ignore[attr-defined]  # what marks a dataclass

    def __new__(cls, *_: Any, **__: Any) -> Self:  # noqa: ANN401 - what `__init__` takes
        """An object, of a class that is complete; those out of a pickle begin here too."""
        if cls in _UNUSED:
            _complete(cls)
        return object.__new__(cls)

    if not TYPE_CHECKING:  # a checker would take these for leave to assign to any name

        def __setattr__(self, name: str, _: object) -> None:
            raise FrozenInstanceError(f"cannot assign to field {name!r}")

        def __delattr__(self, name: str) -> None:
            raise FrozenInstanceError(f"cannot delete field {name!r}")


def _complete(cls: type[Value]) -> None:
    """Write the methods of a class, unless it has them."""
    with _COMPLETING:
        if cls not in _UNUSED:
            return
        options = _UNUSED[cls]
        # Else `dataclass` writes the signature there, which is not known yet.
        cls.__doc__ = cls.__doc__ or cls.__name__
        kw_only = options.get("kw_only", False)
        dataclass(init=False, repr=False, eq=False, kw_only=kw_only)(cls)
        for name, method in _methods(cls, eq=options.get("eq", True)).items():
            method.__qualname__ = f"{cls.__qualname__}.{name}"
            # Python itself writes None for the hash of a class that says what is equal.
            if cls.__dict__.get(name) is None:
                setattr(cls, name, method)
        if options.get("repr", True) and "__repr__" not in cls.__dict__:
            cls.__repr__ = _repr  # type: ignore[method-assign]
        del _UNUSED[cls]


def _methods(cls: type[Value], *, eq: bool) -> dict[str, Any]:
    """How an object is made, and, with `eq`, compared with others of its class."""
    given = fields(cls)  # type: ignore[arg-type]  # a dataclass by now
    scope: dict[str, Any] = {"_MADE": _MADE, "__name__": cls.__module__}
    for one in given:
        scope |= {f"_default_{one.name}": one.default, f"_make_{one.name}": one.default_factory}
    lines = list(_init(given, is_checked=hasattr(cls, "__post_init__")))
    if eq:
        lines += _comparison([one.name for one in given if one.compare])
    methods: dict[str, Any] = {}
    exec("\n".join(lines), scope, methods)  # noqa: S102 - nothing but names of fields is in it
    annotations = {one.name: one.type for one in given}
    methods["__init__"].__annotations__ = {**annotations, "return": None}
    return methods


def _init(given: tuple[Field[Any], ...], *, is_checked: bool) -> Iterator[str]:
    """The lines of a method that takes the fields; `__post_init__` may refuse them."""
    plain = [_parameter(one) for one in given if not one.kw_only]
    by_name = [_parameter(one) for one in given if one.kw_only]
    parameters = [*plain, "*", *by_name] if by_name else plain
    yield f"def __init__({', '.join(['self', *parameters])}):"
    # Into the object itself, as `__setattr__` refuses everything. No field has a name of that form.
    yield " __values__ = self.__dict__"
    for one in given:
        name = one.name
        if one.default_factory is MISSING:
            yield f" __values__[{name!r}] = {name}"
        else:
            yield f" __values__[{name!r}] = _make_{name}() if {name} is _MADE else {name}"
    if is_checked:
        yield " self.__post_init__()"


def _parameter(one: Field[Any]) -> str:
    if one.default_factory is not MISSING:
        return f"{one.name}=_MADE"
    if one.default is not MISSING:
        return f"{one.name}=_default_{one.name}"
    return one.name


def _comparison(names: list[str]) -> Iterator[str]:
    """The lines of methods by which objects with equal fields are one."""
    own, others = ("".join(f"{it}.{name}, " for name in names) for it in ("self", "other"))
    yield "def __eq__(self, other):"
    yield " same = other.__class__ is self.__class__"
    yield f" return ({own}) == ({others}) if same else NotImplemented"
    yield "def __hash__(self):"
    yield f" return hash(({own}))"


@recursive_repr()
def _repr(self: Any) -> str:  # noqa: ANN401 - of any class
    """The class and the fields with their values."""
    shown = (f"{one.name}={getattr(self, one.name)!r}" for one in fields(self) if one.repr)
    return f"{self.__class__.__qualname__}({', '.join(shown)})"
