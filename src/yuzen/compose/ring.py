"""Composing rings: the slices of each plot, the smallest gathered, the whole in the middle."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.color.named import rgb_of
from yuzen.compose.axes.range import refuse_numbers
from yuzen.compose.looks.mark_styles import looks_of
from yuzen.compose.texts.labels import axis_lettering, labels
from yuzen.compose.texts.short_numbers import shorter_texts
from yuzen.compose.texts.titles import in_words
from yuzen.errors import make_error
from yuzen.formats.name_lists import listed
from yuzen.formats.number_format import Form
from yuzen.page.layer import MarkStyles
from yuzen.page.ring import Ring

if TYPE_CHECKING:
    from yuzen.arrays import Bools, Codes
    from yuzen.compose.judged import Judged
    from yuzen.page.styled_texts import Label, StyledTexts

SMALL: Final = 0.01  # a share that whole percents would not tell from none
MOST_SLICES: Final = 8  # that an eye tells apart; what no rule colours is gathered beyond that


def rings(judged: Judged) -> tuple[Ring, ...]:
    """One ring, or one for each panel. Raises YuzenError (data-share) for numbers that are no parts."""
    _refuse_no_parts(judged)
    refuse_numbers(judged.marks.value, judged.values)
    maker, names = _RingMaker.of(judged), judged.marks.panels[1] or [""]
    return tuple(maker.ring(name, own) for name, own in zip(names, _of_panels(judged), strict=True))


def gathered_in(judged: Judged) -> list[Codes]:
    """The marks that each ring draws as one slice."""
    return [gathered_slices(judged, own) for own in _of_panels(judged)]


def _of_panels(judged: Judged) -> list[Codes]:
    """The marks of each ring that have a number, without totals."""
    panel_of, names = judged.marks.panels
    items = ~judged.sums & ~np.isnan(judged.values)
    return [np.flatnonzero(items & (panel_of == panel)) for panel in range(max(1, len(names)))]


def gathered_slices(judged: Judged, own: Codes) -> Codes:
    """Those of some marks that a ring draws as one slice: the smallest that no rule changes; none: ()."""
    if len(own) <= MOST_SLICES:
        return np.empty(0, dtype=np.intp)
    plain = own[~_ruled(judged)[own] & ~judged.marks.gathered[own]]
    order = plain[np.argsort(judged.values[plain], kind="stable")]
    count = len(own) - MOST_SLICES + 1
    if len(order) < 2:
        return np.empty(0, dtype=np.intp)
    return order[: max(2, min(count, len(order)))]


def _ruled(judged: Judged) -> Bools:
    """Which slices look otherwise by some rule."""
    effects = ("color", "outline", "opacity", "pattern", "label", "badge")
    changed = [judged.winner("mark", effect) >= 0 for effect in effects]
    quiet = [rule.color == "quiet" for rule in judged.rules] + [True]
    changed[0] = ~np.array(quiet)[judged.winner("mark")]
    return np.asarray(np.any(changed, axis=0))


def _refuse_no_parts(judged: Judged) -> None:
    """Raise YuzenError where a number is no part of a whole."""
    value, items = judged.marks.value, ~judged.sums
    odd = np.flatnonzero(items & ((judged.values < 0) | np.isinf(judged.values)))
    if not len(odd):
        return
    names = judged.marks.names()
    first = judged.bench.formats.named(value).tell(float(judged.values[odd[0]]))[0]
    whose = listed([names[mark] for mark in odd.tolist()])
    message = f"The slices of a ring are parts of a whole, and {value} is {first} for {whose}."
    raise make_error(
        "data-share", f'{message} Draw kind = "bar", or keep only what is not negative.'
    )


class _RingMaker:
    """What rings are made from: the looks and texts of all marks."""

    def __init__(self, judged: Judged, names: StyledTexts, labels: tuple[Label, ...]) -> None:
        self._judged = judged
        self._names = names
        self._labels = labels
        self._looks = looks_of(judged, "mark")

    @classmethod
    def of(cls, judged: Judged) -> _RingMaker:
        """For a judged chart."""
        every = np.arange(len(judged.marks))
        names = replace(
            axis_lettering(judged, every, every)[0],
            texts=tuple(judged.category_names(judged.marks)),
        )
        return cls(judged, names, labels(judged, _shares(judged)))

    def ring(self, name: str, own: Codes) -> Ring:
        """The ring of some marks, in their order."""
        judged = self._judged
        few = gathered_slices(judged, own)
        kept = own[~np.isin(own, few)]
        sizes = judged.values[kept]
        made = Ring(
            sizes,
            self._looks.take(kept),
            self._names.take(kept),
            tuple(label.take(kept) for label in self._labels),
            judged.flagged[kept],
            ("", in_words(judged.marks.value)),
            name=name,
        )
        if len(few):
            made = _with_gathered(judged, made, few)
        whole = float(np.sum(judged.values[own]))
        if not whole > 0:
            note = (
                "There is nothing to share out."
                if len(judged.marks)
                else "No rows are left to draw."
            )
            return replace(made, note=note)
        numbers = judged.numbers(judged.marks.value, whole)
        middle = numbers.write(whole), made.middle[1]
        shorter = "".join(shorter_texts(np.array([whole]), numbers))
        return replace(made, shares=made.shares / whole, middle=middle, shorter=shorter)


def _shares(judged: Judged) -> list[str]:
    """Each slice's part of its ring in words, with a decimal where some are small."""
    panel_of, _ = judged.marks.panels
    sizes = np.where(judged.sums, 0.0, np.nan_to_num(judged.values))
    with np.errstate(all="ignore"):
        shares = np.nan_to_num(sizes / np.bincount(panel_of, weights=sizes)[panel_of])
    form = Form("", ".1%" if np.any((shares > 0) & (shares < SMALL)) else ".0%")
    return [form.write(share, judged.bench.formats.locale) for share in shares.tolist()]


