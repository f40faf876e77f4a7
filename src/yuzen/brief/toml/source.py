"""Where things stand in the text of a brief: the line of each section and key."""

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace
from typing import Final, TypeAlias

from yuzen.errors import Fault
from yuzen.locks import cached_property
from yuzen.regex import regex
from yuzen.value import Value

KeyPath: TypeAlias = tuple[str | int, ...]

_NAME: Final = r"""(?:"[^"]*"|'[^']*'|[A-Za-z0-9_-]+)"""
_DOTTED: Final = rf"{_NAME}(?:\s*\.\s*{_NAME})*"
_HEAD: Final = regex(rf"\s*(\[\[?)\s*({_DOTTED})\s*\]")
_SETS: Final = regex(rf"\s*({_DOTTED})\s*=")
# What decides whether a value goes on in the next line: brackets, and quotes, of which three open a
# text of several lines; a comment or a text of one line is passed over whole.
_PIECES: Final = regex(r'"""|\'\'\'|"(?:[^"\\]|\\.)*"|\'[^\']*\'|#.*|[\[\]{}]')


class BriefSource(Value):
    """The text of a brief and what its file is called."""

    called: str
    text: str

    def located(self, fault: Fault) -> Fault:
        """The fault with the file and, if known, the line."""
        line = self.line(fault.key)
        place = f"{self.called}, line {line}" if line else self.called
        return replace(fault.at(place), key=(), line=line)

    def line(self, key: KeyPath) -> int | None:
        """The line on which a key stands, or the section that it is missing in; from 1."""
        return next(
            (self._lines[key[:n]] for n in range(len(key), 0, -1) if key[:n] in self._lines), None
        )

    def has(self, key: KeyPath) -> bool:
        """Whether the text sets a key, or opens a section, by this very name."""
        return key in self._lines

    @property
    def headings(self) -> list[tuple[KeyPath, int]]:
        """The sections in the order of the text, each with the line of its heading, from 1."""
        lines = self.text.splitlines()
        headed = [(key, line) for key, line in self._lines.items() if _HEAD.match(lines[line - 1])]
        return sorted(headed, key=lambda entry: entry[1])

    @cached_property
    def _lines(self) -> dict[KeyPath, int]:
        lines_by_key: dict[KeyPath, int] = {}
        seen: Counter[str] = Counter()
        section: KeyPath = ()
        for number, line in _beginnings(self.text):
            if head := _HEAD.match(line):
                section = _names(head[2])
                if head[1] == "[[":
                    section = (*section, seen[head[2]])
                    seen[head[2]] += 1
                elif section and seen[str(section[0])]:  # a table inside the last of several
                    section = (section[0], seen[str(section[0])] - 1, *section[1:])
                lines_by_key.setdefault(section, number)
            elif sets := _SETS.match(line):
                names = _names(sets[1])
                # `chart.kind = "bar"` opens the section chart on the same line.
                for end in range(1, len(names) + 1):
                    lines_by_key.setdefault((*section, *names[:end]), number)
        return lines_by_key


def _names(dotted: str) -> KeyPath:
    return tuple(name.strip("\"'") for name in re.findall(_NAME, dotted))


def _beginnings(text: str) -> Iterator[tuple[int, str]]:
    """The lines on which an entry begins, with their numbers; not those that continue a value."""
    depth, quotes = 0, ""
    for number, line in enumerate(text.splitlines(), start=1):
        if not depth and not quotes:
            yield number, line
            if _HEAD.match(line):
                continue
        depth, quotes = _after(line, depth, quotes)


def _after(line: str, depth: int, quotes: str) -> tuple[int, str]:
    """How many brackets are open after a line, and which quotes of a text of several lines."""
    place = 0
    while True:
        if quotes:
            end = line.find(quotes, place)
            if end < 0:
                return depth, quotes
            place, quotes = end + 3, ""
        piece = _PIECES.search(line, place)
        if piece is None:
            return depth, quotes
        place = piece.end()
        if piece[0] in {'"""', "'''"}:
            quotes = piece[0]
        else:
            depth = max(0, depth + (piece[0] in "[{") - (piece[0] in "]}"))
