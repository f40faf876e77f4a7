"""Painting: rules colour a chart that Matplotlib has drawn already."""

from __future__ import annotations

import warnings
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import field, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final, Literal, overload

import numpy as np
from matplotlib.axes import Axes
from matplotlib.collections import PathCollection
from matplotlib.container import BarContainer
from matplotlib.lines import Line2D

from yuzen.artists.axes_content import MARK_SHAPES, AxesContent, AxesShape, drawn_on
from yuzen.artists.bar_override import BarOverride
from yuzen.artists.joined import mark_table
from yuzen.artists.legend import keyed
from yuzen.artists.overrides import AreaOverride, LineOverride, PointOverride
from yuzen.artists.references import references_of
from yuzen.artists.styler import AnyOverride, AxesStyler
from yuzen.brief.design import Design
from yuzen.brief.model import Brief
from yuzen.brief.sections.effects import EFFECT_TABLE, Effect
from yuzen.brief.sections.references import ReferenceSection
from yuzen.brief.sections.rule import RuleSection
from yuzen.charts.judging import given_plan, judged_marks, spec_of
from yuzen.charts.mark_table import MarkTable
from yuzen.charts.verdicts import Verdicts
from yuzen.color.gradient import hexes
from yuzen.compose.judged_chart import JudgedChart
from yuzen.errors import Fault, YuzenError, make_error, type_name
from yuzen.formats.name_lists import listed
from yuzen.locks import lock_held_while_forking
from yuzen.page.shapes import MarkShape
from yuzen.recolor.painted_file import PaintedFile, paint_file, rules_of
from yuzen.rules.judge import rule_title
from yuzen.rules.target import LINE, MARK, MARKER, Target
from yuzen.shape.given import given_marks
from yuzen.sources.inputs import RowsLike

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.legend import Legend


def shown_effects(shape: AxesShape) -> dict[str, frozenset[str]]:
    """The effects that painting shows on a shape, by target: none on texts, badges or regions."""
    mark_shape = MARK_SHAPES[shape]
    return {
        str(target): effects
        for target in (MARK, LINE, MARKER)
        if (
            effects := frozenset(e.name for e in EFFECT_TABLE if _is_painted(e, target, mark_shape))
        )
    }


def _is_painted(effect: Effect, target: Target, shape: MarkShape) -> bool:
    """Whether an effect changes artists; strokes of outlines do so on bars alone."""
    changes_artists = effect.decides not in WRITTEN and effect.name != "region"
    return changes_artists and effect.seen(target, shape) and (shape.is_bar or not effect.needs)


WRITTEN: Final = frozenset({"weight", "label", "badge"})  # effects on texts, which are somebody's
SHOWN_EFFECTS: Final = {shape: shown_effects(shape) for shape in MARK_SHAPES}


