"""The texts at marks: pieces with their own words, colours and weights."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.brief.model import LabelSection
from yuzen.color.named import hex_of, rgb_of
from yuzen.errors import YuzenError, told_at
from yuzen.picture.judged import plain_form
from yuzen.picture.page import Label, Lettering
from yuzen.picture.palette import lettering_ink
from yuzen.picture.texts import fill_each
from yuzen.rules import truth, validity
from yuzen.rules.judge import called
from yuzen.rules.language.grammar import parse
from yuzen.rules.marks import REST_MARK
from yuzen.rules.quantities import Field

if TYPE_CHECKING:
    from yuzen.picture.judged import Judged
    from yuzen.rules.arrays import Bools, Floats
    from yuzen.rules.judge import Reach

MOST_NUMBERED = 2_000  # marks beyond which only flagged ones get their numbers


def labels(judged: Judged) -> tuple[Label, ...]:
    """The labels, one for each place that pieces name.

    Without any in the brief it is the value as it is; pieces without text take the numbers away.
    """
    said = judged.spec.label
    if said and not any(piece.text for piece in said):
        return ()
    own = f"{{{Field(judged.marks.value)}:{plain_form(judged.values)}}}"
    sections = list(said) or [LabelSection(text=own)]
    places = dict.fromkeys(section.where for section in sections)
    pieces = []
    for place, section in enumerate(sections):
        with told_at(f"label {place + 1}", "label", place):
            pieces.append(_piece(judged, section, first=place == 0))
    return tuple(
        Label(
            where,
            tuple(p for p, s in zip(pieces, sections, strict=True) if s.where == where),
            any(section.plate for section in sections if section.where == where),
        )
        for where in places
    )


def weighted(judged: Judged, bold: Bools, *targets: str) -> Bools:
    """Which texts are bold: as the first target's rules say, else the next's, else `bold`."""
    heavy = np.array([rule.weight == "bold" for rule in judged.rules] + [False])
    for target in reversed(targets):
        winner = judged.verdict.winner(target, "weight")
        bold = np.where(winner >= 0, heavy[winner], bold)
    return bold


def _piece(judged: Judged, section: LabelSection, *, first: bool) -> Lettering:
    target = f"label.{section.name}"
    shown = _shown(judged, section)
    texts = _filled(judged, section.text, shown, section.within)
    for on in ("mark", "label", target):
        texts = _replaced(judged, texts, on, shown, first=first or on == target)
    ink, bold = _look(judged, section)
    return Lettering(tuple(texts), ink, weighted(judged, bold, target, "label", "mark"))


def _look(judged: Judged, section: LabelSection) -> tuple[Floats, Bools]:
    """The piece's colour and weight: its own, unless rules on the label or on it say otherwise."""
    ink, bold = lettering_ink(judged.verdict, judged.palette, "label")
    if section.color is not None:
        with told_at("color", "color"):
            plain = rgb_of(hex_of(section.color, judged.theme.named))
        on_label = judged.verdict.winner("label") >= 0
        ink = np.where(on_label[:, None], ink, plain)
    own = judged.verdict.winner(f"label.{section.name}")
    ink = np.where((own >= 0)[:, None], judged.palette.ink(own, "ink"), ink)
    if section.weight is not None:
        return ink, np.full(len(judged.marks), section.weight == "bold")
    return ink, bold | judged.marks.totals


def _shown(judged: Judged, section: LabelSection) -> Bools:
    """For which marks the piece is written."""
    shown = np.ones(len(judged.marks), dtype=bool)
    if judged.marks.series and judged.spec.chart.arrange != "stacked":
        shown = ~judged.marks.totals | (judged.marks.standing == REST_MARK)  # sums that only layers draw
    if section.show == "flagged" or len(judged.marks) > MOST_NUMBERED:
        shown = judged.flagged.copy()
    if section.show == "totals":
        return shown & judged.marks.totals
    if section.show in {"all", "flagged"}:
        return shown
    facts, where_items = judged.bench.facts("items")
    condition = parse(section.show)
    faults = validity.faults(condition, facts, section.show)
    if faults:
        raise YuzenError(*(fault.at("show", "show") for fault in faults))
    held = condition.holds(facts) == truth.TRUE
    wanted = np.zeros(len(judged.marks), dtype=bool)
    wanted[slice(None) if where_items is None else where_items] = held
    return shown & wanted


def _filled(judged: Judged, text: str, shown: Bools, within: tuple[str, ...] = ()) -> list[str]:
    """The text for each mark: among the items for items, among the totals for totals."""
    texts = [""] * len(judged.marks)
    reaches: tuple[Reach, ...] = ("items", "totals") if judged.marks.totals.any() else ("items",)
    for reach in reaches:
        facts, places = judged.bench.facts(reach)
        own = np.arange(len(judged.marks)) if places is None else places
        filled = fill_each(text, facts, shown[own], within)
        for mark, told in zip(own.tolist(), filled, strict=True):
            texts[mark] = told
    return texts


def _replaced(judged: Judged, texts: list[str], target: str, shown: Bools, *, first: bool) -> list[str]:
    """The texts with those that rules on the target put in their place: in the first piece."""
    winner = judged.verdict.winner(target, "label")
    for index in np.unique(winner[winner >= 0]).tolist():
        rule = judged.rules[index]
        own = winner == index
        with told_at(f"{called(index + 1, rule.called)}, label", *judged.spec.key_of(index), "label"):
            said = _filled(judged, rule.label or "", own) if first else [""] * len(own)
        texts = [new if mine else old for old, new, mine in zip(texts, said, own & shown, strict=True)]
    return texts
