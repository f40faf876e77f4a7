"""The blocks of a page of documents: briefs, calls and scripts, which run in the demo's folder.

A block of TOML begins with the file that it is, `# top.toml`, or that it is put into,
`# in top.toml`. A block of console holds calls, each with what it prints; three dots stand
for any lines. Blocks of Python run one after the other. Blocks of other languages are read only.
"""

from __future__ import annotations

import re
import tomllib
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

import tomli_w

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

FENCE: Final = re.compile(
    r"^```(?P<language>\w*)[^\n]*\n(?P<text>.*?)^```$", re.MULTILINE | re.DOTALL
)
FILE: Final = re.compile(r"# (?P<inside>in )?(?P<name>[\w./-]+\.toml)\b")
ANY: Final = "..."  # a line that stands for any lines of what a call prints


@dataclass(frozen=True)
class Block:
    """A block of a page: its language, its text, and the line on which it begins."""

    language: str
    text: str
    line: int

    @property
    def file(self) -> str:
        """The file that a block of TOML is, or is put into. Raises ValueError for none."""
        named = FILE.match(self.text)
        if named is None:
            raise ValueError(f"line {self.line}: a block of TOML begins with the file that it is.")
        return named["name"]

    @property
    def is_fragment(self) -> bool:
        """Whether it is put into a brief."""
        named = FILE.match(self.text)
        return named is not None and named["inside"] is not None

    @property
    def is_whole_brief(self) -> bool:
        """Whether it is a brief by itself, of which there is a picture."""
        return self.language == "toml" and not self.is_fragment and "[chart]" in self.text

    def calls(self) -> Iterator[tuple[str, str]]:
        """Each call of a console with what it prints; a backslash at its end goes on."""
        for part in re.split(r"^\$ ", self.text, flags=re.MULTILINE)[1:]:
            line, _, printed = part.replace("\\\n", "").partition("\n")
            yield line.split("  #")[0].strip(), printed.strip("\n")


def blocks_of(page: str) -> list[Block]:
    """The blocks of a page in Markdown."""
    return [
        Block(fence["language"], fence["text"], page.count("\n", 0, fence.start()) + 1)
        for fence in FENCE.finditer(page)
    ]


def write_block(block: Block, folder: Path) -> Path:
    """Write a block of TOML into a folder; a fragment becomes a brief with it inside. Its path."""
    target = folder / block.file
    if not block.is_fragment:
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_text(block.text, encoding="utf-8")
        return target
    whole = _merged(tomllib.loads(target.read_text("utf-8")), tomllib.loads(block.text))
    changed = target.with_name(f"{target.stem}-changed.toml")
    changed.write_text(tomli_w.dumps(whole), encoding="utf-8")
    return changed


def _merged(brief: dict[str, Any], more: dict[str, Any]) -> dict[str, Any]:
    """A brief with further keys; entries of lists come after those that are there."""
    merged = dict(brief)
    for key, value in more.items():
        before = merged.get(key)
        if isinstance(value, dict) and isinstance(before, dict):
            merged[key] = _merged(before, value)
        elif isinstance(value, list) and isinstance(before, list) and isinstance(value[0], dict):
            merged[key] = [*before, *value]
        else:
            merged[key] = value
    return merged


def is_printed(shown: str, printed: str) -> bool:
    r"""Whether a call printed what a page shows, where three dots stand for any lines.

    >>> is_printed("a\n...\nd", "a\nb\nc\nd"), is_printed("a\nd", "a\nb\nd")
    (True, False)
    """
    wanted = [line.rstrip() for line in shown.strip("\n").splitlines()]
    lines = [line.rstrip() for line in printed.strip("\n").splitlines()]
    return not shown.strip() or _matches(wanted, lines)


def _matches(wanted: list[str], lines: list[str]) -> bool:
    """Whether lines are the wanted ones."""
    if not wanted:
        return not lines
    if wanted[0].strip() == ANY:
        return any(_matches(wanted[1:], lines[first:]) for first in range(len(lines) + 1))
    return bool(lines) and lines[0] == wanted[0] and _matches(wanted[1:], lines[1:])