class Painted(Verdicts, eq=False, repr=False):
    """What painting has done to an Axes: the verdict of its marks, and the way back.

    overrides: what lies on each of its artists; added: references.
    legend:  the legend before; keyed: the legend with the rules, if there is one.
    remarks: notes on how the marks were put together.

    >>> import yuzen as yz
    >>> from matplotlib.figure import Figure
    >>> axes = Figure().subplots()
    >>> bars = axes.bar(["Brinewick", "Kelpwick"], [-300, 120])
    >>> yz.paint(axes, yz.rule("negative", color="adverse"))
    <Painted of 2 marks, rules: 1>
    """

    axes: Axes = field(kw_only=True)
    overrides: Mapping[Any, AnyOverride] = field(kw_only=True, repr=False)
    added: list[Artist] = field(kw_only=True, repr=False)
    legend: Legend | None = field(kw_only=True, repr=False)
    keyed: Legend | None = field(kw_only=True, repr=False)
    remarks: tuple[str, ...] = field(kw_only=True)

    def __repr__(self) -> str:
        """The number of marks, rules and notes."""
        notes = f", notes: {len(self.remarks)}" if self.remarks else ""
        return f"{super().__repr__()[:-1]}{notes}>"

    def notes(self) -> list[str]:
        """Notes: rows without a mark, effects that are not shown, references outside the axes.

        >>> import yuzen as yz
        >>> from matplotlib.figure import Figure
        >>> axes = Figure().subplots()
        >>> bars = axes.bar(["Brinewick", "Kelpwick"], [-300, 120])
        >>> yz.paint(axes, yz.rule("negative", color="adverse", badge="down")).notes()
        ['rule 1 "negative" has badge, which paint does not show on bars.']
        """
        return list(self.remarks)

    def undo(self) -> None:
        """Let the axes be as they were before they were painted first.

        >>> import yuzen as yz
        >>> from matplotlib.figure import Figure
        >>> axes = Figure().subplots()
        >>> bars = axes.bar(["Brinewick", "Kelpwick"], [-300, 120], color="#777777")
        >>> painted = yz.paint(axes, yz.rule("negative", color="adverse"))
        >>> painted.undo()
        >>> {bar.get_facecolor()[:3] for bar in bars} == {(0x77 / 255,) * 3}
        True
        """
        with _PAINTING:
            latest: Painted = vars(self.axes).pop(
                AXES_ATTRIBUTE, self
            )  # which may have painted more since
            for override in latest.overrides.values():
                override.off()
            _remove_additions(latest)


# Where axes keep what lies on them, so that painting again knows what was there before: with them,
# as they then live no longer than anybody wants them, and go together into a pickle of their
# figure.
AXES_ATTRIBUTE: Final = "painted_by_yuzen"
_PAINTING: Final = lock_held_while_forking()


@overload
def paint(
    ax: Axes,
    *rules: RuleSection | ReferenceSection,
    data: RowsLike | None = None,
    show: Collection[Literal["key"]] = (),
    theme: str | None = None,
) -> Painted: ...


@overload
def paint(
    ax: str | Path,
    *rules: RuleSection | str | Path,
    data: RowsLike | None = None,
    theme: str | None = None,
) -> PaintedFile: ...


def paint(
    ax: Axes | str | Path,
    *rules: RuleSection | ReferenceSection | str | Path,
    data: RowsLike | None = None,
    show: Collection[Literal["key"]] = (),
    theme: str | None = None,
    key: bool | None = None,
) -> Painted | PaintedFile:
    """Colour the bars, points, areas or lines of a chart that somebody else has made, by rules.

    ax:    an Axes of Matplotlib, or the path of a .pptx or .xlsx file, whose charts are painted.
           Categories and values are read off it: names of ticks, dates or numbers.
    rules: rules, and references to be drawn, as `yz.rule` and `yz.reference` make them; for a file
           also one path of a file of rules.
    data:  rows with further columns that rules speak of; they are joined by the category.
    show:  ["key"] for a legend that has each rule that is seen.
    theme: a built-in theme or a file; `linen` if it is left out.
    key:   the former keyword of show.

    Titles, limits, ticks and legends stay. What no rule colours is quiet; where there are several
    series, it keeps its colour, by which they are told apart. Painting again changes only what
    differs. Raises YuzenError (paint-…) for axes without marks, data that does not fit them, and
    what cannot be shown.

    >>> import yuzen as yz
    >>> from matplotlib.figure import Figure
    >>> axes = Figure().subplots()
    >>> bars = axes.bar(["Brinewick", "Kelpwick", "Larkholm"], [-300, 120, 80])
    >>> painted = yz.paint(axes, yz.rule("negative", color="adverse"), yz.reference("average"))
    >>> painted.colors().tolist()
    ['#C63E2F', '#C9CCD0', '#C9CCD0']
    """
    keyed = _shows_key(show, key)
    if isinstance(ax, str | Path):
        return _painted_file(ax, rules, data, theme, key=keyed)
    if not isinstance(ax, Axes):
        message = (
            f"{type_name(ax)} is no Axes. Give one that holds a chart: fig, ax = plt.subplots()."
        )
        raise make_error("paint-axes", message)
    if any(str(rule).endswith(".toml") for rule in rules if isinstance(rule, str | Path)):
        raise make_error("call-rules", "A file of rules is for .pptx and .xlsx files.")
    of_axes: Any = rules  # what is no rule is refused where the rules are read
    with _PAINTING:
        painted = _painted(ax, of_axes, data, theme, key=keyed)
        vars(ax)[AXES_ATTRIBUTE] = painted
    return painted


