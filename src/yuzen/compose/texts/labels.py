"""The texts at marks and on the category's axis: pieces with their own words, colours and weights."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from yuzen.arrays import Text
from yuzen.brief.sections.chart import LabelSection
from yuzen.brief.sections.phrases import Phrase
from yuzen.color.named import hex_of, rgb_of
from yuzen.compose.axes.baselines import is_stacked
from yuzen.compose.texts.short_numbers import shorter_texts
from yuzen.compose.texts.texts import fill_each
from yuzen.errors import Span, YuzenError, error_at
from yuzen.page.styled_texts import Label, StyledTexts
from yuzen.rules import truth, validity
from yuzen.rules.judge import rule_title
from yuzen.rules.language.wording import Slot
from yuzen.rules.marks import REST_MARK
from yuzen.rules.quantities.numbers import Field

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.arrays import Bools, Codes, Floats
    from yuzen.compose.judged import Judged
    from yuzen.rules.language.wording import Wording
    from yuzen.rules.marks import Reach

MOST_NUMBERED = 2_000  # marks beyond which only flagged ones get their numbers


def labels(judged: Judged, plain: Sequence[str] = ()) -> tuple[Label, ...]:
    """The labels of the chart's own marks, one for each place that pieces name.

    Without any in the brief it is the value as it is, or what is written at marks of this kind:
    `plain`, one for each. Pieces without text leave only what rules write.
    """
    written = any(piece.text.tree for piece in judged.spec.label) or not judged.spec.label
    if not written and not any({"label", "badge"} & rule.effects for rule in judged.verdict.rules):
        return ()  # a hundred thousand empty texts would take a while
    sections = list(judged.spec.label) or [LabelSection(text=_value_text(judged))]
    places = list(dict.fromkeys(section.where for section in sections))
    pieces = []
    badged = "end" if "end" in places else places[0]  # where badges stand: before its first piece
    for place, section in enumerate(sections):
        first = section.where == badged and not any(s.where == badged for s in sections[:place])
        with error_at(f"label {place + 1}", "label", place):
            own = () if judged.spec.label else plain
            pieces.append(_piece(judged, section, own, first=place == 0, badged=first))
    if not any(piece.badges or any(piece.texts) for piece in pieces):
        return ()
    short = () if judged.spec.label or plain else _shorter(judged, pieces[0])
    return tuple(
        Label(
            where,
            tuple(p for p, s in zip(pieces, sections, strict=True) if s.where == where),
            any(section.plate for section in sections if section.where == where),
            short,
        )
        for where in places
    )


def _value_text(judged: Judged) -> Phrase[Wording]:
    """The chart's value in its format."""
    name = judged.marks.value
    slot = Slot(Field(name), judged.numbers(name), Span(0, 0))
    return Phrase(f"{{{Field(name)}}}", (slot,))


def _shorter(judged: Judged, piece: StyledTexts) -> tuple[StyledTexts, ...]:
    """The values written shorter, where rules do not write something else; () where they are short."""
    numbers = judged.numbers(judged.marks.value)
    short = shorter_texts(judged.values, numbers)
    if not short:
        return ()
    long = map(numbers.write, judged.values.tolist())
    texts = tuple(
        brief if text == whole else text
        for text, whole, brief in zip(piece.texts, long, short, strict=True)
    )
    return (replace(piece, texts=texts),)


def layer_labels(judged: Judged, target: str) -> tuple[Label, ...]:
    """What rules write at the marks of a further layer, and the badges that they set there."""
    everywhere = np.ones(len(judged.marks), dtype=bool)
    texts = replaced(judged, [""] * len(judged.marks), target, everywhere, first=True)
    badges, badge_ink = badges_of(judged, target)
    if not badges and not any(texts):
        return ()
    winner = judged.winner(target)
    ink = _see_through(judged.palette.ink(winner, judged.verdict))
    return (Label("near", (StyledTexts(tuple(texts), ink, everywhere, badges, badge_ink),)),)


