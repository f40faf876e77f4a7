"""The places that texts could have, and which of them each one gets."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.room.nearness import MarkEnds
from yuzen.draw.room.occupancy import CURVE, NO_MARK, TEXT, Occupancy
from yuzen.page.columns import PageColumns

CHECKED_SINGLY: Final = 8  # choices that are looked at one by one
TEXT_CLEARANCE_PX: Final = 2.0  # pixels between a text and whatever else


class Choices(PageColumns, eq=False):
    """The places that n texts could have, k for each, the best first.

    boxes:  left, top, right and bottom on the page, shape (n, k, 4); NaN where there is no such
            place.
    leads:  where a line from the mark to each place would run, shape (n, k, 4); NaN where none
            does.
    inside: the number of the mark that each place is inside of, NO_MARK for paper, shape (n, k).
    owned:  which places say by themselves whose the text is, as those inside its mark do, shape
            (n, k).
    marks:  the mark of each text, as `MarkEnds` calls it, shape (n,); lines: the line it is on.
    over:   the number of the mark behind its own that a line to the text may run over, NO_MARK for
            none, shape (n,).
    reach:  pixels that the letters of each reach above the middle of its box and below, shape
            (n, 2).
    """

    boxes: Floats
    leads: Floats
    inside: Codes
    owned: Bools
    marks: Codes
    lines: Codes
    over: Codes
    reach: Floats

    @classmethod
    def on_paper(
        cls,
        boxes: Floats,
        leads: Floats | None = None,
        marks: Codes | None = None,
        lines: Codes | None = None,
        reach: Floats | None = None,
    ) -> Choices:
        """Places on paper, shape (n, k, 4). Without marks no text is taken for another mark's."""
        if leads is None:
            leads = np.full(boxes.shape, np.nan)
        inside, none = np.full(boxes.shape[:2], NO_MARK), np.zeros(len(boxes), dtype=np.intp)
        owned = np.isfinite(leads[:, :, 0]) | (marks is None)
        return cls(
            boxes,
            leads,
            inside,
            owned,
            none if marks is None else marks,
            none if lines is None else lines,
            none,
            np.zeros((len(boxes), 2)) if reach is None else reach,
        )

    def __len__(self) -> int:
        return len(self.boxes)

    def beside(self, more: Choices) -> Choices:
        """The same texts with more choices, which come after these."""
        return replace(
            self,
            boxes=np.hstack([self.boxes, more.boxes]),
            leads=np.hstack([self.leads, more.leads]),
            inside=np.hstack([self.inside, more.inside]),
            owned=np.hstack([self.owned, more.owned]),
        )

    def filled(self, most: int) -> Choices:
        """As many choices for each text, of which those that are added are none."""
        more = (0, most - self.boxes.shape[1])
        boxes, leads = (
            np.pad(part, ((0, 0), more, (0, 0)), constant_values=np.nan)
            for part in (self.boxes, self.leads)
        )
        inside = np.pad(self.inside, ((0, 0), more))
        owned = np.pad(self.owned, ((0, 0), more))
        return replace(self, boxes=boxes, leads=leads, inside=inside, owned=owned)


def joined_choices(parts: list[Choices]) -> Choices:
    """The choices of all texts of several, one after the other."""
    most = max(part.boxes.shape[1] for part in parts)
    columns = [
        (one.boxes, one.leads, one.inside, one.owned, one.marks, one.lines, one.over, one.reach)
        for one in (part.filled(most) for part in parts)
    ]
    return Choices(*(np.concatenate(column) for column in zip(*columns, strict=True)))


