"""What is found in how a chart looks: its scale, its colours, its texts."""

from collections.abc import Iterator, Sequence
from itertools import combinations
from typing import Final, NamedTuple

import numpy as np

from yuzen.checks.finding import Examined, ExaminedPage, Finding
from yuzen.color.difference import EYES, apart
from yuzen.color.named import contrast, hex_of
from yuzen.color.themes import TEXT_CONTRAST, own_roles
from yuzen.compose.axes.panel_axes import axis_ends
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.styles.palette import colors_named
from yuzen.draw.text.fonts import missing_letters
from yuzen.formats.name_lists import listed
from yuzen.render.fonts import check_fonts
from yuzen.render.loading import reporting_fonts
from yuzen.rules.target import MARK

ALIKE_CIEDE2000: Final = 12.0  # CIEDE2000 between two colours that mean something
ALIKE_PLAIN_CIEDE2000: Final = 8.0  # between one of those and what is no exception
ALIKE_GREY_LIGHTNESS: Final = 5.0  # between lightnesses alone
READER_WORDS: Final = {"full sight": "to every eye", "grey": "on a grey printer"}


def scale_from_zero(examined: Examined) -> Iterator[Finding]:
    """Bars on a scale that does not begin at zero."""
    design = examined.judged.design
    if design.chart.kind not in {"bar", "column"}:
        return
    low, high = axis_ends(examined.judged.context, design.brief.scale)
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
    """A colour in use: its meaning, the colour, its pattern or badge, and a rule's index or −1."""

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
        least = dict.fromkeys(
            EYES, ALIKE_CIEDE2000 if min(one.rule, other.rule) >= 0 else ALIKE_PLAIN_CIEDE2000
        )
        least["grey"] = ALIKE_GREY_LIGHTNESS
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
    judged, theme = examined.judged, examined.judged.verdict.theme
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
    for index, design_rule in enumerate(judged.design.rules):
        rule, color = design_rule.section, judged.verdict.styles.colors[index]
        ratio = contrast(color, theme.color("paper"))
        mixed = judged.design.tabular  # in cells a color gives way only as far as it has to
        if rule.color and not design_rule.seen_on.is_drawn and ratio < TEXT_CONTRAST and not mixed:
            yield examined.of_rule(
                "text-faint",
                index,
                f"As text, {rule.color} has a contrast of {ratio:.1f} on the paper, less than "
                f"{TEXT_CONTRAST}, so it is written in ink and the color is not seen.",
                "Choose a darker color, or color the mark.",
                "color",
            )
    for place, piece in enumerate(judged.design.brief.label):
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


def left_out(examined: ExaminedPage) -> Iterator[Finding]:
    """Names and numbers that had no room."""
    if examined.judged.design.tabular:
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


def unknown_letters(examined: ExaminedPage) -> Iterator[Finding]:
    """Characters that no font here has."""
    page = examined.page
    texts = [page.words.title, page.words.subtitle, page.words.footer]
    texts += [entry.text for entry in page.key.entries]
    texts += [text for plot in page.plots for text in plot.texts]
    check_fonts(examined.judged.verdict.theme)
    with reporting_fonts():
        letters = missing_letters(texts, examined.judged.verdict.theme)
    if letters:
        yield Finding(
            "letters-missing",
            f"No font here has {listed(list(letters))}, so boxes are drawn in their place.",
            "Name a font that has them in the theme: under fonts if it is installed, else by its "
            "font_files.",
            "theme",
            ("theme",),
        )


def _uses(examined: Examined) -> list[Use]:
    """The colours that are drawn: of rules with patterns and badges, then of series and layers."""
    judged, verdict = examined.judged, examined.judged.verdict
    slices = examined.slices
    uses, plain = [], False
    wide = "wide" * (
        judged.design.traits.shape.lined
    )  # a line that a rule colours is wider than a quiet one
    for target in (target for target in verdict.whole.targets if target.is_drawn):
        winner = verdict.whole.winner(target)[~judged.marks.totals]
        if target == MARK and slices is not None:
            winner = np.append(winner, slices.winners["color"])
        plain |= target == MARK and bool((winner < 0).any())
        for index in np.unique(winner[winner >= 0]).tolist():
            styles = verdict.styles
            if styles.stands_out(index):
                sign = f"{styles.patterns[index]}{styles.badges[index]}{wide}"
                uses.append(Use(verdict.rules[index].name, styles.colors[index], sign, index))
    base = verdict.palette.base
    if len(base.series) > 1:
        names = judged.marks.lines[1]
    else:
        names = ["the rest"]
    if plain:
        uses += [Use(name, color, "", -1) for name, color in zip(names, base.series, strict=True)]
    return [*uses, *(Use(f"layer {name}", color, "", -1) for name, color in base.layers.items())]


def unused_roles(examined: Sequence[JudgedChart]) -> Iterator[Finding]:
    """Roles that a theme's file declares and that none of the briefs of that theme uses."""
    themes = {judged.design.brief.theme: judged.verdict.theme for judged in examined}
    for name, theme in themes.items():
        briefs = [judged.design.brief for judged in examined]
        used = [colors_named(brief) for brief in briefs if brief.theme == name]
        for role in own_roles(theme):
            if not any(role in colors for colors in used):
                message = f"The theme has a role {role}, and none of these briefs uses it."
                remedy = "Check the briefs of the theme together, or take the role out."
                yield Finding("role-unused", message, remedy, f"{name}, roles", ("theme",))
