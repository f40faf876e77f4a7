"""What a page asks of its session: each request with its values and its answer."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import Annotated, Any, Final, TypeAlias

from pydantic import BaseModel, ConfigDict, Field, StrictBool, StrictFloat, StrictInt, StrictStr

from yuzen.desk.lists.rule_lists import begun_test, sentence_lists
from yuzen.desk.lists.sentence import Joint, ListedSentence, ListedTest
from yuzen.desk.moment import Moment
from yuzen.desk.session import Session
from yuzen.desk.shown.row_columns import RowColumnTable
from yuzen.desk.text.completion import KnownNames, completion_at
from yuzen.desk.text.edits import with_key, with_rule, with_rule_moved, without_rule
from yuzen.errors import make_error

MAX_TEXT: Final = 1_500_000  # characters; longer texts are refused as briefs with a message
Answer: TypeAlias = dict[str, Any]
Word: TypeAlias = Annotated[StrictStr, Field(max_length=2_000)]
Place: TypeAlias = Annotated[StrictInt, Field(ge=0, le=100_000)]
TomlValue: TypeAlias = StrictStr | StrictBool | StrictInt | StrictFloat | list[Word] | None


class PageRequest(BaseModel):
    """What a page asks for. A request that changes something is answered with the new state."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    def run(self, session: Session) -> Answer:
        """Do it; returns what the page gets besides the state. Raises YuzenError."""
        raise NotImplementedError


class Nothing(PageRequest):
    """A request without values."""


class WriteText(PageRequest):
    """Take the text as it is typed."""

    text: Annotated[StrictStr, Field(max_length=MAX_TEXT)]
    gesture: Word = ""

    def run(self, session: Session) -> Answer:
        """Take it."""
        session.write_text(self.text, self.gesture)
        return {}


class SetKey(PageRequest):
    """Set a key of the brief; None takes it out."""

    key: Annotated[tuple[Word | Place, ...], Field(min_length=1, max_length=6)]
    value: TomlValue
    gesture: Word = ""

    def run(self, session: Session) -> Answer:
        """Set it in the text."""
        value = self.value
        if isinstance(value, float) and value.is_integer():
            value = int(value)
        session.edit(lambda text: with_key(text, self.key, value), self.gesture)
        return {}


class AddRule(PageRequest):
    """Add a rule, before the rule at a place, or after all."""

    values: Annotated[dict[Word, Word], Field(max_length=20)]
    place: Place | None = None

    def run(self, session: Session) -> Answer:
        """Add it to the text."""
        session.edit(lambda text: with_rule(text, self.values, self.place))
        return {}


class MoveRule(PageRequest):
    """Move a rule to the place of another."""

    place: Place
    to: Place

    def run(self, session: Session) -> Answer:
        """Move it in the text."""
        session.edit(lambda text: with_rule_moved(text, self.place, self.to))
        return {}


class RemoveRule(PageRequest):
    """Take a rule out."""

    place: Place

    def run(self, session: Session) -> Answer:
        """Take it out of the text."""
        session.edit(lambda text: without_rule(text, self.place))
        return {}


class SetMoment(PageRequest):
    """Set filters of rows, and the value of a column that the picture is of."""

    filters: Annotated[dict[Word, list[Word | StrictFloat | StrictInt]], Field(max_length=50)]
    each: tuple[Word, Word] | None = None

    def run(self, session: Session) -> Answer:
        """Set them; without a value the first one of the column is taken."""
        each = self.each
        if each is not None and not each[1]:
            facts = session.columns(session.stages).named(each[0])
            if facts is None or not facts.values:
                raise make_error("call-place", f"There is no column of words {each[0][:60]}.")
            each = (facts.name, facts.values[0])
        filters = {
            column: tuple(v if isinstance(v, str) else float(v) for v in values)
            for column, values in self.filters.items()
            if values
        }
        session.set_moment(Moment(filters, each))
        return {}