def placed(
    ground: Occupancy, choices: Choices, ends: MarkEnds | None = None, *, ignoring: int = 0
) -> Codes:
    """The choice that each text gets, shape (n,); −1 for none. Texts choose in order.

    A choice is taken if it is free, if nothing lies on the line to it, and if it is nearer to the
    end of the text's own mark than to any other.
    ends:     where marks end; None: no text is taken for another mark's.
    ignoring: what a text may stand on where it finds no place without.
    """
    choices_taken = np.full(len(choices), -1, dtype=np.intp)
    # Left and right only: lines of text may stand close above one another.
    wide = choices.boxes + np.array([-TEXT_CLEARANCE_PX, 0.0, TEXT_CLEARANCE_PX, 0.0])
    open_places = OpenPlaces(ground, wide, choices.inside)
    for text in range(len(choices)):
        for allowed in (0, ignoring) if ignoring else (0,):
            places = open_places.of(text, allowed)
            choice = next((p for p in places if _belongs(ground, choices, text, ends, p)), -1)
            if choice >= 0:
                choices_taken[text] = choice
                open_places.take(choices.boxes[text, choice], TEXT)
                if np.isfinite(choices.leads[text, choice, 0]):
                    open_places.take(choices.leads[text, choice], CURVE)
                break
    return choices_taken


class OpenPlaces:
    """The choices of texts that are free by now.

    The nearest ones are looked at one by one, and most texts get one of these. Where some text does
    not, all choices of all texts are looked at together; from then on each box that is taken closes
    those that it touches.

    wide:   the choices with the room that texts need, shape (n, k, 4).
    inside: the number of the mark that each is inside of, shape (n, k).
    """

    def __init__(self, ground: Occupancy, wide: Floats, inside: Codes) -> None:
        self.ground, self.wide, self.inside = ground, wide, inside
        self._open: dict[int, Bools] = {}
        self._pixels = np.empty((4, 0))

    def of(self, text: int, ignoring: int) -> Iterator[int]:
        """The free choices of a text, the best first."""
        first = 0
        if ignoring not in self._open:
            first = min(CHECKED_SINGLY, self.inside.shape[1])
            yield from self._free(text, range(first), ignoring)
            if first == self.inside.shape[1]:
                return
            self._open[ignoring] = self._look(ignoring)
        open_here = first + np.flatnonzero(self._open[ignoring][text, first:])
        for place in open_here.tolist():
            # What covers the inside of a mark is known when it is looked at.
            on_paper = self.inside[text, place] == NO_MARK
            if on_paper or any(True for _ in self._free(text, [place], ignoring)):
                yield place

    def take(self, box: Floats, what: int) -> None:
        """Put a text or a line into a box, shape (4,)."""
        self.ground.add(box[None], what)
        if not self._open:
            return
        left, top, right, bottom = self.ground.in_pixels(box[None])[:, 0].tolist()
        sides = self._pixels
        touched = (sides[0] < right) & (sides[2] > left) & (sides[1] < bottom) & (sides[3] > top)
        for ignoring, free in self._open.items():
            if what & ~ignoring:
                free[touched.reshape(free.shape)] = False

    def _free(self, text: int, places: Sequence[int], ignoring: int) -> Iterator[int]:
        """Which of some choices are free on the ground."""
        for place in places:
            box, mark = self.wide[text, place].tolist(), int(self.inside[text, place])
            if self.ground.free(box, mark, ignoring=ignoring):
                yield place

    def _look(self, ignoring: int) -> Bools:
        """All choices that are free now, shape (n, k)."""
        flat = self.wide.reshape(-1, 4)
        with np.errstate(invalid="ignore"):  # where there is no place, there are no pixels
            self._pixels = self.ground.in_pixels(flat)
        free = self.ground.free_on_paper(flat, ignoring=ignoring).reshape(self.inside.shape)
        free |= self.inside != NO_MARK
        # Only near places inside a mark are looked at.
        free[:, CHECKED_SINGLY:] &= self.inside[:, CHECKED_SINGLY:] == NO_MARK
        return free


def _belongs(
    ground: Occupancy, choices: Choices, text: int, ends: MarkEnds | None, place: int
) -> bool:
    """Whether a choice says whose the text is: by a line over nothing, or by its place."""
    lead = choices.leads[text, place]
    if np.isfinite(lead[0]):
        return ground.clear(lead.tolist(), int(choices.over[text]))
    if ends is None or choices.owned[text, place]:
        return True
    left, top, right, bottom = choices.boxes[text, place].tolist()
    middle, (above, below) = (top + bottom) / 2, choices.reach[text].tolist()
    letters = left, middle - above, right, middle + below
    return ends.is_nearest(letters, int(choices.marks[text]), int(choices.lines[text]))
