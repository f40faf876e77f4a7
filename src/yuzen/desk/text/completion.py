"""What can be written at a place of a brief's text: keys, columns, kinds, roles, words, values."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from functools import cache
from typing import Final

from yuzen.brief.keys.key_help import KeyHelp, keys_of
from yuzen.brief.toml.document import brief_schema, known_targets
from yuzen.color.themes import THEMES
from yuzen.desk.shown.row_columns import RowColumnTable
from yuzen.formats.periods import UNITS
from yuzen.regex import regex
from yuzen.rules.language.words import reserved, written
from yuzen.stages.stages import Stages
from yuzen.value import Value

MAX_OPTIONS: Final = 60
_HEADING: Final = regex(r"^\s*\[{1,2}\s*([\w.]+)\s*\]", re.MULTILINE)
_OPEN_HEADING: Final = regex(r"^\s*\[{1,2}\s*([\w.]*)$")
_OPEN_KEY: Final = regex(r"^\s*(\w*)$")
_OPEN_VALUE: Final = regex(
    r"^\s*([\w.]+)\s*=\s*(?P<list>\[.*?)?(?P<quote>[\"'])(?P<text>[^\"']*|.*)$"
)
_LAST_WORD: Final = regex(r"(`[^`]*|\w*)$")
_QUOTED_TEXT: Final = regex(r"^(?:[^\"]*\"[^\"]*\")*[^\"]*\"([^\"]*)$")
CONDITIONS: Final = frozenset({"a condition", "a quantity", "a comparison", "an order"})


class CompletionOption(Value):
    """Something that can be written, and what it is or does."""

    text: str
    about: str


class Completion(Value):
    """What can be written in the place of the text from `start` on."""

    start: int
    options: tuple[CompletionOption, ...] = ()


class KnownNames(Value):
    """The names that a brief's texts can use; none where there is no chart yet."""

    columns: RowColumnTable
    stages: Stages | None

    @property
    def parameters(self) -> Iterable[str]:
        """The parameters of the brief."""
        return () if self.stages is None else self.stages.housed.brief.parameters

    @property
    def measures(self) -> Iterable[str]:
        """The measures of the brief."""
        return () if self.stages is None else self.stages.housed.brief.measures


def completion_at(text: str, place: int, names: KnownNames) -> Completion:
    """What can be written at a place of a brief's text."""
    before = text[:place]
    line = before.rpartition("\n")[2]
    section = _section(before)
    if begun := _OPEN_HEADING.match(line):
        return _begun(place, begun[1], _headings())
    if begun := _OPEN_KEY.match(line):
        return _begun(place, begun[1], _keys(section))
    if (begun := _OPEN_VALUE.match(line)) and begun["quote"] not in begun["text"]:
        key = _key_help(section, begun[1])
        if key is not None:
            return _of_value(place, key, begun["text"], begun["quote"], names)
    return Completion(place)


def _of_value(place: int, key: KeyHelp, begun: str, quote: str, names: KnownNames) -> Completion:
    """What a text under a key can be."""
    if not CONDITIONS.isdisjoint(re.split(r" or |, ", key.takes)):
        inner = _QUOTED_TEXT.match(begun) if quote == "'" else None
        if inner:
            return _begun(place, inner[1], _column_values(names))
        word = _LAST_WORD.search(begun)
        return _begun(place, "" if word is None else word[1], _language(names))
    return _begun(place, begun, _values(key, names))


def _values(key: KeyHelp, names: KnownNames) -> Iterator[CompletionOption]:
    """The values of a key that is no condition."""
    special = SPECIAL.get(key.path) or SPECIAL.get(key.name)
    if special is not None:
        yield from special(names)
    elif "color" in key.takes:
        roles: Mapping[str, str] = {} if names.stages is None else names.stages.theme.roles
        yield from (CompletionOption(role, color) for role, color in roles.items())
    elif key.takes.startswith("one of "):
        words = key.takes.removeprefix("one of ").partition(" or ")[0].split(", ")
        yield from (CompletionOption(word.strip('"'), key.name) for word in words)
    elif "column" in key.takes or "quantity" in key.takes:
        yield from _columns(names, lambda name: name)


def _targets(names: KnownNames) -> Iterator[CompletionOption]:
    if names.stages is not None:
        for target in known_targets(names.stages.brief):
            yield CompletionOption(target, "what a rule acts on")


def _themes(names: KnownNames) -> Iterator[CompletionOption]:
    del names
    return (CompletionOption(name, "theme") for name in THEMES)


SPECIAL: Final[Mapping[str, Callable[[KnownNames], Iterator[CompletionOption]]]] = {
    "theme": _themes,
    "on": _targets,
}


def _columns(names: KnownNames, as_text: Callable[[str], str]) -> Iterator[CompletionOption]:
    for name in names.measures:
        yield CompletionOption(as_text(name), "measure")
    for column in names.columns.columns.values():
        yield CompletionOption(as_text(column.name), f"column of {_plural(column.kind)}")


def _plural(kind: str) -> str:
    return kind if kind == "words" else f"{kind}s"


def _column_values(names: KnownNames) -> Iterator[CompletionOption]:
    for column in names.columns.columns.values():
        for value in column.values:
            yield CompletionOption(value, column.name)


def _language(names: KnownNames) -> Iterator[CompletionOption]:
    """The names and the words that a condition is made of."""
    yield from _columns(names, written)
    for name in names.parameters:
        yield CompletionOption(written(name), "parameter")
    for word in sorted({*reserved(), *UNITS}):
        yield CompletionOption(word, "word of the language")


def _begun(place: int, begun: str, options: Iterable[CompletionOption]) -> Completion:
    """The options that begin as a word does, each once; what stands there already is none."""
    fold, first = begun.casefold(), dict[str, CompletionOption]()
    for option in options:
        if option.text.casefold().startswith(fold) and option.text != begun:
            first.setdefault(option.text, option)
    return Completion(place - len(begun), tuple(first.values())[:MAX_OPTIONS])


def _section(before: str) -> str:
    """The section that a place is in; '' for the top."""
    headings = _HEADING.findall(before)
    return headings[-1] if headings else ""


@cache
def _all_keys() -> Mapping[str, KeyHelp]:
    return keys_of(brief_schema())


def _key_help(section: str, name: str) -> KeyHelp | None:
    keys = _all_keys()
    if section == "measures":  # whose names are the analyst's own, and whose values are quantities
        return keys.get("chart.base")
    return keys.get(f"{section}.{name}" if section else name)


def _headings() -> Iterator[CompletionOption]:
    for key in _all_keys().values():
        if key.keys or key.takes.startswith("a section"):
            yield CompletionOption(key.path, key.about)


def _keys(section: str) -> Iterator[CompletionOption]:
    """The keys of a section, each ready for its value."""
    for key in _all_keys().values():
        if key.section == section and not key.keys:
            yield CompletionOption(f"{key.name} = ", key.about)
