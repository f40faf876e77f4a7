"""Which shapes lie over which others on one plot, or on the page."""

from typing import Final

BANDS: Final = 0.25  # the pale grounds of values
AREAS: Final = 0.4  # under hairlines, as they are large
BEHIND: Final = 0.5  # hairlines, which lie behind all marks
MARKS: Final = 1.0
LINES: Final = 2.0
POINTS: Final = 3.0
WRITING: Final = 3.0
SWATCHES: Final = 5.0  # the pattern of a swatch in the key, over its colour
