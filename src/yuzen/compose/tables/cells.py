"""Cells of a table: their fills, texts, and readable ink."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.brief.sections.labels import LabelSection
from yuzen.color.named import hex_of, inks_on, legible, rgb_of
from yuzen.color.themes import TEXT_CONTRAST, Theme
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.styles.mark_styles import mark_styles
from yuzen.compose.texts.labels import LabelMaker
from yuzen.compose.texts.number_formats import number_format
from yuzen.errors import error_at
from yuzen.page.layer import MarkStyles
from yuzen.page.styled_texts import StyledTexts
from yuzen.rules.target import LABEL, ROW, Target
from yuzen.value import Value

NO_GROUND = Target("")  # of texts that share their cell with others


class CellTargets(Value):
    """The targets of a column's cells: their ground, and their texts by rising priority."""

    ground: Target
    texts: tuple[Target, ...]


class CellMaker(JudgedChart, eq=False):
    """The grounds and texts of the cells of a table, one for each mark."""

    @property
    def labels(self) -> LabelMaker:
        """What labels of marks are made of."""
        return LabelMaker(self.design, self.context, self.verdict)

    def ground(self, target: Target) -> MarkStyles:
        """Fill, outline and pattern of every mark's cell, shape (n,); opacity 0: no rule."""
        styles = mark_styles(self.verdict, target)
        styles.fill[self.verdict.winner(target) < 0, 3] = 0.0
        return styles

    def numbers(self, measure: str) -> list[str]:
        """A measure's number of every mark as text."""
        values = np.asarray(self.context.marks.columns[measure], dtype=float)
        form = number_format(self.design, self.context, measure)
        return [form.write(value) for value in values.tolist()]

    def styled(
        self, texts: Sequence[str], targets: CellTargets, section: LabelSection | None = None
    ) -> StyledTexts:
        """The texts of every mark with what rules make of them; ink is NaN where it is plain.

        section: the piece of the label that they are; None: they are the numbers of a column.
        """
        verdict, labels, count = self.verdict, self.labels, len(self.context.marks)
        everywhere = np.ones(count, dtype=bool) if section is None else labels.written_at(section)
        written = list(texts)
        for target in (targets.ground, *targets.texts):
            written = labels.with_rule_texts(written, target, everywhere, first=True)
        ink, bold = self._plain(section)
        for target in (ROW, targets.ground):  # without a fill, what is written is all of the cell
            unfilled = verdict.winner(target) < 0
            ink[:, 3] *= np.where(unfilled, verdict.opacity(target), 1.0)
        marks = np.arange(count)
        for target in targets.texts:
            winner, faded = verdict.winner(target), verdict.winner(target, "opacity")
            won = winner >= 0
            ink[won, :3] = verdict.colored(winner, marks, target)[won]
            ink[:, 3] = np.where(faded >= 0, verdict.styles.opacities[faded], ink[:, 3])
            bold |= won
        badges, badge_ink = labels.badges(targets.ground, *targets.texts)
        heavy = labels.bold(bold, *reversed(targets.texts), targets.ground, ROW)
        frame = labels.frame(*targets.texts)
        return StyledTexts(tuple(written), ink, heavy, badges, badge_ink, frame)

    def label_pieces(self, targets: CellTargets) -> tuple[StyledTexts, ...]:
        """The pieces of the label that a brief writes, in the cells of the chart's value."""
        pieces = []
        for place, section in enumerate(self.design.brief.label):
            with error_at(f"label {place + 1}", "label", place):
                written = self.labels.written_at(section)
                texts = self.labels.filled(section.text.tree, written, section.within)
                piece_targets = targets if place == 0 else CellTargets(NO_GROUND, (LABEL,))
                named = (Target("label", section.name),) if section.name else ()
                piece_targets = replace(piece_targets, texts=(*piece_targets.texts, *named))
                pieces.append(self.styled(texts, piece_targets, section))
        return tuple(pieces)

    def _plain(self, section: LabelSection | None) -> tuple[Floats, Bools]:
        """The ink, NaN where it is plain, shape (n, 4), and the weight before rules, shape (n,)."""
        count = len(self.context.marks)
        ink, bold = np.full((count, 4), np.nan), np.zeros(count, dtype=bool)
        ink[:, 3] = 1.0
        if section is not None and section.color is not None:
            with error_at("color", "color"):
                ink[:, :3] = rgb_of(hex_of(section.color, self.verdict.theme.named))
        if section is not None and section.weight is not None:
            bold[:] = section.weight == "bold"
        return ink, bold


def texts_in_rows(piece: StyledTexts, marks: Codes) -> StyledTexts:
    """The texts of the marks in the rows of a column; nothing where there is none (−1)."""
    # Headings have no mark; any mark is taken for them, and its text left out.
    piece_texts, known = piece.take(np.maximum(marks, 0)), (marks >= 0).tolist()
    frame = piece_texts.frame
    if frame is not None:
        frame = frame.copy()
        frame[marks < 0, 3] = 0.0
    texts = zip(piece_texts.texts, known, strict=True)
    badges = zip(piece_texts.badges, known, strict=False)
    return replace(
        piece_texts,
        texts=tuple(text if is_known else "" for text, is_known in texts),
        badges=tuple(name if is_known else "" for name, is_known in badges),
        bold=piece_texts.bold & (marks >= 0),
        frame=frame,
    )


def styles_in_rows(styles: MarkStyles, marks: Codes) -> MarkStyles:
    """The styles of the marks in the rows of a column; none where there is no mark (−1)."""
    row_styles, empty = styles.take(np.maximum(marks, 0)), marks < 0
    fill, outline, patterns = (
        row_styles.fill.copy(),
        row_styles.outline.copy(),
        row_styles.patterns.copy(),
    )
    fill[empty, 3], outline[empty, 3], patterns[empty] = 0.0, 0.0, 0
    return replace(row_styles, fill=fill, outline=outline, patterns=patterns)


def over(fill: Floats, ground: Floats) -> Floats:
    """What is seen of fills of some opacity, shape (r, 4), over grounds, shape (r, 3)."""
    alpha = fill[:, 3:]
    return fill[:, :3] * alpha + ground * (1 - alpha)


def readable(piece: StyledTexts, ground: Floats, theme: Theme, among: Floats) -> StyledTexts:
    """Texts in ink that is readable on their grounds, shape (r, 3): plain, or near a rule's.

    among: all grounds that texts of one kind stand on, shape (m, 3).
    """
    plain = inks_on(ground, theme.color("ink"), theme.color("paper"), TEXT_CONTRAST, among)
    ink = piece.ink.copy()
    colored = ~np.isnan(ink[:, 0])
    ink[:, :3] = np.where(colored[:, None], ink[:, :3], plain)
    ink[:, :3] = legible(ink[:, :3], plain, ground, TEXT_CONTRAST)
    badge_ink = piece.badge_ink
    if badge_ink is not None:
        badge_ink = legible(badge_ink, plain, ground, TEXT_CONTRAST)
    return replace(piece, ink=ink, badge_ink=badge_ink)


def embolden(piece: StyledTexts, rows: Bools) -> StyledTexts:
    """The texts, those of some rows bold."""
    return replace(piece, bold=piece.bold | rows)
