"""What a picture's reader does not see and its maker has to know: a sentence each."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yuzen.picture.misread import misread
from yuzen.picture.unshown import unshown

if TYPE_CHECKING:
    from yuzen.picture.judged import Judged


def notes_of(judged: Judged) -> tuple[str, ...]:
    """What was found out of the rows, what is not drawn, and what could have been read otherwise."""
    remarks = [str(remark) for remark in judged.marks.origin.remarks]
    remarks += [note.message for note in unshown(judged)]
    return (*remarks, *(note.message for note in misread(judged)))