class WriteFile(PageRequest):
    """Write a copy of the brief, or its picture, into a file."""

    name: Annotated[StrictStr, Field(min_length=1, max_length=500)]


class SaveCopy(WriteFile):
    """Write a copy of the brief."""

    def run(self, session: Session) -> Answer:
        """Write it; returns the file's name."""
        return {"wrote": str(session.save_copy(self.name))}


class SavePicture(WriteFile):
    """Write the picture."""

    def run(self, session: Session) -> Answer:
        """Draw it; returns the file's name."""
        return {"wrote": str(session.save_picture(self.name))}


class Save(Nothing):
    """Write the brief into its file."""

    def run(self, session: Session) -> Answer:
        """Write it; returns the file's name."""
        return {"wrote": str(session.save())}


class CompleteText(PageRequest):
    """What can be written at a place of the text."""

    text: Annotated[StrictStr, Field(max_length=MAX_TEXT)]
    place: Annotated[StrictInt, Field(ge=0)]

    def run(self, session: Session) -> Answer:
        """The options, and where the word begins that they complete."""
        # Of a text with faults the last chart that could be read knows the names.
        stages = session.reading.stages or session.reader.last
        columns = RowColumnTable() if stages is None else session.columns(stages)
        return asdict(completion_at(self.text, self.place, KnownNames(columns, stages)))


class PageTest(BaseModel):
    """One test of a sentence, as the lists of a page have it."""

    model_config = ConfigDict(extra="forbid")

    subject: Word = ""
    form: Word
    slots: Annotated[list[Word], Field(max_length=4)] = []
    within: Word = ""
    negated: StrictBool = False

    @property
    def listed(self) -> ListedTest:
        """The test as the desk knows it."""
        slots = tuple(self.slots)
        return ListedTest(self.subject, self.form, slots, self.within, self.negated)


class ShowSentence(PageRequest):
    """The lists of a condition: of a text, or of what is chosen in lists.

    begun: the test in which a subject or a form was chosen, whose other lists begin anew.
    """

    text: Annotated[Word, Field(max_length=2_000)] | None = None
    tests: Annotated[list[PageTest], Field(max_length=8)] = []
    joint: Joint = "and"
    begun: Place | None = None

    def run(self, session: Session) -> Answer:
        """The lists, the text that they say, and what the condition would do."""
        stages = session.stages
        columns, subjects = session.columns(stages), session.subjects(stages)
        if self.text is not None:
            return asdict(sentence_lists(stages, columns, subjects, self.text))
        tests = [test.listed for test in self.tests]
        if self.begun is not None and self.begun < len(tests):
            tests[self.begun] = begun_test(stages, columns, tests[self.begun])
        text = ListedSentence(tuple(tests), self.joint).text
        return asdict(sentence_lists(stages, columns, subjects, text))


def _does(action: Callable[[Session], None]) -> type[PageRequest]:
    """A request without values that does one thing."""

    class Done(Nothing):
        def run(self, session: Session) -> Answer:
            action(session)
            return {}

    return Done


# Those that change something are answered with the new state, too.
CHANGES: Final[Mapping[str, type[PageRequest]]] = {
    "write": WriteText,
    "set": SetKey,
    "add-rule": AddRule,
    "move-rule": MoveRule,
    "remove-rule": RemoveRule,
    "moment": SetMoment,
    "undo": _does(Session.undo),
    "redo": _does(Session.redo),
    "take-kept": _does(Session.take_offer),
    "drop-kept": _does(Session.drop_offer),
    "take-disk": _does(Session.take_from_disk),
    "keep-own": _does(Session.keep_own),
    "save": Save,
    "save-copy": SaveCopy,
    "save-picture": SavePicture,
}
QUESTIONS: Final[Mapping[str, type[PageRequest]]] = {
    "complete": CompleteText,
    "sentence": ShowSentence,
}