def axis_lettering(judged: Judged, slots: Codes, first: Codes) -> tuple[StyledTexts, Bools]:
    """The slots' names, and which of them some rule changes.

    Bold where a mark is flagged, in the colour of rules on them. In each slot a mark stands for it,
    one that a rule inks if there is one.
    """
    marks, target = judged.marks, "axis name"
    effects = ("color", "opacity", "weight", "badge")
    ruled = np.any([judged.winner(target, effect) >= 0 for effect in effects], axis=0)
    bold = weighted(
        judged, (judged.winner(target) >= 0) | judged.flagged | marks.totals, target, "mark"
    )
    heavy = np.bincount(marks.slots, weights=bold & ~marks.totals, minlength=len(slots)) > 0
    if marks.series:
        chosen = np.lexsort((~ruled, marks.slots))[first]
    else:
        chosen = first
    column = marks.columns[marks.category]
    texts: tuple[str, ...] = ()
    if (
        isinstance(column, Text)
        or column.dtype.kind != "M"
        or judged.spec.traits.lying
        or marks.rest
    ):
        texts = tuple(judged.category_names(marks.taken(first)))
    ink = judged.palette.ink(judged.winner(target), judged.verdict)
    alpha = judged.opacity(target)
    badges, badge_ink = badges_of(judged, target)
    whole = StyledTexts((), np.column_stack([ink, alpha]), bold)
    lettering = replace(
        whole,
        texts=texts,
        ink=whole.ink[chosen],
        bold=heavy if marks.series else bold[chosen],
        badges=tuple(badges[mark] for mark in chosen.tolist()) if badges else (),
        badge_ink=None if badge_ink is None else badge_ink[chosen],
    )
    return lettering, ruled[chosen]


def weighted(judged: Judged, bold: Bools, *targets: str) -> Bools:
    """Which texts are bold: as the first target's rules say, else the next's, else `bold`."""
    heavy = np.array([rule.weight == "bold" for rule in judged.rules] + [False])
    for target in reversed(targets):
        winner = judged.winner(target, "weight")
        bold = np.where(winner >= 0, heavy[winner], bold)
    return bold


def _piece(
    judged: Judged, section: LabelSection, plain: Sequence[str], *, first: bool, badged: bool
) -> StyledTexts:
    """A piece of the label; rules write into the first one, and badges stand before a piece of their own.

    plain: what stands at marks in the place of the piece's own text; none: ().
    """
    target = f"label.{section.name}"
    written = written_at(judged, section)
    if plain:
        texts = [text if own else "" for text, own in zip(plain, written.tolist(), strict=True)]
    else:
        texts = filled(judged, section.text.tree, written, section.within)
    for on in ("mark", "label", target):
        texts = replaced(judged, texts, on, written, first=first or on == target)
    ink, bold = _look(judged, section)
    badges, badge_ink = badges_of(judged, *(("mark", "label", target) if badged else (target,)))
    return StyledTexts(
        tuple(texts),
        ink,
        weighted(judged, bold, target, "label", "mark"),
        badges,
        badge_ink,
        frame_of(judged, "label", target),
    )


def badges_of(judged: Judged, *targets: str) -> tuple[tuple[str, ...], Floats | None]:
    """Each mark's badge by the rules on targets, the last of which goes first, and the badges' colours.

    A badge has its rule's colour, or ink where that rule gives none or one that cannot be read.
    """
    if not any("badge" in rule.effects for rule in judged.verdict.rules):
        return (), None
    badges, ink = ("",) * len(judged.marks), np.zeros((len(judged.marks), 3))
    for target in targets:
        winner = judged.winner(target, "badge")
        own = winner >= 0
        if own.any():
            names = judged.said_by("badge", target)
            badges = tuple(new or old for new, old in zip(names, badges, strict=True))
            ink = np.where(own[:, None], judged.palette.ink(winner, judged.verdict), ink)
    if any(badges):
        return (badges, ink)
    return ((), None)


