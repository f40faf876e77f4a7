"""The names of slots on the category's axis, as rules on names and marks make them look."""

import numpy as np

from yuzen.arrays import Bools, Codes, Text
from yuzen.brief.design import Design
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.texts.labels import LabelMaker
from yuzen.compose.texts.names import category_names
from yuzen.page.styled_texts import StyledTexts
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.target import AXIS_NAME, MARK

NAME_EFFECTS = ("color", "opacity", "weight", "badge")


def slot_names(
    design: Design, context: EvaluationContext, verdict: ColoredVerdict, slots: Codes, first: Codes
) -> tuple[StyledTexts, Bools]:
    """The slots' names, shape (k,), and which of them some rule changes.

    slots: the slots that marks have; first: the first mark of each slot, shape (k,).
    Names are bold where a mark is flagged, in the colour of rules on them. In each slot a mark is
    taken for it, one that a rule inks if there is one.
    """
    marks = context.marks
    ruled = np.any([verdict.winner(AXIS_NAME, effect) >= 0 for effect in NAME_EFFECTS], axis=0)
    maker = LabelMaker(design, context, verdict)
    plain = (verdict.winner(AXIS_NAME) >= 0) | verdict.flagged | marks.totals
    bold = maker.bold(plain, AXIS_NAME, MARK)
    chosen = first
    if marks.series:
        # Of several series in a slot the one with a rule on its name decides how it looks.
        chosen = np.lexsort((~ruled, marks.slots))[first]
    badges, badge_ink = maker.badges(AXIS_NAME)
    ink = np.column_stack([verdict.ink(verdict.winner(AXIS_NAME)), verdict.opacity(AXIS_NAME)])
    heavy = np.bincount(marks.slots, weights=bold & ~marks.totals, minlength=len(slots)) > 0
    names = StyledTexts(
        texts=_texts(design, context, first),
        ink=ink.take(chosen, axis=0),
        bold=heavy if marks.series else bold[chosen],
        badges=tuple(badges[mark] for mark in chosen.tolist()) if badges else (),
        badge_ink=None if badge_ink is None else badge_ink[chosen],
    )
    return names, ruled[chosen]


def _texts(design: Design, context: EvaluationContext, first: Codes) -> tuple[str, ...]:
    """What the slots are called; () for dates, which are written sparsely along the axis."""
    marks = context.marks
    column = marks.columns[marks.category]
    dated = not isinstance(column, Text) and column.dtype.kind == "M"
    if dated and not design.traits.horizontal and not marks.rest:
        return ()
    return tuple(category_names(context, marks.taken(first)))
