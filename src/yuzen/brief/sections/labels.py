"""[[label]] and [[note]]: the texts at marks."""

from typing import Annotated, Literal, Self

from pydantic import BeforeValidator, Field, model_validator

from yuzen.brief.sections.base import Color, Name, Section, Word, dated, described, refusal
from yuzen.brief.sections.phrases import (
    ConditionText,
    Phrase,
    ShowText,
    WordingText,
)


class LabelSection(Section):
    """A piece of the text at a mark."""

    text: Annotated[
        WordingText,
        described(
            "A piece of the text at each mark; numbers are in braces.", example="{passengers:,.0f}"
        ),
    ]
    name: Annotated[
        Word | None, described('What rules call the piece: on = "label.NAME".', example="surplus")
    ] = None
    where: Annotated[
        Literal["end", "inside", "base", "above"],
        described("Where at a bar the text is placed.", example="inside"),
    ] = "end"
    show: Annotated[
        ShowText,
        described(
            "The marks that have the text: all, flagged, totals or a condition.", example="flagged"
        ),
    ] = Phrase("all", None)
    within: Annotated[
        tuple[Word, ...],
        described(
            "The columns whose groups the numbers of the text are about.", example=["waters"]
        ),
    ] = Field(default=(), max_length=5)
    color: Annotated[
        Color | None, described("The colour of the text where no rule holds.", example="slate")
    ] = None
    weight: Annotated[
        Literal["normal", "bold"] | None,
        described("Whether the text is bold where no rule holds.", example="bold"),
    ] = None
    plate: Annotated[
        bool, described("Whether the text has a ground of the paper's colour.", example=True)
    ] = False


class NoteSection(Section):
    """A text beside one mark, which is called so, or beside all that a condition holds for."""

    at: Annotated[
        Annotated[Name, BeforeValidator(dated)] | None,
        described("The mark that the note belongs to, by its name or its date.", example="2026-03"),
    ] = None
    when: Annotated[
        ConditionText | None,
        described(
            "A condition; the note belongs to every mark for which it holds.", example="highest"
        ),
    ] = None
    text: Annotated[
        WordingText,
        described(
            "The text of the note; numbers are in braces.", example="Pier closed for ten days"
        ),
    ]

    @model_validator(mode="after")
    def _stands_somewhere(self) -> Self:
        if (self.at is None) == (self.when is None):
            raise refusal(
                'a note is placed at a mark, at = "2026-03", '
                'or where a condition holds, when = "...".'
            )
        return self
