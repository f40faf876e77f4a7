"""Themes: the colours of meanings, the fonts and the sizes that all charts of a house share."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from collections.abc import Set as AbstractSet
from dataclasses import field, replace
from pathlib import Path
from typing import Any, Final

import numpy as np

from yuzen.color.gradient import encoded, hexes
from yuzen.color.named import contrast, hex_of, linear, rgb_of
from yuzen.errors import YuzenError, make_error, reason_of, require_type, suggestion
from yuzen.formats.english import ENGLISH
from yuzen.formats.words import words_fault
from yuzen.locks import cached_property
from yuzen.paths import read_bounded
from yuzen.value import Value

LINE_CONTRAST: Final = 3.0  # what a line that carries data needs (WCAG 2.2, criterion 1.4.11)
TEXT_CONTRAST: Final = 4.5  # what text needs on its ground (WCAG 2.2, criterion 1.4.3)
PATTERNS: Final = ("stripes", "cross", "dots", "grid")
MOST_SERIES: Final = 20
MOST_FONT_FILES: Final = 40
FONT_ENDINGS: Final = (".ttf", ".otf", ".ttc")
MAX_FONT_BYTES: Final = 50_000_000
MAX_THEME_BYTES: Final = 100_000  # of a theme file

TEXT_SIZES_PT: Final = {
    "title": 19.0,
    "subtitle": 12.5,
    "key": 11.0,
    "name": 11.0,
    "number": 11.0,
    "reference": 10.0,
    "footer": 9.5,
}


class Theme(Value):
    """The looks of a house.

    roles:    colours by meaning, '#RRGGBB'; those of `linen` are always among them, and a house may
              name more.
    series:   greys and blues for what is no exception, clear of the roles: 'series 1', 'series 2',
              ...
    patterns: hatches that roles carry besides their colour, so that a flag survives a grey printer.
    fonts:    font families, the first that is there is used; none: those of the font files.
    font_files: the house's own fonts, as paths, which need not be installed.
    sizes:    text sizes in points.
    words:    words of the house, in the place of those that Yuzen writes itself.
    """

    name: str
    roles: Mapping[str, str]
    series: tuple[str, ...]
    patterns: Mapping[str, str] = field(default_factory=dict)
    fonts: tuple[str, ...] = ("DejaVu Sans",)
    sizes: Mapping[str, float] = field(default_factory=lambda: dict(TEXT_SIZES_PT))
    font_files: tuple[str, ...] = ()
    words: Mapping[str, str] = field(default_factory=dict)

    def color(self, role: str) -> str:
        """A role's colour."""
        return self.roles[role]

    def readable(self, color: str) -> str:
        """The colour if text in it can be read on the paper, else ink."""
        enough = contrast(color, self.color("paper")) >= TEXT_CONTRAST
        if enough:
            return color
        return self.color("ink")

    @cached_property
    def for_lines(self) -> Theme:
        """The theme for charts of lines, which are too thin to be as pale as quiet bars.

        Their quiet colour is mixed with as much ink as gives it the least contrast with the paper.
        """
        quiet, ink = (linear(rgb_of(self.color(role))) for role in ("quiet", "ink"))
        shares = np.linspace(0.0, 1.0, 256)[:, None]
        # Mixed as light and not as bytes, so that the steps are even.
        mixed = hexes(encoded((1 - shares) * quiet + shares * ink))
        strong = next(
            (c for c in mixed if contrast(c, self.color("paper")) >= LINE_CONTRAST), mixed[-1]
        )
        return replace(self, roles={**self.roles, "quiet": strong})

    @property
    def named(self) -> dict[str, str]:
        """All names that the theme gives to colours: its roles, then its series."""
        return {
            **self.roles,
            **{f"series {i}": color for i, color in enumerate(self.series, start=1)},
        }