def _with_gathered(judged: Judged, ring: Ring, few: Codes) -> Ring:
    """The ring with one more slice at its end, of several marks."""
    quiet = np.append(rgb_of(judged.theme.color("quiet")), 1.0)[None]
    looks = MarkStyles(
        np.concatenate([ring.looks.fill, quiet]),
        np.concatenate([ring.looks.outline, np.zeros((1, 4))]),
        np.append(ring.looks.patterns, 0),
    )
    size = float(np.sum(judged.values[few]))
    share = size / float(np.sum(ring.shares) + size) if size else 0.0
    text = Form("", ".0%").write(share, judged.bench.formats.locale)
    labels = tuple(
        replace(
            label, pieces=tuple(_with_text(judged, p, text if not i else "") for p in label.pieces)
        )
        for i, label in enumerate(ring.labels)
    )
    return replace(
        ring,
        shares=np.append(ring.shares, size),
        looks=looks,
        names=_with_text(judged, ring.names, f"{len(few)} others"),
        labels=tuple(labels),
        flagged=np.append(ring.flagged, False),
    )


def _with_text(judged: Judged, lettering: StyledTexts, text: str) -> StyledTexts:
    """Texts with one more, in plain ink."""
    ink = np.append(rgb_of(judged.theme.color("ink")), 1.0)[None]
    return replace(
        lettering,
        texts=(*lettering.texts, text),
        ink=np.concatenate([lettering.ink, ink]),
        bold=np.append(lettering.bold, False),
        badges=(*lettering.badges, "") if lettering.badges else (),
        badge_ink=None
        if lettering.badge_ink is None
        else np.concatenate([lettering.badge_ink, ink[:, :3]]),
        frame=None
        if lettering.frame is None
        else np.concatenate([lettering.frame, np.zeros((1, 4))]),
    )
