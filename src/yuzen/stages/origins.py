"""Where the value of each key of a chart comes from: its brief, its house, or Yuzen itself."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, Literal, TypeAlias

from yuzen.brief.toml.source import BriefSource, KeyPath
from yuzen.stages.stages import Stages
from yuzen.value import Value

Origin: TypeAlias = Literal["brief", "house", "rules", "default"]


class KeyOrigin(Value):
    """A key of a chart, its value, and where that is set.

    source: the brief; the yuzen.toml of its house; the file of rules that it shares; or none of
            them, so that it is as Yuzen has it.
    """

    key: str
    value: object
    source: Origin
    file: str | None = None
    line: int | None = None


def key_origins(stages: Stages) -> list[KeyOrigin]:
    """Every key that is set for a chart, in the order of a brief. Raises YuzenError."""
    plain = stages.housed.brief.plain()
    # The rules of the file are among the chart's own by now.
    if stages.brief.rules is not None:
        plain = {"rules": stages.brief.rules, **plain}
    return [_origin(key, value, stages) for key, value in _leaves(plain, ())]


def _leaves(value: Any, key: KeyPath) -> Iterator[tuple[KeyPath, Any]]:  # noqa: ANN401 - plain values
    """Every value that is no table, with its key; a list of tables is one by one."""
    if isinstance(value, Mapping) and value:
        for name, inner in value.items():
            yield from _leaves(inner, (*key, name))
    elif isinstance(value, list) and value and isinstance(value[0], Mapping):
        for place, inner in enumerate(value):
            yield from _leaves(inner, (*key, place))
    else:
        yield key, value


def _origin(key: KeyPath, value: object, stages: Stages) -> KeyOrigin:
    """Where one key is set."""
    # A default that the brief sets too is not among those that are given, so it is the brief's.
    name = _name(key)
    defaults = stages.defaults
    if defaults is not None and defaults.gives(key):
        return KeyOrigin(name, value, "house", str(defaults.path), defaults.written.line(key))
    written, place = stages.housed.place_of(key)
    house = stages.housed.house
    if house is not None and key[0] == "parameters" and key[1] not in stages.brief.parameters:
        return _at(name, value, "rules", house.written, key)
    if house is not None and written is house.written:
        return _at(name, value, "rules", written, place)
    return _at(name, value, "brief", written, place)


def _at(
    name: str, value: object, source: Origin, written: BriefSource | None, key: KeyPath
) -> KeyOrigin:
    if written is None:
        return KeyOrigin(name, value, source)
    return KeyOrigin(name, value, source, written.called, written.line(key))


def _name(key: KeyPath) -> str:
    """A key as people name it; entries of lists count from 1.

    >>> _name(("rule", 0, "when")), _name(("data", "file"))
    ('rule 1, when', 'data.file')
    """
    name = ""
    for step in key:
        if isinstance(step, int):
            name += f" {step + 1},"
        elif name.endswith(","):
            name += f" {step}"
        else:
            name += f".{step}" if name else step
    return name