LINEN: Final = Theme(
    "linen",
    {
        "favorable": "#0A4A80",
        "adverse": "#C63E2F",
        "notice": "#D79A00",
        "quiet": "#C9CCD0",
        "ink": "#22272C",
        "slate": "#5B646D",
        "hairline": "#DADDE0",
        "paper": "#FFFFFF",
        "pale": "#EDEFF1",
        "missing": "#EFE3C8",
    },
    series=("#000C24", "#6D97BD", "#898D8B", "#B4D9FF", "#1D687F", "#5C5C55"),
)
DUSK: Final = Theme(
    "dusk",
    {
        "favorable": "#67B4F4",
        "adverse": "#DA604B",
        "notice": "#FFD75F",
        "quiet": "#54595E",
        "ink": "#ECEEF0",
        "slate": "#A9B0B7",
        "hairline": "#343A40",
        "paper": "#15191D",
        "pale": "#30363C",
        "missing": "#4A4230",
    },
    series=("#FEFFF2", "#7D98BF", "#B8C4CE", "#415277", "#6C7166", "#393B38"),
)
PRESS: Final = Theme(
    "press",
    {
        "favorable": "#525252",
        "adverse": "#111111",
        "notice": "#8F8F8F",
        "quiet": "#E0E0E0",
        "ink": "#111111",
        "slate": "#4A4A4A",
        "hairline": "#CFCFCF",
        "paper": "#FFFFFF",
        "pale": "#F0F0F0",
        "missing": "#F7F7F7",
    },
    series=("#2E2E2E", "#666666", "#7E7E7E", "#A4A4A4"),
    patterns={"adverse": "stripes", "favorable": "dots", "notice": "cross"},
)
THEMES: Final = {theme.name: theme for theme in (LINEN, DUSK, PRESS)}


def theme_of(name: str, folder: Path, used: AbstractSet[str] = frozenset()) -> Theme:
    """A built-in theme by its name, or the one in a TOML file. Raises YuzenError (brief-theme).

    used: the colors that the brief names: by them a role of the theme's own is told from a misspelt
          one.
    """
    require_type(name, str, 'Name one, as "dusk", or its file, as "house.toml".')
    if name.casefold().endswith(".toml"):
        theme = load_theme(folder / name)
        _refuse_misspelt(theme, used, (folder / name).name)
        return theme
    if name not in THEMES:
        message = f"I know no theme '{name[:60]}'.{suggestion(name, THEMES)}"
        raise make_error(
            "brief-theme", f"{message} There is {', '.join(THEMES)}, or a file that ends in .toml."
        )
    return THEMES[name]


def load_theme(path: Path) -> Theme:
    """The theme in a TOML file.

    Its keys: base, series, fonts, font_files; its tables: roles, patterns, sizes, words.

    Raises YuzenError (brief-theme) with the file and the key.
    """
    try:
        tables_read = tomllib.loads(read_bounded(path, MAX_THEME_BYTES).decode("utf-8-sig"))
    except (tomllib.TOMLDecodeError, UnicodeDecodeError, RecursionError) as error:
        raise make_error(
            "brief-theme", f"This is no TOML: {reason_of(error)}.", where=str(path)
        ) from None
    except (OSError, ValueError) as error:
        message = f"The theme cannot be read: {reason_of(error)}."
        raise make_error("brief-theme", message, where=str(path)) from None
    try:
        return _theme(tables_read, path)
    except YuzenError as error:
        raise error.at(path.name) from None


def own_roles(theme: Theme) -> list[str]:
    """The roles that a theme has besides those that every theme has."""
    return [role for role in theme.roles if role not in LINEN.roles]


def _refuse_misspelt(theme: Theme, used: AbstractSet[str], where: str) -> None:
    """Raise where a role that the brief does not use is nearly one that every theme has."""
    for role in own_roles(theme):
        # A role of one's own is right where a rule uses it, however near its name is.
        if role not in used and (hint := suggestion(role, LINEN.roles)):
            message = f"I know no role '{role[:60]}', and no rule uses one of that name.{hint}"
            raise make_error("brief-theme", message, where=f"{where}, roles")


def _theme(tables_read: Mapping[str, Any], path: Path) -> Theme:
    known = ("base", "roles", "series", "patterns", "fonts", "font_files", "sizes", "words")
    for key in tables_read:
        if key not in known:
            raise make_error(
                "brief-theme", f"I know no key '{key}' in a theme.{suggestion(key, known)}"
            )
    base = tables_read.get("base", "linen")
    if not isinstance(base, str) or base not in THEMES:
        raise make_error(
            "brief-theme", f"I know no theme '{str(base)[:60]}' to begin from.", where="base"
        )
    theme = THEMES[base]
    theme_roles = _roles(tables_read.get("roles", {}), theme)
    return replace(
        theme,
        name=path.stem,
        roles={**theme.roles, **theme_roles},
        series=_series(tables_read["series"], theme) if "series" in tables_read else theme.series,
        patterns={
            **theme.patterns,
            **_patterns(tables_read.get("patterns", {}), {**theme.roles, **theme_roles}),
        },
        fonts=_fonts(tables_read["fonts"])
        if "fonts" in tables_read
        else theme.fonts * ("font_files" not in tables_read),
        font_files=_font_files(tables_read.get("font_files", []), path.parent),
        sizes={**theme.sizes, **_sizes(tables_read.get("sizes", {}))},
        words=_words(tables_read.get("words", {})),
    )


