"""What is found in how a chart looks: its scale, its colours, its texts."""

from __future__ import annotations

from itertools import combinations
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np

from yuzen.checks.finding import Finding
from yuzen.color.difference import EYES, apart
from yuzen.color.named import contrast, hex_of
from yuzen.color.themes import TEXT_CONTRAST, own_roles
from yuzen.compose.axes.panel_axes import axis_ends
from yuzen.compose.looks.palette import THIN, colors_named, drawn
from yuzen.draw.text.fonts import missing_letters
from yuzen.formats.name_lists import listed

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from yuzen.checks.finding import Examined
    from yuzen.compose.judged import Judged

ALIKE: Final = 12.0  # CIEDE2000 between two colours that mean something
ALIKE_PLAIN: Final = 8.0  # between one of those and what is no exception
ALIKE_GREY: Final = 5.0  # between lightnesses alone
READER_WORDS: Final = {"full sight": "to every eye", "grey": "on a grey printer"}


def scale_from_zero(examined: Examined) -> Iterator[Finding]:
    """Bars on a scale that does not begin at zero."""
    spec = examined.judged.spec
    if spec.chart.kind not in {"bar", "column"}:
        return
    low, high = axis_ends(examined.judged, spec.scale)
    above, below = low > 0, high < 0
    if above or below:
        if above:
            key = "low"
        else:
            key = "high"
        yield Finding(
            "scale-not-zero",
            "Bars show numbers by their length, and on this scale they do not begin at zero.",
            'Leave it out, or draw kind = "line", which shows numbers by place.',
            f"scale, {key}",
            ("scale", key),
        )


class Use(NamedTuple):
    """A colour in use: what it means, the colour, what it carries besides, and the rule's place or −1."""

    called: str
    color: str
    sign: str
    rule: int


def colors_alike(examined: Examined) -> Iterator[Finding]:
    """Two colours in use that some readers cannot tell apart."""
    uses = _uses(examined)
    for one, other in combinations(uses, 2):  # rules come first
        if one.sign != other.sign or max(one.rule, other.rule) < 0:
            continue  # a hatch or a badge tells them apart; series are no exceptions
        least = dict.fromkeys(EYES, ALIKE if min(one.rule, other.rule) >= 0 else ALIKE_PLAIN)
        least["grey"] = ALIKE_GREY
        eyes = [eye for eye in EYES if apart(one.color, other.color, eye) < least[eye]]
        if eyes:
            if EYES[0] in eyes:
                whom = READER_WORDS[EYES[0]]
            else:
                whom = listed([READER_WORDS.get(e, f"with {e}") for e in eyes])
            yield examined.of_rule(
                "colors-alike",
                max(one.rule, other.rule),
                f'"{one.called}" ({one.color}) and "{other.called}" ({other.color}) look alike '
                f"{whom}.",
                "Take roles of the theme, which are kept apart, or give one a pattern or a badge.",
                "color",
            )


def faint_texts(examined: Examined) -> Iterator[Finding]:
    """Text with too little contrast on the paper."""
    judged, theme = examined.judged, examined.judged.theme
    for role in ("ink", "slate"):
        if (ratio := contrast(theme.color(role), theme.color("paper"))) < TEXT_CONTRAST:
            yield Finding(
                "text-faint",
                f"The theme's {role} has a contrast of {ratio:.1f} on its paper; text needs "
                f"{TEXT_CONTRAST}.",
                f"Make {role} darker or the paper lighter in the theme.",
                "theme",
                ("theme",),
            )
    for index, rule in enumerate(judged.rules):
        color = judged.palette.colors[index]
        ratio = contrast(color, theme.color("paper"))
        mixed = judged.spec.tabular  # in cells a color gives way only as far as it has to
        if rule.color and not drawn(rule.on) and ratio < TEXT_CONTRAST and not mixed:
            yield examined.of_rule(
                "text-faint",
                index,
                f"As text, {rule.color} has a contrast of {ratio:.1f} on the paper, less than "
                f"{TEXT_CONTRAST}, so it is written in ink and the color is not seen.",
                "Choose a darker color, or color the mark.",
                "color",
            )
    for place, piece in enumerate(judged.spec.label):
        if piece.color is None or piece.where not in {"end", "above"}:
            continue
        ratio = contrast(hex_of(piece.color, theme.named), theme.color("paper"))
        if ratio < TEXT_CONTRAST:
            yield Finding(
                "text-faint",
                f"{piece.color} has a contrast of {ratio:.1f} on the paper, and text needs "
                f"{TEXT_CONTRAST}.",
                "Choose a darker color for it.",
                f"label {place + 1}",
                ("label", place, "color"),
            )


