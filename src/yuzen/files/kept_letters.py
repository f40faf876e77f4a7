"""Measured letters, kept from one call of the command line to the next.

Loading Matplotlib to measure letters again takes a quarter of the time that drawing a small SVG
takes. What was measured lasts as long as the files that it was read from stay as they are.
"""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any, Final

from yuzen.draw.text.known_fonts import KNOWN_FONTS, Glyph, KnownFonts, LetterMetrics
from yuzen.errors import YuzenError
from yuzen.files.whole import made_folder, write_whole
from yuzen.paths import read_bounded
from yuzen.release import VERSION
from yuzen.scene.writing import Font

FOLDER_VARIABLE: Final = "YUZEN_CACHE"
FILE_NAME: Final = "letters.json"
MAX_BYTES: Final = 4_000_000
# What Matplotlib is told by, besides files: where those of another setting lie.
VARIABLES: Final = ("MPLCONFIGDIR", "XDG_CACHE_HOME", "XDG_CONFIG_HOME", "HOME")
Stamp = tuple[int, int] | None  # when a file was changed, in ns, and its size; None: not there


@contextmanager
def letters_kept() -> Iterator[None]:
    """Letters that earlier calls measured are known inside; those measured there are kept.

    Nothing is kept where the folder cannot be written to, or settings of Matplotlib lie in the
    folder of the call: those of the next call may be others.
    """
    path = kept_path()
    if path is None or os.environ.get("MATPLOTLIBRC") or Path("matplotlibrc").exists():
        yield
        return
    with suppress(OSError, ValueError, TypeError, KeyError, AttributeError):
        _recall(json.loads(read_bounded(path, MAX_BYTES)), KNOWN_FONTS)
    before = KNOWN_FONTS.count
    yield
    if KNOWN_FONTS.count > before and "matplotlib" in sys.modules:
        text = json.dumps(_remembered(KNOWN_FONTS), separators=(",", ":"))
        with suppress(YuzenError):
            made_folder(path.parent)
            write_whole(path, text.encode())


def kept_path() -> Path | None:
    """The file of kept letters; None where its folder is said to be none, or nobody is at home."""
    named = os.environ.get(FOLDER_VARIABLE)
    if named is not None:
        return Path(named) / FILE_NAME if named else None
    # Where each system keeps what can be made again. A package that knows these places takes longer
    # to load than the letters are worth.
    try:
        home = Path.home()
    except RuntimeError:  # a service can have none
        return None
    if sys.platform == "darwin":
        folder = home / "Library" / "Caches"
    else:
        variable = "LOCALAPPDATA" if sys.platform == "win32" else "XDG_CACHE_HOME"
        folder = Path(os.environ.get(variable) or home / ".cache")
    return folder / "yuzen" / FILE_NAME


def _remembered(fonts: KnownFonts) -> dict[str, Any]:
    """What is known of fonts, with all that has to stay as it is for it to be true."""
    from yuzen.draw.text.font_reader import files_behind_letters  # noqa: PLC0415

    # Fonts in a theme's own files are read from them, as they may be other files next time.
    kept = {font: letters for font, letters in fonts.letters.items() if not font.files}
    return {
        "release": VERSION,
        "variables": _variables(),
        "stamps": {str(path): _stamp(path) for path in files_behind_letters(kept)},
        "families": sorted(fonts.families or ()),
        "fonts": [
            {
                "families": font.families,
                "size": font.size,
                "bold": font.bold,
                "glyphs": letters.glyphs,
                "kernings": letters.kernings,
            }
            for font, letters in kept.items()
        ],
    }


def _recall(kept: Mapping[str, Any], fonts: KnownFonts) -> None:
    """Add what was kept to what is known, if all that it was read from is as it was."""
    if kept["release"] != VERSION or kept["variables"] != _variables():
        return
    if not _unchanged(kept["stamps"].items()):
        return
    # All of it is read before any of it is used: a file that was changed by hand changes nothing.
    recalled = [(_font(entry), _letters(entry)) for entry in kept["fonts"]]
    families = frozenset(map(str, kept["families"]))
    for font, letters in recalled:
        known = fonts.letters_of(font)
        known.glyphs.update(letters.glyphs)
        known.kernings.update(letters.kernings)
    fonts.families = families or None


def _font(entry: Mapping[str, Any]) -> Font:
    return Font(tuple(map(str, entry["families"])), float(entry["size"]), bool(entry["bold"]))


def _letters(entry: Mapping[str, Any]) -> LetterMetrics:
    glyphs = {
        letter: glyph and Glyph(*map(float, glyph)) for letter, glyph in entry["glyphs"].items()
    }
    return LetterMetrics(glyphs, {pair: float(step) for pair, step in entry["kernings"].items()})


def _unchanged(stamps: Iterable[tuple[str, list[int] | None]]) -> bool:
    return all(_stamp(Path(path)) == (stamp and tuple(stamp)) for path, stamp in stamps)


def _stamp(path: Path) -> Stamp:
    try:
        status = path.stat()
    except OSError:
        return None
    return status.st_mtime_ns, status.st_size


def _variables() -> dict[str, str | None]:
    return {name: os.environ.get(name) for name in VARIABLES}
