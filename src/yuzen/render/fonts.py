"""Reads the font files of a theme before anything is drawn with them."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from yuzen.draw.text.fonts import family_in
from yuzen.errors import make_error, reason_of

if TYPE_CHECKING:
    from yuzen.color.themes import Theme


def check_fonts(theme: Theme) -> None:
    """Read the font files of a theme. Raises YuzenError (draw-font) for a file that is no font."""
    for file in theme.font_files:
        try:
            family_in(file)
        except (OSError, RuntimeError, ValueError) as error:
            message = f"The font {Path(file).name} cannot be read: {reason_of(error)}."
            raise make_error("draw-font", message, where="theme, font_files") from None
