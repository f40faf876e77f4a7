"""Reads the font files of a theme before anything is drawn with them."""

from pathlib import Path

from yuzen.color.themes import Theme
from yuzen.draw.text.fonts import family_in
from yuzen.errors import make_error, reason_of


def check_fonts(theme: Theme) -> None:
    """Read the font files of a theme. Raises YuzenError (draw-font) for a file that is no font."""
    for file in theme.font_files:
        try:
            family_in(file)
        except (OSError, RuntimeError, ValueError) as error:
            message = f"The font {Path(file).name} cannot be read: {reason_of(error)}."
            raise make_error("draw-font", message, where="theme, font_files") from None
