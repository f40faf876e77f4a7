"""The grounds of cells in a table, and the bars in them."""

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.plots.table_columns import FittedColumn
from yuzen.page.layer import MarkStyles, pattern_names
from yuzen.scene.order import LINES
from yuzen.scene.primitives import Rectangles
from yuzen.scene.strokes import stroke_names
from yuzen.scene.units import pixels

OUTLINE_PX: Final = pixels(1.4)


def filled(
    role: str, column: FittedColumn, rows: Codes, corners: Floats, styles: MarkStyles, paper: str
) -> Rectangles:
    """Filled rectangles of some rows of a column, with their patterns in the paper's colour."""
    return Rectangles(
        role=role,
        layer=column.column.called,
        marks=rows,
        corners=corners,
        fill=styles.fill[rows],
        patterns=pattern_names(styles.patterns[rows]),
        pattern_ink=paper,
    )


def outlined(column: FittedColumn, rows: Codes, corners: Floats, styles: MarkStyles) -> Rectangles:
    """Thin rectangles just inside of others, as their outlines."""
    return Rectangles(
        role="outlines",
        layer=column.column.called,
        marks=rows,
        corners=corners + np.array([1.0, 1.0, -1.0, -1.0]),
        edge=styles.outline[rows],
        edge_px=np.array([OUTLINE_PX]),
        strokes=stroke_names(styles.strokes[rows]),
        order=LINES,
    )
