"""Fonts by their families: those that the machine has, and those that a house brings in files."""

import warnings
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from functools import lru_cache

from matplotlib.font_manager import FontProperties, findfont, fontManager, get_font

from yuzen.color.themes import Theme

# Families that hold scripts which the others lack; whichever are installed lend their letters.
FALLBACK_FAMILIES = (
    "Noto Sans CJK JP",
    "Noto Sans CJK SC",
    "Noto Sans",
    "Noto Sans Devanagari",
    "Noto Sans Thai",
    "Hiragino Sans",
    "PingFang SC",
    "Yu Gothic",
    "Microsoft YaHei",
    "Malgun Gothic",
    "Nirmala UI",
    "Arial Unicode MS",
)


@contextmanager
def quiet_fonts() -> Iterator[None]:
    """A glyph that no font has is drawn as a box; that is no reason to print a warning."""
    with warnings.catch_warnings():
        warnings.filterwarnings("ignore", message=r"(?s).*[Gg]lyph.*")
        warnings.filterwarnings("ignore", message=r"(?s).*Matplotlib currently does not support.*")
        yield


def families_of(theme: Theme) -> tuple[str, ...]:
    """The families for a theme's texts: its own that are installed, then fallback families."""
    family_names = tuple(dict.fromkeys(family_in(file) for file in theme.font_files))
    return installed(theme.fonts or family_names, family_names)


@lru_cache(maxsize=64)
def installed(families: tuple[str, ...], file_families: tuple[str, ...] = ()) -> tuple[str, ...]:
    """The families that are installed or in `own` files, then fallback families."""
    known = {*fontManager.get_font_names(), *file_families}
    further = [family for family in FALLBACK_FAMILIES if family in known]
    return tuple(dict.fromkeys([*(f for f in families if f in known), "DejaVu Sans", *further]))


@lru_cache(maxsize=256)
def family_in(file: str) -> str:
    """The family of a font file, which Matplotlib knows from then on.

    Raises OSError, RuntimeError or ValueError, as Matplotlib does, for a file that is no font.
    """
    fontManager.addfont(file)
    return str(get_font(file).family_name)


def missing_letters(texts: Iterable[str], theme: Theme) -> str:
    """The characters that none of the fonts has, each once, as they first stand in the texts."""
    known: set[int] = set()
    for family in families_of(theme):
        known |= get_font(findfont(FontProperties(family=family))).get_charmap().keys()
    used = dict.fromkeys(char for text in texts for char in text)
    return "".join(c for c in used if ord(c) not in known and c.isprintable() and not c.isspace())