def frame_of(judged: Judged, *targets: str) -> Floats | None:
    """The frames around texts, as rules on targets outline them, the last of which goes first."""
    if not any("outline" in rule.effects and rule.on in targets for rule in judged.verdict.rules):
        return None
    frame = np.zeros((len(judged.marks), 4))
    for target in targets:
        winner = judged.winner(target, "outline")
        frame = np.where((winner >= 0)[:, None], judged.palette.outline(winner), frame)
    if frame.any():
        return frame
    return None


def _look(judged: Judged, section: LabelSection) -> tuple[Floats, Bools]:
    """The piece's colour and weight: its own, unless rules on the label or on it say otherwise."""
    verdict, palette, target = judged.verdict, judged.palette, f"label.{section.name}"
    on_label, on_piece = judged.winner("label"), judged.winner(target)
    ink = palette.ink(np.where(on_label >= 0, on_label, judged.winner("mark")), verdict)
    if section.color is not None:
        with error_at("color", "color"):
            plain = rgb_of(hex_of(section.color, judged.theme.named))
        ink = np.where((on_label >= 0)[:, None], ink, plain)
    ink = np.where((on_piece >= 0)[:, None], palette.ink(on_piece, verdict), ink)
    of_piece = judged.winner(target, "opacity")
    alpha = judged.opacities[np.where(of_piece >= 0, of_piece, judged.winner("label", "opacity"))]
    ink = np.column_stack([ink, alpha])
    if section.weight is not None:
        return ink, np.full(len(judged.marks), section.weight == "bold")
    return ink, (on_label >= 0) | judged.flagged | judged.marks.totals


def _see_through(ink: Floats) -> Floats:
    """Colours that nothing shines through, shape (n, 4)."""
    return np.column_stack([ink, np.ones(len(ink))])


def written_at(judged: Judged, section: LabelSection) -> Bools:
    """For which marks the piece is written."""
    written = np.ones(len(judged.marks), dtype=bool)
    if judged.marks.series and not is_stacked(judged):
        written = ~judged.marks.totals | (
            judged.marks.standing == REST_MARK
        )  # sums that only layers draw
    show = section.show
    if show.text == "flagged" or len(judged.marks) > MOST_NUMBERED:
        written = judged.flagged.copy()
    if show.text == "totals":
        return written & judged.marks.totals
    if show.tree is None:
        return written
    facts, where_items = judged.bench.facts("items")
    faults = validity.faults(show.tree, facts)
    if faults:
        raise YuzenError(*(fault.at("show", "show") for fault in faults))
    held = show.tree.holds(facts) == truth.TRUE
    wanted = np.zeros(len(judged.marks), dtype=bool)
    wanted[slice(None) if where_items is None else where_items] = held
    return written & wanted


def filled(
    judged: Judged,
    text: Wording,
    written: Bools,
    within: tuple[str, ...] = (),
    value: str | None = None,
) -> list[str]:
    """The text for each mark: among the items for items, among the totals for totals.

    value: the measure that is meant where none is named; None: the chart's own.
    """
    texts = [""] * len(judged.marks)
    reaches: tuple[Reach, ...]
    if judged.marks.totals.any():
        reaches = ("items", "totals")
    else:
        reaches = ("items",)
    for reach in reaches:
        facts, places = judged.bench.facts(reach, value)
        if places is None:
            own = np.arange(len(judged.marks))
        else:
            own = places
        filled = fill_each(text, facts, written[own], within)
        for mark, told in zip(own.tolist(), filled, strict=True):
            texts[mark] = told
    return texts


def replaced(
    judged: Judged, texts: list[str], target: str, written: Bools, *, first: bool
) -> list[str]:
    """The texts with those that rules on the target put in their place: in the first piece."""
    winner = judged.winner(target, "label")
    for index in np.unique(winner[winner >= 0]).tolist():
        rule = judged.rules[index]
        own = winner == index
        ruled = [""] * len(own)
        if first:
            with error_at(
                f"{rule_title(index + 1, rule.called)}, label", *judged.spec.key_of(index), "label"
            ):
                ruled = filled(
                    judged, rule.label.tree, own, value=judged.verdict.rules[index].value
                )
        texts = [
            new if mine else old for old, new, mine in zip(texts, ruled, own & written, strict=True)
        ]
    return texts
