"""The texts at marks: pieces with their own words, colours and weights."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.brief.sections.labels import LabelSection
from yuzen.brief.sections.phrases import Phrase
from yuzen.color.named import hex_of, rgb_of
from yuzen.compose.baselines import is_stacked
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.filled import fill_each
from yuzen.compose.texts.number_formats import number_format
from yuzen.compose.texts.short_numbers import shorter_texts
from yuzen.errors import Span, error_at
from yuzen.formats.number_format import NumberFormat
from yuzen.locks import cached_property
from yuzen.page.styled_texts import Label, StyledTexts
from yuzen.rules.grammar.wording import Slot, Wording
from yuzen.rules.judge import rule_title
from yuzen.rules.lineage import Reach
from yuzen.rules.marks import REST_MARK
from yuzen.rules.quantities.fields import Field
from yuzen.rules.target import LABEL, MARK, Target

MAX_LABELLED_MARKS = 2_000  # beyond which only flagged ones get their numbers


class LabelMaker(JudgedChart, eq=False):
    """The texts at the marks of a chart."""

    @property
    def count(self) -> int:
        """How many marks there are."""
        return len(self.context.marks)

    def labels(self, default_texts: Sequence[str] = ()) -> tuple[Label, ...]:
        """The labels of the chart's own marks, one for each place that pieces name.

        default_texts: what is written at each mark where the brief has no label; (): its value.
        Pieces without text leave only what rules write.
        """
        sections = self.design.brief.label
        written = any(piece.text.tree for piece in sections) or not sections
        if not written and not any(
            {"label", "badge"} & rule.effects for rule in self.verdict.rules
        ):
            return ()  # a hundred thousand empty texts would take a while
        pieces = self._pieces(sections, default_texts)
        if not any(piece.badges or any(piece.texts) for _, piece in pieces):
            return ()
        short = () if sections or default_texts else self._shorter(pieces[0][1])
        return tuple(
            Label(
                where,
                tuple(piece for section, piece in pieces if section.where == where),
                any(section.plate for section, _ in pieces if section.where == where),
                short,
            )
            for where in dict.fromkeys(section.where for section, _ in pieces)
        )

    def layer_labels(self, target: Target) -> tuple[Label, ...]:
        """What rules write at the marks of a further layer, and the badges that they set there."""
        everywhere = np.ones(self.count, dtype=bool)
        texts = self.with_rule_texts([""] * self.count, target, everywhere, first=True)
        badges, badge_ink = self.badges(target)
        if not badges and not any(texts):
            return ()
        ink = np.column_stack([self.verdict.ink(self.verdict.winner(target)), np.ones(self.count)])
        return (Label("near", (StyledTexts(tuple(texts), ink, everywhere, badges, badge_ink),)),)

    def bold(self, plain: Bools, *targets: Target) -> Bools:
        """Which texts are bold: by rules on the first target, else on the next, else as `plain`."""
        bold = plain
        for target in reversed(targets):
            winner = self.verdict.winner(target, "weight")
            bold = np.where(winner >= 0, self.verdict.styles.bold[winner], bold)
        return bold

    def badges(self, *targets: Target) -> tuple[tuple[str, ...], Floats | None]:
        """Each mark's badge by rules on targets of rising priority, and the badges' colours.

        A badge has its rule's colour, or ink where that rule gives none or one that cannot be read.
        Returns () and None where no mark has one.
        """
        if not any("badge" in rule.effects for rule in self.verdict.rules):
            return (), None
        badges, ink = ("",) * self.count, np.zeros((self.count, 3))
        for target in targets:
            winner = self.verdict.winner(target, "badge")
            won = winner >= 0
            if won.any():
                names = self.verdict.badges(target)
                badges = tuple(new or old for new, old in zip(names, badges, strict=True))
                ink = np.where(won[:, None], self.verdict.ink(winner), ink)
        if any(badges):
            return badges, ink
        return (), None

    def frame(self, *targets: Target) -> Floats | None:
        """The frames around texts, as rules on targets outline them, the last of which come first.

        Returns shape (n, 4); None where no text has one.
        """
        rules = self.verdict.rules
        if not any("outline" in rule.effects and rule.on in targets for rule in rules):
            return None
        frame = np.zeros((self.count, 4))
        for target in targets:
            winner = self.verdict.winner(target, "outline")
            frame = np.where((winner >= 0)[:, None], self.verdict.outline(winner), frame)
        if frame.any():
            return frame
        return None

    def written_at(self, section: LabelSection) -> Bools:
        """For which marks a piece is written, shape (n,)."""
        marks, flagged = self.context.marks, self.verdict.flagged
        written = np.ones(self.count, dtype=bool)
        if marks.series and not is_stacked(self.design, marks):
            written = ~marks.totals | (marks.role == REST_MARK)  # sums that only layers draw
        show = section.show
        if show.text == "flagged" or self.count > MAX_LABELLED_MARKS:
            written = flagged.copy()
        if show.text == "totals":
            return written & marks.totals
        if show.tree is None:
            return written
        return written & self.context.scope("items").held(show.tree, "show")

    def filled(
        self,
        text: Wording,
        written: Bools,
        within: tuple[str, ...] = (),
        value: str | None = None,
    ) -> list[str]:
        """The text for each mark: among the items for items, among the totals for totals.

        value: the measure that is meant where none is named; None: the chart's own.
        """
        texts = [""] * self.count
        reaches: tuple[Reach, ...] = ("items",)
        if self.context.marks.totals.any():
            reaches = ("items", "totals")
        for reach in reaches:
            scope = self.context.scope(reach, value)
            label_texts = fill_each(text, scope.data, scope.gather(written), within)
            for mark, filled in scope.by_mark(label_texts).items():
                texts[mark] = filled
        return texts

    def with_rule_texts(
        self, texts: list[str], target: Target, written: Bools, *, first: bool
    ) -> list[str]:
        """The texts with those that rules on a target write in their place.

        first: whether it is the first piece, which they write into; the others then say nothing.
        """
        winner = self.verdict.winner(target, "label")
        for index in np.unique(winner[winner >= 0]).tolist():
            won = winner == index
            ruled = self._rule_texts(index, won) if first else [""] * self.count
            replaced = (won & written).tolist()
            texts = [
                new if is_replaced else old
                for old, new, is_replaced in zip(texts, ruled, replaced, strict=True)
            ]
        return texts

    def _rule_texts(self, index: int, won: Bools) -> list[str]:
        """The text that a rule writes at its marks."""
        rule = self.design.rules[index]
        title = rule_title(index + 1, rule.section.called)
        with error_at(f"{title}, label", *rule.key, "label"):
            return self.filled(rule.section.label.tree, won, value=self.verdict.rules[index].value)

    def _pieces(
        self, sections: Sequence[LabelSection], default_texts: Sequence[str]
    ) -> list[tuple[LabelSection, StyledTexts]]:
        """Each piece of the label with its texts; badges are before the first piece at the end."""
        drawn = list(sections) or [LabelSection(text=self._value_text)]
        places = [section.where for section in drawn]
        badged = places.index("end" if "end" in places else places[0])
        pieces = []
        for place, section in enumerate(drawn):
            with error_at(f"label {place + 1}", "label", place):
                texts = () if sections else default_texts
                piece = self._piece(section, texts, first=place == 0, badged=place == badged)
                pieces.append((section, piece))
        return pieces

    def _piece(
        self, section: LabelSection, default_texts: Sequence[str], *, first: bool, badged: bool
    ) -> StyledTexts:
        """A piece of the label; rules write into the first one, badges stand before the badged one.

        default_texts: what stands at marks in the place of the piece's own text; (): that text.
        """
        written = self.written_at(section)
        if default_texts:
            shown = zip(default_texts, written.tolist(), strict=True)
            texts = [text if is_written else "" for text, is_written in shown]
        else:
            texts = self.filled(section.text.tree, written, section.within)
            texts = texts if self.design.brief.label else self._signed(texts)
        for on in (MARK, LABEL, *_named(section)):
            is_named = on in _named(section)
            texts = self.with_rule_texts(texts, on, written, first=first or is_named)
        ink, bold = self._ink(section), self._bold(section)
        badge_targets = (MARK, LABEL, *_named(section)) if badged else _named(section)
        badges, badge_ink = self.badges(*badge_targets)
        return StyledTexts(
            tuple(texts),
            ink,
            self.bold(bold, *_named(section), LABEL, MARK),
            badges,
            badge_ink,
            self.frame(LABEL, *_named(section)),
        )

    def _ink(self, section: LabelSection) -> Floats:
        """A piece's colours with opacity, shape (n, 4): its own, unless rules set others."""
        verdict = self.verdict
        on_label = verdict.winner(LABEL)
        # The number of a bin that is coloured in part is no exception by itself.
        on_mark = np.where(self.context.marks.cut, -1, verdict.winner(MARK))
        ink = verdict.ink(np.where(on_label >= 0, on_label, on_mark))
        if section.color is not None:
            with error_at("color", "color"):
                plain = rgb_of(hex_of(section.color, verdict.theme.named))
            ink = np.where((on_label >= 0)[:, None], ink, plain)
        faded = verdict.winner(LABEL, "opacity")
        for target in _named(section):
            on_piece, of_piece = verdict.winner(target), verdict.winner(target, "opacity")
            ink = np.where((on_piece >= 0)[:, None], verdict.ink(on_piece), ink)
            faded = np.where(of_piece >= 0, of_piece, faded)
        return np.column_stack([ink, verdict.styles.opacities[faded]])

    def _bold(self, section: LabelSection) -> Bools:
        """Which texts of a piece are bold before rules on weight: as set, else of flagged marks."""
        if section.weight is not None:
            return np.full(self.count, section.weight == "bold")
        of_mark = self.verdict.flagged & ~self.context.marks.cut
        flagged = (self.verdict.winner(LABEL) >= 0) | of_mark
        return flagged | self.context.marks.totals

    @property
    def _value_text(self) -> Phrase[Wording]:
        """The chart's value in its format."""
        name = self.context.marks.value
        slot = Slot(Field(name), self._value_format, Span(0, 0))
        return Phrase(f"{{{Field(name)}}}", (slot,))

    @cached_property
    def _value_format(self) -> NumberFormat:
        return number_format(self.design, self.context, self.context.marks.value)

    def _signed(self, texts: Sequence[str]) -> list[str]:
        """Numbers of marks; those of the steps of a bridge out of rows with their plus."""
        if self.design.chart.sides is None:
            return list(texts)
        goes_up = (~self.context.marks.sums & (self.context.values > 0)).tolist()
        return [
            f"+{text}" if up and text and self._value_format.form.style == "" else text
            for text, up in zip(texts, goes_up, strict=True)
        ]

    def _shorter(self, piece: StyledTexts) -> tuple[StyledTexts, ...]:
        """Shorter texts of the values, where no rule writes others; () where they are short."""
        values, numbers = self.context.values, self._value_format
        # Words give way first: a long unit stands at the axis too.
        bare = numbers.on_axis
        short = shorter_texts(values, bare)
        if not short and bare is not numbers:
            short = tuple(map(bare.write, values.tolist()))
        if not short:
            return ()
        short = tuple(self._signed(short))
        whole = self._signed([numbers.write(value) for value in values.tolist()])
        texts = tuple(
            shorter if text == number else text
            for text, number, shorter in zip(piece.texts, whole, short, strict=True)
        )
        return (replace(piece, texts=texts),)


def _named(section: LabelSection) -> tuple[Target, ...]:
    """The target of a piece that has a name; () for one without."""
    if section.name is None:
        return ()
    return (Target("label", section.name),)
