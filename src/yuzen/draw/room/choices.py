"""The places that texts could have, and which of them each one gets."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.room.nearness import MarkEnds
from yuzen.draw.room.occupancy import CURVE, NO_MARK, TEXT, Occupancy
from yuzen.page.columns import PageColumns

CHECKED_SINGLY: Final = 8  # choices that are looked at one by one
TEXT_CLEARANCE_PX: Final = 2.0  # pixels between a text and whatever else


@dataclass(frozen=True, eq=False)
class Choices(PageColumns):
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
    for text in range(len(choices)):
        one = choices.take(np.array([text]))
        for allowed in (0, ignoring) if ignoring else (0,):
            choice = _first_free(ground, one, ends, allowed)
            if choice >= 0:
                choices_taken[text] = choice
                ground.add(one.boxes[0, choice][None], TEXT)
                if np.isfinite(one.leads[0, choice, 0]):
                    ground.add(one.leads[0, choice][None], CURVE)
                break
    return choices_taken


def _first_free(ground: Occupancy, one: Choices, ends: MarkEnds | None, ignoring: int) -> int:
    """The first free one of a text's choices, −1 for none. The nearest are tried one by one."""
    # Left and right only: lines of text may stand close above one another.
    wide = one.boxes[0] + np.array([-TEXT_CLEARANCE_PX, 0.0, TEXT_CLEARANCE_PX, 0.0])
    inside = one.inside[0]
    for place, (box, mark) in enumerate(
        zip(wide[:CHECKED_SINGLY].tolist(), inside[:CHECKED_SINGLY].tolist(), strict=True)
    ):
        if ground.free(box, mark, ignoring=ignoring) and _belongs(ground, one, ends, place):
            return place
    farther = np.flatnonzero(
        ground.free_on_paper(wide[CHECKED_SINGLY:], ignoring=ignoring)
        & (inside[CHECKED_SINGLY:] == NO_MARK)
    )
    places = (farther + CHECKED_SINGLY).tolist()
    return next((place for place in places if _belongs(ground, one, ends, place)), -1)


def _belongs(ground: Occupancy, one: Choices, ends: MarkEnds | None, place: int) -> bool:
    """Whether a choice says whose the text is: by a line over nothing, or by its place."""
    if np.isfinite(one.leads[0, place, 0]):
        return ground.clear(one.leads[0, place].tolist(), int(one.over[0]))
    if ends is None or one.owned[0, place]:
        return True
    left, top, right, bottom = one.boxes[0, place].tolist()
    middle, (above, below) = (top + bottom) / 2, one.reach[0].tolist()
    letters = left, middle - above, right, middle + below
    return ends.is_nearest(letters, int(one.marks[0]), int(one.lines[0]))
