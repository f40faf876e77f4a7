"""Reads the font files of a theme before anything is drawn with them."""

from pathlib import Path

from yuzen.color.themes import Theme
from yuzen.errors import make_error, reason_of
from yuzen.render.loading import loading_matplotlib


def check_fonts(theme: Theme) -> None:
    """Read the font files of a theme. Raises YuzenError (draw-font) for a file that is no font."""
    if not theme.font_files:
        return
    with loading_matplotlib():
        from yuzen.draw.text.font_reader import family_in  # noqa: PLC0415 - it loads Matplotlib

    for file in theme.font_files:
        try:
            family_in(file)
        except (OSError, RuntimeError, ValueError) as error:
            message = f"The font {Path(file).name} cannot be read: {reason_of(error)}."
            raise make_error("draw-font", message, where="theme, font_files") from None
