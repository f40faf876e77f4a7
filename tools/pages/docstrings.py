"""Docstrings as the site shows them: examples as blocks, and arguments as a list."""

from __future__ import annotations

import re
from typing import Any

import griffe  # of the extra docs

ARGUMENT = re.compile(r"^(?P<names>\w+(, \w+)*): +(?P<meaning>\S.*)$")


class Docstrings(griffe.Extension):
    """What griffe calls for each object that it has read."""

    def on_instance(self, *, obj: griffe.Object, **_: Any) -> None:  # noqa: ANN401 - as griffe calls
        """Write the docstring of an object as Markdown."""
        if obj.docstring is not None:
            obj.docstring.value = as_markdown(obj.docstring.value)


def as_markdown(docstring: str) -> str:
    """A docstring of ours in Markdown: examples between fences, arguments as items of a list."""
    parts = []
    for part in re.split(r"\n\s*\n", docstring):
        if part.lstrip().startswith(">>> "):
            parts.append(f"```pycon\n{part}\n```")
        else:
            parts.append("\n".join(_listed(part.splitlines())))
    return "\n\n".join(parts)


def _listed(lines: list[str]) -> list[str]:
    """Lines of which each that explains an argument is an item."""
    return [
        f"- `{found['names']}`: {found['meaning']}" if (found := ARGUMENT.match(line)) else line
        for line in lines
    ]