def _shows_key(show: object, former: object) -> bool:
    """Whether the key is to be drawn. Raises YuzenError (call-show) for any other part."""
    if former is not None:
        message = 'key= of yz.paint is called show= now: show=["key"].'
        warnings.warn(message, DeprecationWarning, stacklevel=3)
        return bool(former)
    if not isinstance(show, Collection) or isinstance(show, str) or not set(show) <= {"key"}:
        raise make_error("call-show", 'show takes the parts that are drawn: show=["key"].')
    return bool(show)


def _painted_file(
    path: str | Path,
    rules: Sequence[object],
    data: RowsLike | None,
    theme: str | None,
    *,
    key: bool,
) -> PaintedFile:
    """A deck or a workbook with its charts painted. Raises YuzenError (call-…, paint-…)."""
    if key:
        message = "show is for an Axes; slides and sheets keep the keys that they have."
        raise make_error("call-option", message)
    given: list[Any] = [*rules]
    if len(given) == 1 and isinstance(given[0], str | Path):
        return paint_file(path, rules_of(given[0]), data, theme)
    if not all(isinstance(rule, RuleSection) for rule in given):
        message = "Give rules as yz.rule makes them, or one path of a file of rules."
        raise make_error("call-rules", message)
    return paint_file(path, rules_of(given), data, theme)


def _painted(
    ax: Axes,
    rules: Sequence[RuleSection | ReferenceSection],
    data: RowsLike | None,
    theme: str | None,
    *,
    key: bool,
) -> Painted:
    """The axes with their new colours. Nothing is changed before all is known to be right."""
    ruled = [one for one in rules if not isinstance(one, ReferenceSection)]
    compared = [one for one in rules if isinstance(one, ReferenceSection)]
    before: Painted | None = vars(ax).get(AXES_ATTRIBUTE)
    drawn = _drawn(ax, before)
    table = mark_table(ax, drawn, data, ruled)
    spec = _spec(drawn, table, ruled, compared, theme)
    overrides = {series.artist: _coat(series.artist, before) for series in drawn.series}
    judged = _judged(spec, table, drawn, list(overrides.values()))
    references, outside = references_of(ax, drawn, judged)
    if before is not None:
        _remove_additions(before)
        for artist in before.overrides.keys() - overrides.keys():
            before.overrides[artist].off()
    wardrobe = AxesStyler(ax, drawn, judged, tuple(overrides.values()))
    wardrobe.apply()
    added = [ax.add_artist(made) for made in references]
    legend = ax.get_legend()
    told_in = keyed(wardrobe, legend) if key else None
    notes = (*table.remarks, *_unshown(spec, drawn.shape), *outside)
    return Painted(
        judged,
        axes=ax,
        overrides=overrides,
        added=added,
        legend=legend,
        keyed=told_in,
        remarks=notes,
    )


def _drawn(ax: Axes, before: Painted | None) -> AxesContent:
    """What the axes hold besides what painting has put there."""
    if before is None:
        return drawn_on(ax, ())
    ours = [
        *before.added,
        *(laid for override in before.overrides.values() for laid in override.over),
    ]
    drawn = drawn_on(ax, ours)
    labels = {
        artist: override.label
        for artist, override in before.overrides.items()
        if override.label is not None
    }
    return replace(
        drawn, series=tuple(s.called(labels.get(s.artist, s.label)) for s in drawn.series)
    )


