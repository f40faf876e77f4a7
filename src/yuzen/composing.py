"""Composing: a judged chart to a picture, decided to the last word and colour."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.color.mixing import hexes
from yuzen.draw.picture import KeyEntry, KeyRamp, Lettering, Picture
from yuzen.errors import wrong
from yuzen.labelling import labels, weighted
from yuzen.referencing import key_of_ticks, references
from yuzen.rules.marks import TOTAL_MARK
from yuzen.rules.telling import tell
from yuzen.styling import readable

if TYPE_CHECKING:
    from yuzen.brief.model import RuleSection
    from yuzen.draw.picture import References
    from yuzen.judged import Judged
    from yuzen.rules.arrays import Bools, Floats

MOST_MARKS = 100_000  # that a picture can hold
REST = "the rest"
RAMP = 48  # colours of a ramp in the key


def compose(judged: Judged, source: str) -> Picture:
    """The picture; `source` names where the rows are from.

    Raises YuzenError where a text cannot be filled or there are too many marks.
    """
    marks, verdict, palette = judged.marks, judged.verdict, judged.palette
    if len(marks) > MOST_MARKS:
        message = (
            f"{marks.category} has {len(marks):,} different values, and a picture holds "
            f"{MOST_MARKS:,} at most. Keep fewer rows, or choose another category."
        )
        raise wrong("data-marks", message)
    faded = verdict.winner("mark", "opacity")
    opacities = np.array([*(1.0 if rule.opacity is None else rule.opacity for rule in judged.rules), 1.0])
    drawn = references(judged)
    return Picture(
        kind=judged.spec.chart.kind,
        values=judged.values,
        fill=palette.fill(verdict, "mark", "quiet"),
        outline=palette.outline(verdict.winner("mark", "outline")),
        opacity=opacities[faded],
        sums=_sums(judged),
        flagged=judged.flagged,
        names=_names(judged),
        badges=tuple(judged.said_by("badge")),
        badge_ink=_badge_ink(judged),
        patterns=_patterns(judged),
        labels=labels(judged),
        references=drawn,
        key_beside=judged.spec.key == "beside subtitle",
        key=() if judged.spec.key == "none" else _key(judged, drawn),
        title=_title(judged),
        subtitle=judged.text(judged.spec.subtitle or "", "subtitle"),
        footer=_footer(judged, source),
        note="" if len(marks) else "No rows are left to draw.",
        theme=judged.theme,
        width=judged.spec.size.width,
        height=judged.spec.size.height,
    )


def _sums(judged: Judged) -> Bools:
    standing = judged.marks.standing
    return np.zeros(len(judged.marks), dtype=bool) if standing is None else standing == TOTAL_MARK


def _names(judged: Judged) -> Lettering:
    """The categories' names: bold where flagged, in the colour of rules on them."""
    winner = judged.verdict.winner("axis name")
    bold = (winner >= 0) | judged.flagged | judged.marks.totals
    ink = judged.palette.ink(winner, "ink")
    return Lettering(tuple(judged.marks.names()), ink, weighted(judged, bold, "axis name", "mark"))


def _badge_ink(judged: Judged) -> Floats:
    """The badge's rule's colour, or ink where that rule gives none or one that cannot be read."""
    return judged.palette.ink(judged.verdict.winner("mark", "badge"), "ink")


def _patterns(judged: Judged) -> tuple[str, ...]:
    """Each mark's hatch: its rule's own, or the one that its role carries in the theme."""
    own = judged.said_by("pattern")
    carried = [judged.theme.patterns.get(name, "") for name in judged.palette.named] + [""]
    winner = judged.verdict.winner("mark")
    return tuple(said or carried[index] for said, index in zip(own, winner, strict=True))


def _title(judged: Judged) -> str:
    """The brief's title, or the value and the category in words."""
    if judged.spec.title is not None:
        return judged.text(judged.spec.title, "title")
    words = f"{judged.marks.value} by {judged.marks.category}".replace("_", " ")
    return words[:1].upper() + words[1:]


def _footer(judged: Judged, source: str) -> str:
    """The brief's footer, or where the rows are from and how many marks are flagged."""
    if judged.spec.footer is not None:
        return judged.text(judged.spec.footer, "footer")
    flagged, items = int(np.count_nonzero(judged.flagged)), len(judged.facts.marks)
    said = [f"Source: {source}"] if source else []
    said += [f"{flagged:,} of {items:,} flagged"] if any(rule.color for rule in judged.rules) else []
    return "   ·   ".join(said)


def _key(judged: Judged, drawn: References) -> tuple[KeyEntry | KeyRamp, ...]:
    """The rules that changed the look of some mark, in their order, then the rest, then references."""
    winner = judged.verdict.winner("mark")
    entries: list[KeyEntry | KeyRamp] = []
    for index, rule in enumerate(judged.rules):
        if not judged.verdict.won(index).any():
            continue
        if index in judged.palette.gradients:
            entries.append(_ramp(judged, index))
        else:
            entries += _entries(judged, index, rule)
    if entries and (winner[~judged.marks.totals] < 0).any():
        entries.append(KeyEntry(REST, judged.theme.color("quiet")))
    return (*entries, *key_of_ticks(drawn, judged.theme.color("slate")))


def _entries(judged: Judged, index: int, rule: RuleSection) -> list[KeyEntry]:
    """A rule's line in the key: by its colour, else by its outline, pattern or badge."""
    text, palette = _key_text(judged, rule), judged.palette
    if rule.color is not None and rule.on != "mark":
        return [KeyEntry(text, palette.colors[index], "words")]
    if rule.color is not None and (judged.verdict.winner("mark") == index).any():
        sign = rule.pattern or judged.theme.patterns.get(rule.color, "")
        return [KeyEntry(text, palette.colors[index], "fill", sign, rule.badge or "")]
    if rule.outline is not None:
        return [KeyEntry(text, palette.outlines[index], "outline")]
    if rule.pattern is not None:
        return [KeyEntry(text, judged.theme.color("slate"), "fill", rule.pattern)]
    if rule.badge is not None:
        return [KeyEntry(text, readable(palette.colors[index], judged.theme), "badge", rule.badge)]
    return []


def _ramp(judged: Judged, index: int) -> KeyRamp:
    """A shade's ramp in the key, with the numbers at its ends and at its centre."""
    gradient, section = judged.palette.gradients[index], judged.rules[index].shade
    assert section is not None  # noqa: S101 - it has a gradient
    scale = judged.verdict.shaded[index].scale
    places = np.linspace(0, 1, section.steps or RAMP)
    colors = tuple(hexes(gradient.at(places, judged.theme.color("missing"))))
    text = _key_text(judged, judged.rules[index])
    if len(scale.low) > 1:
        return KeyRamp(text, colors, "lowest", "", f"highest within {', '.join(section.within)}")
    low, center, high = (float(ends[0]) for ends in (scale.low, scale.center, scale.high))
    told = tell(low, high) if np.isnan(center) else tell(low, high, center)
    ends = (f"≤ {told[0]}", f"≥ {told[1]}") if section.range else (told[0], told[1])
    return KeyRamp(text, colors, ends[0], told[2] if len(told) > 2 else "", ends[1])


def _key_text(judged: Judged, rule: RuleSection) -> str:
    """What the key says of a rule."""
    if rule.key:
        return judged.text(rule.key, f'rule "{rule.called}", key')
    if rule.name is None and rule.shade is not None:
        return rule.shade.of
    return rule.name or judged.spoken(rule.when)
