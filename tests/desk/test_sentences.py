from __future__ import annotations

import re
from pathlib import Path

import pytest

from tests.support.desks import session_of
from tests.support.sampling import SAMPLED
from yuzen.desk.lists.rule_lists import begun_test, sentence_lists
from yuzen.desk.lists.sentence import SLOT, ListedSentence, ListedTest, forms, sentence_of
from yuzen.desk.session import Session
from yuzen.errors import YuzenError
from yuzen.rules.claims import CLAIMS, BaseClaim
from yuzen.rules.grammar.parser import parse

FILLED = {
    "quantity": "average", "amount": "3", "count": "2", "share": "10%", "period": "month",
    "ago": "a year before", "text": '"Ash"', "texts": '"Ash", "Oak"',
}  # fmt: skip


@pytest.fixture
def session(folder: Path) -> Session:
    return session_of(folder / "busiest.toml")


@pytest.mark.parametrize("claim", CLAIMS, ids=lambda claim: claim.__name__)
def test_every_claim_is_shown_by_lists(claim: type[BaseClaim]) -> None:
    assert claim.forms, "a claim says of what lists it is made"
    sentence = sentence_of(claim.example)
    assert sentence is not None
    assert parse(sentence.text) == parse(claim.example)


@pytest.mark.parametrize("form", [form for _, form in forms()])
@pytest.mark.parametrize("negated", [False, True])
@pytest.mark.parametrize("within", ["", "waters, year of opened"])
def test_lists_say_the_text_and_the_text_says_the_lists(
    form: str, negated: bool, within: str
) -> None:
    slots = tuple(FILLED[slot] for slot in SLOT.findall(form))
    test = ListedTest("`odd name`", form, slots, within, negated)
    condition = parse(test.text)
    sentence = sentence_of(test.text)
    assert sentence is not None
    # Some forms are written as others: "= average" of words and of numbers is one text.
    assert parse(sentence.text) == condition
    again = sentence_of(str(condition))
    assert again is not None
    assert again.tests[0].subject == "`odd name`"
    assert again.tests[0].within == within
    assert again.tests[0].negated == negated


@pytest.mark.parametrize("joint", ["and", "or"])
def test_several_tests_are_joined_by_one_word(joint: str) -> None:
    text = f'surplus negative {joint} not in top 3 within waters {joint} route = "Ash"'
    sentence = sentence_of(text)
    assert sentence is not None
    assert (sentence.joint, len(sentence.tests)) == (joint, 3)
    assert sentence.text == str(parse(text))


@pytest.mark.parametrize("text", [
    "(a above 1 or b negative) and c zero", "not (a above 1 or b negative)", "always",
])  # fmt: skip
def test_what_lists_cannot_show_is_not_shown(text: str) -> None:
    assert sentence_of(text) is None


def test_lists_offer_what_can_be_judged_and_count_what_it_flags(session: Session) -> None:
    stages = session.stages
    columns, subjects = session.columns(stages), session.subjects(stages)
    lists = sentence_lists(stages, columns, subjects, "surplus negative within waters")
    (test,) = lists.tests
    assert lists.tried.count == 4
    assert lists.tried.beaten == (("loss", 4),)
    assert {"fares", "waters", "share of passengers"} <= set(test.subjects)
    assert "month" not in test.subjects  # each mark has twelve of them
    assert {"", "waters"} <= set(test.within)
    # Every form that is offered, of which a sample is tried, can be judged as it begins.
    for subject in ("fares", "route"):
        offered = sentence_lists(stages, columns, subjects, f"{subject} missing").tests[0].forms
        for form in offered[::SAMPLED]:
            begun = begun_test(stages, columns, ListedTest(subject, form, ()))
            assert begun.form == form
            assert not sentence_lists(stages, columns, subjects, begun.text).tried.faults, (
                begun.text
            )
    words = sentence_lists(stages, columns, subjects, "route missing").tests[0].forms
    assert "one of {texts}" in words
    assert "top {amount}" not in words
    assert "in last {count} {period}s" not in words


def test_another_subject_begins_the_other_lists_anew(session: Session) -> None:
    stages = session.stages
    columns = session.columns(stages)
    begun = begun_test(stages, columns, ListedTest("route", "top {amount}", ("3",), "waters"))
    assert begun.form != "top {amount}"
    parse(begun.text)
    kept = begun_test(stages, columns, ListedTest("fares", "top {amount}", ("7",), "waters"))
    assert kept.text == "fares top 7 within waters"


def test_a_condition_with_faults_is_told_and_counts_nothing(session: Session) -> None:
    stages = session.stages
    columns, subjects = session.columns(stages), session.subjects(stages)
    for text, told in (
        ("surpluss negative", "Did you mean surplus?"),
        ("top", "number"),
        ("route above 3", "route"),
        ("surplus negative within fares", "fares"),
    ):
        outcome = sentence_lists(stages, columns, subjects, text).tried
        assert outcome.count == 0
        assert re.search(told, " ".join(fault.message for fault in outcome.faults))


def test_a_sentence_of_nothing_is_no_condition() -> None:
    with pytest.raises(YuzenError):
        sentence_of(ListedSentence((ListedTest("", "", ()),)).text)
