"""The text of a brief as it is worked on, and every text before it."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

from yuzen.value import Value

MAX_KEPT_CHARACTERS: Final = 40_000_000  # of all texts of a draft together


class Draft(Value):
    """The texts of a brief from the first one on, and which of them is the present one.

    gesture: what the last change belongs to; a slider that is dragged makes one step, not fifty.

    >>> draft = Draft(("a",)).changed("b").changed("c", "drag").changed("d", "drag")
    >>> draft.undone.text, draft.undone.undone.text, draft.undone.redone.text
    ('b', 'a', 'd')
    """

    texts: tuple[str, ...]
    place: int = 0
    gesture: str = ""

    @property
    def text(self) -> str:
        """The present text."""
        return self.texts[self.place]

    def changed(self, text: str, gesture: str = "") -> Draft:
        """A draft with another text; what was undone before is given up."""
        if text == self.text:
            return replace(self, gesture=gesture)
        # The first text is never replaced, so that one can go back to the beginning.
        goes_on = bool(gesture) and gesture == self.gesture and self.place > 0
        before = self.texts[: self.place + (0 if goes_on else 1)]
        texts = _bounded((*before, text))
        return Draft(texts, len(texts) - 1, gesture)

    @property
    def undone(self) -> Draft:
        """The draft one step before; the first one stays."""
        return replace(self, place=max(0, self.place - 1), gesture="")

    @property
    def redone(self) -> Draft:
        """The draft one step after; the last one stays."""
        return replace(self, place=min(len(self.texts) - 1, self.place + 1), gesture="")


def _bounded(texts: tuple[str, ...]) -> tuple[str, ...]:
    """Texts without the second ones where all together are too long; the beginning stays."""
    while len(texts) > 2 and sum(map(len, texts)) > MAX_KEPT_CHARACTERS:
        texts = (texts[0], *texts[2:])
    return texts