def _roles(value: object, theme: Theme) -> dict[str, str]:
    roles = {}
    for role, color in _table(value, "roles").items():
        if not isinstance(color, str):
            raise make_error("brief-theme", "A color is a text.", where=f"roles, {role}")
        try:
            roles[role] = hex_of(color, theme.roles)
        except YuzenError as error:
            raise error.at(f"roles, {role}") from None
    return roles


def _series(value: object, theme: Theme) -> tuple[str, ...]:
    if not isinstance(value, list) or not 1 <= len(value) <= MOST_SERIES:
        raise make_error(
            "brief-theme", f"series is a list of 1 to {MOST_SERIES} colors.", where="series"
        )
    return tuple(_roles({f"series {i}": c for i, c in enumerate(value, start=1)}, theme).values())


def _patterns(value: object, roles: Mapping[str, str]) -> dict[str, str]:
    patterns = _table(value, "patterns")
    for role, pattern in patterns.items():
        if role not in roles:
            message = f"I know no role '{role[:60]}'.{suggestion(role, roles)}"
            raise make_error("brief-theme", message, where="patterns")
        if pattern not in PATTERNS:
            message = f"There is no pattern '{pattern}'; there is {', '.join(PATTERNS)}."
            raise make_error("brief-theme", message, where=f"patterns, {role}")
    return patterns


def _fonts(value: object) -> tuple[str, ...]:
    if not isinstance(value, list) or not value or not all(isinstance(font, str) for font in value):
        raise make_error(
            "brief-theme", 'fonts is a list of names, such as ["Inter", "DejaVu Sans"].'
        )
    return tuple(value)


def _font_files(value: object, folder: Path) -> tuple[str, ...]:
    """Paths of fonts, as the theme's file sees them."""
    if (
        not isinstance(value, list)
        or len(value) > MOST_FONT_FILES
        or not all(isinstance(f, str) for f in value)
    ):
        message = (
            f'font_files is a list of at most {MOST_FONT_FILES} paths, such as ["fonts/House.ttf"].'
        )
        raise make_error("brief-theme", message, where="font_files")
    for name in value:
        path = folder / name
        if path.suffix.lower() not in FONT_ENDINGS:
            message = f"'{name[:60]}' is no font file; one ends in {', '.join(FONT_ENDINGS)}."
            raise make_error("brief-theme", message, where="font_files")
        if not path.is_file():
            nearby = [
                other.name
                for other in path.parent.glob("*")
                if other.suffix.lower() in FONT_ENDINGS
            ]
            message = f"There is no file '{name[:60]}'.{suggestion(path.name, nearby)}"
            raise make_error("brief-theme", message, where="font_files")
        if path.stat().st_size > MAX_FONT_BYTES:
            raise make_error(
                "brief-theme", f"'{name[:60]}' is larger than 50 MB.", where="font_files"
            )
    return tuple(str((folder / name).resolve()) for name in value)


def _sizes(value: object) -> dict[str, float]:
    sizes = _table(value, "sizes")
    for use, size in sizes.items():
        if use not in TEXT_SIZES_PT:
            message = f"I know no size '{use}'.{suggestion(use, TEXT_SIZES_PT)}"
            raise make_error("brief-theme", message, where="sizes")
        if not isinstance(size, int | float) or not 5 <= size <= 40:
            raise make_error("brief-theme", "A size is from 5 to 40 points.", where=f"sizes, {use}")
    return sizes


def _words(value: object) -> dict[str, str]:
    words = _table(value, "words")
    for key, text in words.items():
        if not isinstance(text, str):
            raise make_error("brief-theme", "Words are a text.", where=f"words, {key[:60]}")
        if fault := words_fault(key, text):
            message = f"{fault}.{suggestion(key, ENGLISH)}"
            raise make_error("brief-theme", message, where="words")
    return words


def _table(value: object, key: str) -> dict[str, Any]:
    if not isinstance(value, dict):
        raise make_error("brief-theme", f"[{key}] is a table.", where=key)
    return value
