"""The blocks of a brief's text: sections from heading to heading, with the comments above them."""

from __future__ import annotations

from itertools import pairwise

from yuzen.brief.toml.source import BriefSource, KeyPath


def with_line_in(written: BriefSource, section: KeyPath, line: str) -> str | None:
    """The text with a line at the end of a section; None where the section has no heading.

    section: () for the top, before all headings.
    """
    lines = written.text.splitlines()
    starts = [heading for _, heading in written.headings]
    if section:
        first = next((at for key, at in written.headings if key == section), None)
        if first is None:
            return None
    else:
        first = 0
    end = next((at - 1 for at in starts if at > first), len(lines))
    # After the last line that says something; comments below it are about what follows.
    last = next((at for at in range(end, first, -1) if _says_something(lines[at - 1])), first)
    if not section and last == 0:
        last, line = _after_head_comment(lines, end), f"{line}\n"
    return _joined([*lines[:last], line, *lines[last:]])


class RuleBlocks:
    """The rules of a text as blocks of lines, each with the comments right above its heading."""

    def __init__(self, text: str) -> None:
        written = BriefSource("", text)
        self.lines = text.splitlines()
        headings = written.headings
        ends = [*(at for _, at in headings), len(self.lines) + 1]
        starts: dict[int, int] = {}
        stops: dict[int, int] = {}
        for (key, _), (at, following) in zip(headings, pairwise(ends), strict=True):
            if len(key) > 1 and key[0] == "rule" and isinstance(key[1], int):
                starts.setdefault(key[1], self._with_comments(at - 1))
                stops[key[1]] = following - 1
        # A block ends where the comments of what follows begin.
        self.blocks = [
            (starts[rule], self._with_comments(stops[rule]) if stops[rule] < len(self.lines)
             else len(self.lines))
            for rule in sorted(starts)
        ]  # fmt: skip

    def inserted(self, block: str, place: int | None) -> str:
        """The text with a block before the rule at a place; None: after all rules."""
        if place is None or place >= len(self.blocks):
            at = self.blocks[-1][1] if self.blocks else len(self.lines)
        else:
            at = self.blocks[place][0]
        return _spaced(self.lines[:at], block.splitlines(), self.lines[at:])

    def without(self, place: int) -> str:
        """The text without the rule at a place. Raises IndexError."""
        first, end = self._block(place)
        return _spaced(self.lines[:first], [], self.lines[end:])

    def moved(self, place: int, to: int) -> str:
        """The text with the rule at a place where another stands. Raises IndexError."""
        first, end = self._block(place)
        self._block(to)
        block = "\n".join(self.lines[first:end]).strip("\n")
        without = RuleBlocks(self.without(place))
        return without.inserted(block, to)

    def _block(self, place: int) -> tuple[int, int]:
        if place < 0:
            raise IndexError(place)
        return self.blocks[place]

    def _with_comments(self, line: int) -> int:
        """The index of the first of the comments right above a line, or of the line itself."""
        while line > 0 and self.lines[line - 1].lstrip().startswith("#"):
            line -= 1
        return line


def _says_something(line: str) -> bool:
    return bool(line.strip()) and not line.lstrip().startswith("#")


def _after_head_comment(lines: list[str], end: int) -> int:
    """The index after a comment at the very top that a blank line ends; 0 where there is none."""
    at = 0
    while at < end and lines[at].lstrip().startswith("#"):
        at += 1
    if 0 < at < len(lines) and not lines[at].strip():
        return at + 1
    return 0


def _spaced(before: list[str], block: list[str], after: list[str]) -> str:
    """Lines with one blank line around a block."""
    while before and not before[-1].strip():
        before = before[:-1]
    while after and not after[0].strip():
        after = after[1:]
    parts = [part for part in (before, block, after) if part]
    return _joined([line for part in parts for line in ("", *part)][1:])


def _joined(lines: list[str]) -> str:
    return "\n".join(lines) + "\n"
