"""Which files and databases a brief on the desk may name."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any, Final

from yuzen.brief.model import Brief
from yuzen.brief.toml.source import BriefSource, KeyPath
from yuzen.errors import Fault, YuzenError, make_error
from yuzen.paths import path_of

_PLACES: Final[tuple[KeyPath, ...]] = (
    ("theme",),
    ("rules",),
    ("data", "file"),
    ("data", "url"),
    ("data", "table"),
    ("data", "query"),
    ("data", "also", "file"),
    ("data", "also", "table"),
)
_ASKED: Final = frozenset({"url", "table", "query"})  # of a database, which is no file
_PATTERN_SIGNS: Final = "*?["
PIPE: Final = "-"  # how a brief names standard input


def named_places(text: str) -> frozenset[tuple[KeyPath, str]]:
    """The files and databases that a text of TOML names; none where it cannot be read."""
    try:
        values = tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError, ValueError):
        return frozenset()
    return frozenset((key, place) for key, place in _places(values))


def refuse_outside(
    spec: Brief, folder: Path, opened_with: frozenset[tuple[KeyPath, str]], written: BriefSource
) -> None:
    """Raise YuzenError (call-files) for what a brief names outside of its folder.

    opened_with: what it named when it was opened, which whoever opened it wanted.
    """
    faults = [
        Fault("call-files", _message(key), key=key)
        for key, place in _places(spec.plain())
        if (key, place) not in opened_with and not _is_below(key, place, folder)
    ]
    if faults:
        raise YuzenError(*map(written.located, faults))


def target_below(folder: Path, name: str) -> Path:
    """A file in a folder or below it. Raises YuzenError (call-path) for any other."""
    path = path_of(name)
    target = folder / path
    if not _inside(target, folder):
        message = f"Files are written in {folder} or below it. Give a name without a folder."
        raise make_error("call-path", message, where=name[:60])
    return target


def _places(values: Mapping[str, Any]) -> Iterator[tuple[KeyPath, str]]:
    for key in _PLACES:
        value: Any = values
        for step in key:
            value = value.get(step) if isinstance(value, Mapping) else None
        is_theme_name = key == ("theme",) and not str(value).casefold().endswith(".toml")
        if isinstance(value, str) and not is_theme_name:
            yield key, value


def _is_below(key: KeyPath, place: str, folder: Path) -> bool:
    # A pipe is that of the terminal in which the page was started, which would wait for it.
    if key[-1] in _ASKED or "://" in place or place == PIPE:
        return False
    return _inside(folder / path_of(place), folder)


def _inside(path: Path, folder: Path) -> bool:
    """Whether a path leads into a folder, whatever links it goes by; a pattern by its beginning."""
    parts = path.parts
    plain = next((i for i, part in enumerate(parts) if set(part) & {*_PATTERN_SIGNS}), len(parts))
    if ".." in parts[plain:]:
        return False
    try:
        return Path(*parts[:plain]).resolve().is_relative_to(folder.resolve())
    except (OSError, RuntimeError):  # a link in a circle
        return False


def _message(key: KeyPath) -> str:
    name = ".".join(map(str, key))
    if key[-1] in _ASKED:
        return (
            f"{name} asks a database that the brief did not name when it was opened. Save the "
            "brief by an editor, and open it again."
        )
    return (
        f"{name} names a file outside of the brief's folder. Only what the brief named when it "
        "was opened may be there."
    )
