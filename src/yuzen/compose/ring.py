"""Composing rings: the slices of each plot, the smallest gathered, the whole in the middle."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes
from yuzen.brief.design import Design
from yuzen.color.named import rgb_of
from yuzen.compose.axes.range import refuse_numbers
from yuzen.compose.axes.slot_names import slot_names
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.styles.mark_styles import mark_styles
from yuzen.compose.tables.column_titles import in_words
from yuzen.compose.texts.labels import LabelMaker
from yuzen.compose.texts.names import category_names
from yuzen.compose.texts.number_formats import number_format
from yuzen.compose.texts.short_numbers import shorter_texts
from yuzen.errors import make_error
from yuzen.formats.name_lists import listed
from yuzen.formats.number_format import Form
from yuzen.page.layer import MarkStyles
from yuzen.page.ring import Ring
from yuzen.page.styled_texts import Label, StyledTexts
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.target import MARK
from yuzen.value import Value

SMALL_SHARE: Final = 0.01  # that whole percents would not tell from none
MAX_SLICES: Final = 8  # that an eye tells apart; beyond that, what no rule colours is gathered
SLICE_EFFECTS: Final = ("outline", "opacity", "pattern", "label", "badge")


class Slices(Value, eq=False):
    """Which marks are slices of which ring, and which of them are drawn as one."""

    context: EvaluationContext
    verdict: ColoredVerdict

    def rings(self) -> list[Codes]:
        """The marks of each ring that have a number, without totals."""
        panel_of, names = self.context.marks.panels
        items = ~self.context.marks.sums & ~np.isnan(self.context.values)
        return [np.flatnonzero(items & (panel_of == i)) for i in range(max(1, len(names)))]

    def gathered(self, ring_marks: Codes) -> Codes:
        """The marks of a ring that are drawn as one slice: the smallest that no rule changes."""
        none = np.empty(0, dtype=np.intp)
        if len(ring_marks) <= MAX_SLICES:
            return none
        plain = ring_marks[~self._ruled()[ring_marks] & ~self.context.marks.gathered[ring_marks]]
        order = plain[np.argsort(self.context.values[plain], kind="stable")]
        # One slice gathered alone would only lose its name.
        if len(order) < 2:
            return none
        count = len(ring_marks) - MAX_SLICES + 1
        return order[: max(2, min(count, len(order)))]

    def _ruled(self) -> Bools:
        """Which slices look otherwise by some rule."""
        styles = self.verdict.styles
        quiet = [
            role == "quiet" and i not in styles.gradients for i, role in enumerate(styles.roles)
        ]
        # The last entry is for −1: a slice that no rule colours is quiet.
        colored = ~np.array([*quiet, True])[self.verdict.winner(MARK)]
        changed = [self.verdict.winner(MARK, effect) >= 0 for effect in SLICE_EFFECTS]
        return np.asarray(np.any([colored, *changed], axis=0))


class RingMaker(JudgedChart, eq=False):
    """What rings are made of: the looks and texts of all marks."""

    names: StyledTexts
    labels: tuple[Label, ...]
    styles: MarkStyles

    @classmethod
    def of(cls, design: Design, context: EvaluationContext, verdict: ColoredVerdict) -> RingMaker:
        """The maker for a chart. Raises YuzenError (data-share) for values that are no shares."""
        _refuse_no_parts(context)
        refuse_numbers(context.marks.value, context.values)
        every = np.arange(len(context.marks))
        names, _ = slot_names(design, context, verdict, every, every)
        names = replace(names, texts=tuple(category_names(context, context.marks)))
        labels = LabelMaker(design, context, verdict).labels(_share_texts(context))
        return cls(design, context, verdict, names, labels, mark_styles(verdict, MARK))

    def rings(self) -> tuple[Ring, ...]:
        """One ring, or one for each panel."""
        slices, names = Slices(self.context, self.verdict), self.context.marks.panels[1] or [""]
        return tuple(
            self._ring(name, ring_marks, slices.gathered(ring_marks))
            for name, ring_marks in zip(names, slices.rings(), strict=True)
        )

    def _ring(self, name: str, ring_marks: Codes, few: Codes) -> Ring:
        """The ring of some marks, in their order; `few` of them are drawn as one slice."""
        kept = ring_marks[~np.isin(ring_marks, few)]
        value, values = self.context.marks.value, self.context.values
        ring = Ring(
            values[kept],
            self.styles.take(kept),
            self.names.take(kept),
            tuple(label.take(kept) for label in self.labels),
            self.verdict.flagged[kept],
            ("", in_words(value)),
            kept,
            name=name,
        )
        if len(few):
            ring = self._with_gathered(ring, few)
        whole = float(np.sum(values[ring_marks]))
        if not whole > 0:
            empty = "no shares" if len(values) else "no rows"
            return replace(ring, note=self.words.say(empty))
        numbers = number_format(self.design, self.context, value, whole)
        return replace(
            ring,
            shares=ring.shares / whole,
            middle=(numbers.write(whole), ring.middle[1]),
            shorter="".join(shorter_texts(np.array([whole]), numbers)),
        )

    def _with_gathered(self, ring: Ring, few: Codes) -> Ring:
        """The ring with one more slice at its end, of several marks."""
        quiet = np.append(rgb_of(self.verdict.theme.color("quiet")), 1.0)[None]
        styles = MarkStyles(
            np.concatenate([ring.styles.fill, quiet]),
            np.concatenate([ring.styles.outline, np.zeros((1, 4))]),
            np.append(ring.styles.patterns, 0),
            np.append(ring.styles.strokes, ""),
        )
        size = float(np.sum(self.context.values[few]))
        share = size / float(np.sum(ring.shares) + size) if size else 0.0
        text = Form("", ".0%").write(share, self.context.formats.locale)
        return replace(
            ring,
            shares=np.append(ring.shares, size),
            styles=styles,
            names=self._with_text(ring.names, self.words.say("others", count=len(few))),
            labels=tuple(
                self._with_label(label, "" if i else text) for i, label in enumerate(ring.labels)
            ),
            flagged=np.append(ring.flagged, False),
            of_chart=np.append(ring.of_chart, -1),
        )

    def _with_label(self, label: Label, text: str) -> Label:
        """A label with one more text in each of its pieces."""
        return replace(label, pieces=tuple(self._with_text(p, text) for p in label.pieces))

    def _with_text(self, styled: StyledTexts, text: str) -> StyledTexts:
        """Texts with one more, in plain ink."""
        ink = np.append(rgb_of(self.verdict.theme.color("ink")), 1.0)[None]
        badge_ink, frame = styled.badge_ink, styled.frame
        return replace(
            styled,
            texts=(*styled.texts, text),
            ink=np.concatenate([styled.ink, ink]),
            bold=np.append(styled.bold, False),
            badges=(*styled.badges, "") if styled.badges else (),
            badge_ink=None if badge_ink is None else np.concatenate([badge_ink, ink[:, :3]]),
            frame=None if frame is None else np.concatenate([frame, np.zeros((1, 4))]),
        )


def _refuse_no_parts(context: EvaluationContext) -> None:
    """Raise YuzenError where a number is no part of a whole."""
    marks, values = context.marks, context.values
    odd = np.flatnonzero(~marks.sums & ((values < 0) | np.isinf(values)))
    if not len(odd):
        return
    names = marks.names()
    first = context.formats.named(marks.value).tell(float(values[odd[0]]))[0]
    whose = listed([names[mark] for mark in odd.tolist()])
    message = (
        f"The slices of a ring are parts of a whole, and {marks.value} is {first} for {whose}."
    )
    raise make_error(
        "data-share", f'{message} Draw kind = "bar", or keep only what is not negative.'
    )


def _share_texts(context: EvaluationContext) -> list[str]:
    """Each slice's part of its ring in words, with a decimal where some are small."""
    panel_of, _ = context.marks.panels
    sizes = np.where(context.marks.sums, 0.0, np.nan_to_num(context.values))
    with np.errstate(all="ignore"):
        shares = np.nan_to_num(sizes / np.bincount(panel_of, weights=sizes)[panel_of])
    small = np.any((shares > 0) & (shares < SMALL_SHARE))
    form = Form("", ".1%" if small else ".0%")
    return [form.write(share, context.formats.locale) for share in shares.tolist()]