def left_out(examined: Examined) -> Iterator[Finding]:
    """Names and numbers that had no room."""
    if examined.judged.spec.tabular:
        remedy = "Widen the page ([size] width), leave columns out, or keep fewer rows (limit)."
    else:
        remedy = (
            'Draw kind = "bar", a larger [size], fewer marks (limit), or numbers for the flagged '
            "ones only "
            '(show = "flagged").'
        )
    for note in examined.notes:
        yield Finding(
            "left-out",
            f"{note[:1].upper()}{note[1:]}.",
            remedy,
            "chart",
            ("chart",),
        )


def unknown_letters(examined: Examined) -> Iterator[Finding]:
    """Characters that no font here has."""
    page = examined.page
    texts = [page.words.title, page.words.subtitle, page.words.footer]
    texts += [entry.text for entry in page.key.entries]
    texts += [text for plot in page.plots for text in plot.texts]
    if letters := missing_letters(texts, examined.judged.theme):
        yield Finding(
            "letters-missing",
            f"No font here has {listed(list(letters))}, so boxes are drawn in their place.",
            "Name a font that has them in the theme: under fonts if it is installed, else by its "
            "font_files.",
            "theme",
            ("theme",),
        )


def _uses(examined: Examined) -> list[Use]:
    """The colours that are drawn: of rules with what they carry besides, then of series and layers."""
    judged, palette = examined.judged, examined.judged.palette
    slices = examined.slices
    found, plain = [], False
    wide = "wide" * (
        judged.spec.traits.shape in THIN
    )  # a line that a rule colours is wider than a quiet one
    for target in dict.fromkeys(
        ["mark", *(rule.on for rule in judged.verdict.rules if drawn(rule.on))]
    ):
        winner = judged.verdict.winner(target)[~judged.marks.totals]
        if target == "mark" and slices is not None:
            winner = np.append(winner, slices.winners["color"])
        plain |= target == "mark" and bool((winner < 0).any())
        for index in np.unique(winner[winner >= 0]).tolist():
            rule = judged.rules[index]
            if index not in palette.gradients and palette.flags(index):
                sign = f"{judged.rule_patterns[index]}{rule.badge or ''}{wide}"
                found.append(Use(rule.called, palette.colors[index], sign, index))
    if len(palette.series) > 1:
        names = judged.marks.lines[1]
    else:
        names = ["the rest"]
    if plain:
        found += [
            Use(name, color, "", -1) for name, color in zip(names, palette.series, strict=True)
        ]
    return [*found, *(Use(name, color, "", -1) for name, (_, color) in palette.layers.items())]


def unused_roles(examined: Sequence[Judged]) -> Iterator[Finding]:
    """Roles that a theme's file declares and that none of the briefs of that theme uses."""
    themes = {judged.spec.theme: judged.theme for judged in examined}
    for name, theme in themes.items():
        used = [colors_named(judged.spec) for judged in examined if judged.spec.theme == name]
        for role in own_roles(theme):
            if not any(role in colors for colors in used):
                message = f"The theme has a role {role}, and none of these briefs uses it."
                remedy = "Check the briefs of the theme together, or take the role out."
                yield Finding("role-unused", message, remedy, f"{name}, roles", ("theme",))