def _coat(artist: Any, before: Painted | None) -> AnyOverride:  # noqa: ANN401 - an artist of some kind
    """What lies on an artist already, or will."""
    if before is not None and artist in before.overrides:
        return before.overrides[artist]
    if isinstance(artist, BarContainer):
        return BarOverride(artist)
    if isinstance(artist, PathCollection):
        return PointOverride(artist)
    if isinstance(artist, Line2D):
        return LineOverride(artist)
    return AreaOverride(artist)


def _spec(
    drawn: AxesContent,
    table: MarkTable,
    rules: Sequence[Any],
    compared: Sequence[ReferenceSection],
    theme: str | None,
) -> Brief:
    """The brief that painting stands for.

    Raises YuzenError (paint-effect) for a rule it cannot show.
    """
    chart: dict[str, Any] = {"kind": drawn.kind, **table.settings}
    references = [section.plain() for section in compared]
    spec = spec_of(chart, rules, theme, reference=references)
    shown = SHOWN_EFFECTS[drawn.shape]
    faults = [
        _nothing_shown(rule_title(place + 1, rule.called), rule, drawn.shape)
        for place, rule in enumerate(_sections(spec))
        if shown.get(rule.on, frozenset()).isdisjoint(rule.effects)
    ]
    if faults:
        raise YuzenError(*faults)
    return spec


def _sections(spec: Brief) -> list[RuleSection]:
    """The rules of the brief, each band as one."""
    return [rule.section for rule in Design(spec).rules]


def _nothing_shown(where: str, rule: RuleSection, shape: AxesShape) -> Fault:
    """The fault of a rule of which painting shows nothing."""
    shown = SHOWN_EFFECTS[shape]
    if rule.on not in shown:
        message = f"paint does not act on '{rule.on}' of {shape}; it acts on {listed(list(shown))}."
        return Fault("paint-effect", message, f"{where}, on")
    effects_named, able = listed(list(rule.effects)) or "nothing", ", ".join(sorted(shown[rule.on]))
    return Fault(
        "paint-effect",
        f"paint changes {able} of a {rule.on}, and this rule sets {effects_named}.",
        where,
    )


def _unshown(spec: Brief, shape: AxesShape) -> Iterator[str]:
    """What rules say besides what is seen."""
    for place, rule in enumerate(_sections(spec)):
        left = [effect for effect in rule.effects if effect not in SHOWN_EFFECTS[shape][rule.on]]
        if left:
            subject = f"{rule_title(place + 1, rule.called)} has {listed(left)}"
            yield f"{subject}, which paint does not show on {shape}."


def _judged(
    spec: Brief, table: MarkTable, drawn: AxesContent, overrides: Sequence[AnyOverride]
) -> JudgedChart:
    """The judged marks, with the colours that they keep where no rule colours them."""
    marks = given_marks(table.frame, given_plan(spec), column_names=table.column_names)
    judged = judged_marks(spec, marks)
    if len(drawn.series) == 1:
        return judged
    each = [
        np.broadcast_to(override.colors[:, :3], (len(series), 3))
        for series, override in zip(drawn.series, overrides, strict=True)
    ]
    # The colours that somebody chose are the series' own, so that marks without a rule keep them.
    distinct, lines = np.unique(np.concatenate(each), axis=0, return_inverse=True)
    palette = judged.verdict.palette
    base = replace(
        palette.base,
        roles=("own",) * len(distinct),
        series=tuple(hexes(distinct)),
        of_mark=lines.ravel(),
    )
    palette = replace(palette, base=base)
    return replace(judged, verdict=replace(judged.verdict, palette=palette))


def _remove_additions(painted: Painted) -> None:
    """Remove references, and the entries of the legend; colours stay."""
    for artist in painted.added:
        if artist.axes is not None:
            artist.remove()
    painted.added.clear()
    if painted.keyed is not None and painted.axes.get_legend() is painted.keyed:
        painted.axes.legend_ = painted.legend
