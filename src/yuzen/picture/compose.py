"""Composing: a judged chart to a picture, decided to the last word and colour."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from yuzen.color.gradient import hexes
from yuzen.errors import told_at, wrong
from yuzen.picture.labels import labels, weighted
from yuzen.picture.layers import layers, turns
from yuzen.picture.page import KeyEntry, KeyRamp, Lettering, Picture
from yuzen.picture.palette import drawn, readable
from yuzen.picture.panels import panels
from yuzen.picture.pieces import Traced
from yuzen.picture.references import key_of_ticks, references, values_of
from yuzen.rules.arrays import Text
from yuzen.rules.cuts import Cutter
from yuzen.rules.judge import called
from yuzen.rules.marks import TOTAL_MARK, Shown, shown
from yuzen.rules.number_text import tell

if TYPE_CHECKING:
    from yuzen.brief.model import Brief, RuleSection
    from yuzen.picture.judged import Judged
    from yuzen.picture.page import References
    from yuzen.rules.arrays import Bools, Codes, Dates, Floats
    from yuzen.rules.marks import Marks

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
    compared, traced = references(judged), Traced(judged)
    fill = palette.fill(verdict, "mark")
    outlined = verdict.winner("marker", "outline")
    stacked = judged.spec.chart.arrange == "stacked" and len(marks.lines[1]) > 1
    whole = Picture(
        kind=_kind(judged.spec),
        values=judged.values,
        slots=marks.slots,
        lines=marks.lines[0],
        series=tuple(marks.lines[1]),
        line_colors=palette.series,
        axis=_axis(marks),
        grain=marks.grain,
        fill=fill,
        marker=_marker(judged, fill),
        sizes=_sizes(judged),
        outline=palette.outline(np.where(outlined >= 0, outlined, verdict.winner("mark", "outline"))),
        opacity=judged.opacity(),
        sums=_sums(judged),
        flagged=judged.flagged,
        starts=_starts(judged) if stacked else np.zeros(len(marks)),
        stacked=stacked,
        layers=layers(judged),
        named="" if judged.spec.main is None else judged.spec.main.name,
        turn=turns(judged.spec).get(judged.spec.main.name, 0) if judged.spec.main else 0,
        beside=max(1, 1 if stacked else len(marks.lines[1]), len(turns(judged.spec))),
        thin=1.0 if judged.spec.main is None else judged.spec.main.width,
        ends=_ends(judged.spec),
        panels=(),
        shared=judged.spec.chart.panel_scale == "shared",
        base=_base(judged),
        based=judged.spec.chart.base is not None,
        smooth=judged.spec.chart.smooth,
        tracing=traced,
        names=_names(judged),
        badges=tuple(judged.said_by("badge")),
        badge_ink=_badge_ink(judged),
        patterns=judged.patterned(),
        labels=labels(judged),
        references=compared,
        key_beside=judged.spec.key == "beside subtitle",
        key=() if judged.spec.key == "none" else _key(judged, traced, compared),
        title=_title(judged),
        subtitle=judged.text(judged.spec.subtitle or "", "subtitle", "subtitle"),
        footer=_footer(judged, source),
        note="" if len(marks) else "No rows are left to draw.",
        theme=judged.theme,
        width=judged.spec.size.width,
        height=judged.spec.size.height,
        row=judged.spec.size.row_height,
    )
    return replace(whole, panels=panels(judged, whole))


def _kind(spec: Brief) -> str:
    """How the chart's own marks are drawn: as its layer says, in the chart's direction."""
    if spec.main is None or spec.main.kind is None or spec.main.kind == "tick":
        return spec.chart.kind
    if spec.main.kind == "line":
        return "line"
    return spec.chart.kind if spec.chart.kind in {"bar", "column"} else "column"


def _ends(spec: Brief) -> tuple[float, float]:
    low, high = spec.scale.low, spec.scale.high
    return (np.nan if low is None else low), (np.nan if high is None else high)


def _starts(judged: Judged) -> Floats:
    """Where each bar of a stack begins: on those before it of the same sign."""
    values = np.where(_sums(judged), 0.0, np.nan_to_num(judged.values))
    first = np.unique(judged.slots, return_index=True)[1][judged.slots]
    starts = np.zeros(len(values))
    for sign in (1, -1):
        own = np.where(values * sign > 0, values, 0.0)
        before = np.cumsum(own) - own
        starts += np.where(own != 0, before - before[first], 0.0)
    return starts


def _sums(judged: Judged) -> Bools:
    standing = judged.marks.standing
    return np.zeros(len(judged.marks), dtype=bool) if standing is None else standing == TOTAL_MARK


def _names(judged: Judged) -> Lettering:
    """The slots' names: bold where a mark is flagged, in the colour of rules on them."""
    marks, winner = judged.marks, judged.verdict.winner("axis name")
    bold = weighted(judged, (winner >= 0) | judged.flagged | marks.totals, "axis name", "mark")
    ink = judged.palette.ink(winner, "ink")
    if not marks.series:
        column = marks.columns[marks.category]
        # An axis of a hundred thousand dates has a text for some twenty of them.
        texts = shown(column) if isinstance(column, Text) else Shown(column, marks.grain)
        return Lettering(texts, ink, bold)
    slots, first = np.unique(marks.slots, return_index=True)
    heavy = np.bincount(marks.slots, weights=bold & ~marks.totals, minlength=len(slots)) > 0
    inked = np.lexsort((winner < 0, marks.slots))[first]  # in each slot a mark that some rule inks
    return Lettering(shown(marks.columns[marks.category][first], marks.grain), ink[inked], heavy)


