"""The register of chart kinds: a new kind is one file beside this one and one line here."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from yuzen.draw.area import AREA
from yuzen.draw.bars import BAR, COLUMN
from yuzen.draw.line import LINE

if TYPE_CHECKING:
    from collections.abc import Mapping

    from yuzen.draw.plot import Kind

KINDS: Final[Mapping[str, Kind]] = {
    "bar": BAR,
    "column": COLUMN,
    "line": LINE,
    "area": AREA,
}
