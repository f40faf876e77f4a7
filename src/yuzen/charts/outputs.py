"""What comes out of a chart: figures, pictures in files, and what a notebook shows."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace
from os import PathLike
from pathlib import Path
from typing import TYPE_CHECKING, Any, BinaryIO, Final, overload

from yuzen.charts.builder import ChartBuilder
from yuzen.files.picture_types import format_of, known_format, known_ids
from yuzen.files.whole import write_into, write_whole
from yuzen.paths import path_of
from yuzen.render.loading import loading_matplotlib

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure, SubFigure

    from yuzen.files.insets import Inset
    from yuzen.page.page import PagePart


NOTEBOOK_TYPES: Final = frozenset({"text/plain", "text/html", "image/png", "image/svg+xml"})


class DrawnChart(ChartBuilder, eq=False, repr=False):
    """A chart that is drawn: figures, pictures in files, and what a notebook shows."""

    def figure(self) -> Figure:
        """The Matplotlib figure, made anew.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.figure().get_size_inches().tolist()
        [12.8, 3.2]
        """
        with loading_matplotlib():
            from yuzen.files.insets import figure  # noqa: PLC0415

        return figure(self.stages.scene)

    def draw(self, target: Axes | Figure | SubFigure, *, show: Collection[PagePart] = ()) -> Inset:
        """Draw into an Axes, a Figure or a SubFigure that is somebody else's, as large as that is.

        target: it is filled; of an Axes the own ticks and frame are hidden. Texts have the theme's
                sizes in points, so set size and resolution of the figure before.
        show:   what of the words around the plot is written too: title, subtitle, key, footer.
        Returns the axes of the plots, and what had no room.
        Raises YuzenError (call-…, draw-room) for what nothing can be drawn on, and where there is
        no room.

        >>> import yuzen as yz
        >>> from matplotlib.figure import Figure
        >>> left, right = Figure(figsize=(12, 5)).subplots(1, 2)
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus").rule("negative",
        ...     color="adverse")
        >>> chart.draw(left, show=["title", "key"]).notes
        ()
        """
        page = self.stages.page.showing(show)
        with loading_matplotlib():
            from yuzen.files.insets import draw_on  # noqa: PLC0415

        return draw_on(page, target)

    def image(self, kind: str = "png", *, ids: str = "") -> bytes:
        r"""The picture as the bytes of a png, svg, pdf, pptx or xlsx file.

        ids: what the ids inside an SVG begin with, so that several can stand in one page.
        Raises YuzenError (call-format, call-ids) for other formats, and for ids that are none.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.image("png")[:4]
        b'\x89PNG'
        """
        file_kind = known_format(kind)
        return self.stages.picture(file_kind, ids=known_ids(ids, file_kind)).data

    def alt(self) -> str:
        """Alternative text of at most 60 words: what is drawn, and what stands out by how much.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus").rule("negative", color="ink")
        >>> print(chart.alt())
        Bar chart: Surplus by route. Surplus by route, 2 bars from −300 (Brinewick) to 120 \
(Kelpwick). Negative: 1 of 2, Brinewick (−300).
        """
        return self.stages.alternative

    @overload
    def save(
        self, to: str | Path, kind: str | None = None, *, template: str | Path | None = None
    ) -> Path: ...

    @overload
    def save(
        self, to: BinaryIO, kind: str | None = None, *, template: str | Path | None = None
    ) -> BinaryIO: ...

    def save(
        self,
        to: str | Path | BinaryIO,
        kind: str | None = None,
        *,
        template: str | Path | None = None,
    ) -> Path | BinaryIO:
        """Draw into a file, whole or not at all; returns what was written to.

        .png, .svg and .pdf are pictures, .pptx is a slide whose chart can be edited, and .xlsx the
        marks as rows with such a chart beside them.

        to:       a path, or a file that is open for bytes.
        kind:     png, svg, pdf, pptx or xlsx; by the ending of the path if it is left out, png
                  where there is none.
        template: of .pptx, a deck whose layouts, fonts and places are used.
        Raises YuzenError (call-…, draw-…).

        >>> import io
        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> file = yz.chart(rows, category="route", value="surplus").save(io.BytesIO(), "pdf")
        >>> file.getvalue()[:5]
        b'%PDF-'
        """
        if not isinstance(to, str | PathLike):
            write_into(to, lambda ending: self._bytes(ending if kind is None else kind, template))
            return to
        target = path_of(to)
        file_kind = format_of(target) if kind is None else known_format(kind)
        write_whole(target, self._bytes(file_kind, template))
        return target

    def _bytes(self, kind: str, template: str | Path | None) -> bytes:
        """The bytes of a file of a type."""
        stages = self.stages
        if template is not None:
            stages = replace(stages, template=path_of(template))
        return stages.picture(known_format(kind)).data

    def _repr_mimebundle_(
        self, include: Collection[str] | None = None, exclude: Collection[str] | None = None
    ) -> tuple[dict[str, Any], dict[str, Any]]:
        """For notebooks: the picture at twice its pixels, as an SVG, and the alternative text.

        A table is text there (HTML). include, exclude: the types that are asked for, or not.
        """
        with loading_matplotlib():
            from yuzen.files.notebook import bundle  # noqa: PLC0415

        wanted = NOTEBOOK_TYPES if include is None else NOTEBOOK_TYPES & set(include)
        stages = self.stages
        return bundle(
            stages.page,
            stages.record.packed,
            lambda: stages.description,
            stages.answering,
            wanted - set(exclude or ()),
        )