def _axis(marks: Marks) -> Dates | Floats | None:
    """The category's dates or numbers, one for each slot, if they grow."""
    column = marks.columns[marks.category]
    gathered = marks.totals.any() and not marks.series
    if isinstance(column, Text) or gathered or not len(marks):
        return None
    found = column[np.unique(marks.slots, return_index=True)[1]]
    return found if np.all(np.diff(found.astype(np.float64)) > 0) else None


def _marker(judged: Judged, fill: Floats) -> Floats:
    """The points' colours: those of rules on the marker, else of the mark."""
    own = judged.verdict.winner("marker") >= 0
    return np.where(own[:, None], judged.palette.fill(judged.verdict, "marker"), fill) if own.any() else fill


def _sizes(judged: Judged) -> Floats:
    """The points' sizes that rules give; NaN for the others."""
    own, mark = judged.verdict.winner("marker", "size"), judged.verdict.winner("mark", "size")
    said = np.array([*(rule.size or np.nan for rule in judged.rules), np.nan])
    return said[np.where(own >= 0, own, mark)]


def _base(judged: Judged) -> Floats:
    """Where areas begin: at zero, or at the quantity that the brief names."""
    said = judged.spec.chart.base
    with told_at("chart, base", "chart", "base"):
        return np.zeros(len(judged.marks)) if said is None else values_of(judged, said, ())


def _badge_ink(judged: Judged) -> Floats:
    """The badge's rule's colour, or ink where that rule gives none or one that cannot be read."""
    return judged.palette.ink(judged.verdict.winner("mark", "badge"), "ink")


def _title(judged: Judged) -> str:
    """The brief's title, or the value and the category in words."""
    if judged.spec.title is not None:
        return judged.text(judged.spec.title, "title", "title")
    words = f"{judged.marks.value} by {judged.marks.category}".replace("_", " ")
    return words[:1].upper() + words[1:]


def _footer(judged: Judged, source: str) -> str:
    """The brief's footer, or where the rows are from and how many marks are flagged."""
    if judged.spec.footer is not None:
        return judged.text(judged.spec.footer, "footer", "footer")
    flagged, items = int(np.count_nonzero(judged.flagged)), len(judged.facts.marks)
    said = [f"Source: {source}"] if source else []
    own = any(rule.color and judged.spec.layer_of(rule.on) is None for rule in judged.rules)
    said += [f"{flagged:,} of {items:,} flagged"] if own else []
    return "   ·   ".join(said)


def _key(judged: Judged, traced: Traced, compared: References) -> tuple[KeyEntry | KeyRamp, ...]:
    """The rules that changed the look of some mark, in their order, then the rest, then references."""
    colored = judged.verdict.winner("mark")[~judged.marks.totals]
    if traced.slices is not None:
        colored = np.append(colored, traced.slices.winner)
    entries: list[KeyEntry | KeyRamp] = []
    for index, rule in enumerate(judged.rules):
        if index in judged.palette.gradients and judged.verdict.won(index).any():
            entries.append(_ramp(judged, index))
        elif judged.verdict.won(index).any() or (colored == index).any():
            entries += _entries(judged, index, rule, seen=bool((colored == index).any()))
    entries += _rest(judged, colored, alone=not entries)
    return (*entries, *key_of_ticks(compared, judged.theme.color("slate")))


def _rest(judged: Judged, colored: Codes, *, alone: bool) -> list[KeyEntry]:
    """What no rule colours: the series or layers by their names, or all of it together."""
    marks, palette, spec = judged.marks, judged.palette, judged.spec
    series = [] if len(palette.series) < 2 else zip(marks.lines[1], palette.series, strict=True)
    found = [KeyEntry(name, color, "series") for name, color in series]
    for layer in spec.layer:
        thin = layer.kind in {"line", "tick"}
        color = palette.layers.get(f"layer {layer.name}", ("", palette.series[0]))[1]
        if layer is not spec.main or len(palette.series) < 2:
            found.append(KeyEntry(layer.name, color, "line" if thin else "fill"))
    if found:
        return found if alone else [replace(found[0], apart=True), *found[1:]]
    return [] if alone or (colored >= 0).all() else [KeyEntry(REST, judged.theme.color("quiet"))]


def _entries(judged: Judged, index: int, rule: RuleSection, *, seen: bool) -> list[KeyEntry]:
    """A rule's line in the key: by its colour if that is seen, else by its outline, pattern or badge."""
    text, palette = _key_text(judged, rule), judged.palette
    if rule.color is not None and not drawn(rule.on):
        return [KeyEntry(text, palette.colors[index], "words")]
    if rule.color is not None and (seen or judged.spec.target(rule.on) != "mark"):
        cutter = Cutter(judged.bench, judged.verdict, ("mark",))
        point = rule.on == "marker" or not cutter.all_levels(judged.verdict.rules[index])
        badge = rule.badge or ""
        return [KeyEntry(text, palette.colors[index], "fill", judged.patterns[index], badge, point)]
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
        place = judged.rules.index(rule)
        where = f"{called(place + 1, rule.called)}, key"
        return judged.text(rule.key, where, *judged.spec.key_of(place), "key")
    if rule.name is None and rule.shade is not None:
        return rule.shade.of
    return rule.name or judged.spoken(rule.said)
