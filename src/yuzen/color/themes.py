"""Themes: the colours of meanings, the fonts and the sizes that all charts of a house share."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Final

from yuzen.errors import suggestion, wrong

if TYPE_CHECKING:
    from collections.abc import Mapping

TEXT_CONTRAST: Final = 4.5  # what text needs on its ground (WCAG 2.2, criterion 1.4.3)


@dataclass(frozen=True)
class Theme:
    """The looks of a house.

    roles:  colours by meaning, '#RRGGBB'; favorable, adverse, notice, quiet, ink, slate, hairline,
            paper, pale and missing are always among them.
    fonts:  font families, the first that is installed is used.
    sizes:  text sizes in points.
    """

    name: str
    roles: Mapping[str, str]
    fonts: tuple[str, ...] = ("DejaVu Sans",)
    sizes: Mapping[str, float] = field(
        default_factory=lambda: {
            "title": 19.0,
            "subtitle": 12.5,
            "key": 11.0,
            "name": 11.0,
            "number": 11.0,
            "reference": 10.0,
            "footer": 9.5,
        }
    )

    def color(self, role: str) -> str:
        """A role's colour."""
        return self.roles[role]


LINEN: Final = Theme(
    "linen",
    {
        "favorable": "#0A4A80",
        "adverse": "#C63E2F",
        "notice": "#D59800",
        "quiet": "#C9CCD0",
        "ink": "#22272C",
        "slate": "#5B646D",
        "hairline": "#DADDE0",
        "paper": "#FFFFFF",
        "pale": "#EDEFF1",
        "missing": "#EFE3C8",
    },
)

THEMES: Final = {theme.name: theme for theme in (LINEN,)}


def theme_named(name: str) -> Theme:
    """A built-in theme. Raises YuzenError (brief-theme)."""
    if name not in THEMES:
        message = f"I know no theme '{name[:60]}'.{suggestion(name, THEMES)}"
        raise wrong("brief-theme", f"{message} There is {', '.join(THEMES)}.")
    return THEMES[name]
