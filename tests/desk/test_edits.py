from __future__ import annotations

import tomllib
from itertools import permutations
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.ferries import DEMO
from yuzen.desk.text.draft import MAX_KEPT_CHARACTERS, Draft
from yuzen.desk.text.edits import with_key, with_rule, with_rule_moved, without_rule
from yuzen.errors import YuzenError

TEXT = """\
# Which routes lose money.
title = "Routes"  # short

# what is drawn
[chart]
kind     = "bar"    # lying
category = 'route'
totals = [
    "waters",  # each of them
    "all",
]

# first of all
# in two lines
[[rule]]
when = "surplus negative"

[[rule]]
name = "busy"   # top
when = "top n"
  [rule.shade]
  of = "fares"

# the last one
[[rule]]
when = 'route = "[[rule]]"'

# a line
[[reference]]
at = "average"
"""
INLINE = """\
chart = { kind = "bar", category = "route" }  # one line
rule = [
    { when = "a" },  # first
    { when = "b" },
    { when = "c" },
]
"""
DOTTED = 'chart.kind = "bar"\nchart.category = "route"\n'


def set_in(values: dict[str, Any], key: tuple[str | int, ...], value: object) -> dict[str, Any]:
    """The slow way: a value in plain values."""
    if value is None and key[0] not in values:
        return values
    holder: Any = values
    for step in key[:-1]:
        holder = holder.setdefault(step, {}) if isinstance(step, str) else holder[step]
    if value is None:
        holder.pop(key[-1], None)
    else:
        holder[key[-1]] = value
    return values


@pytest.mark.parametrize(
    "text", [TEXT, INLINE, DOTTED, "", "# only words\n\n[chart]\n", TEXT.rstrip()]
)
@pytest.mark.parametrize(
    ("key", "value"),
    [
        (("theme",), "dusk"),
        (("title",), 'the "best" of all'),
        (("chart", "kind"), "column"),
        (("chart", "panels"), "waters"),
        (("chart", "kind"), None),
        (("chart", "limit"), 15),
        (("parameters", "n"), 3),
        (("parameters", "a name"), ["x", "y"]),
        (("parameters", "share"), 0.25),
    ],
)
def test_a_key_that_is_set_is_all_that_changes(
    text: str, key: tuple[str, ...], value: object
) -> None:
    changed = with_key(text, key, value)
    assert tomllib.loads(changed) == set_in(tomllib.loads(text), key, value)
    comments = [line.partition("#")[2] for line in text.splitlines() if "#" in line]
    kept = [line.partition("#")[2] for line in changed.splitlines() if "#" in line]
    assert kept == [c for c in comments if not (value is None and c == " lying")]
    before = [line for line in text.splitlines() if line.strip()]
    after = [line for line in changed.splitlines() if line.strip()]
    assert len(set(before) - set(after)) <= 1  # the line of the key itself


def test_a_new_key_is_in_its_section_before_the_comments_of_the_next() -> None:
    lines = with_key(TEXT, ("chart", "panels"), "waters").splitlines()
    place = lines.index('panels = "waters"')
    assert lines[place - 1] == "]"
    assert lines[place + 2] == "# first of all"
    lines = with_key(TEXT, ("rule", 0, "color"), "adverse").splitlines()
    assert lines[lines.index('color = "adverse"') - 1] == 'when = "surplus negative"'


@pytest.mark.parametrize("text", [TEXT, INLINE])
@pytest.mark.parametrize(("place", "to"), list(permutations(range(3), 2)))
def test_a_rule_that_is_moved_takes_its_comments_along(text: str, place: int, to: int) -> None:
    moved = with_rule_moved(text, place, to)
    rules = tomllib.loads(text)["rule"]
    rules.insert(to, rules.pop(place))
    assert tomllib.loads(moved) == {**tomllib.loads(text), "rule": rules}
    if text == TEXT:
        assert sorted(moved.splitlines()) == sorted(text.splitlines())
        for comment, after in (("# in two lines", "[[rule]]"), ("# a line", "[[reference]]")):
            lines = moved.splitlines()
            assert lines[lines.index(comment) + 1] == after
        assert moved.split("[[rule]]")[0].count("#") >= 4 or place == 0 or to == 0
        assert with_rule_moved(moved, to, place) == text


@pytest.mark.parametrize("text", [TEXT, INLINE])
@pytest.mark.parametrize("place", range(3))
def test_a_rule_is_taken_out_and_added(text: str, place: int) -> None:
    rules = tomllib.loads(text)["rule"]
    less = without_rule(text, place)
    assert tomllib.loads(less)["rule"] == rules[:place] + rules[place + 1 :]
    entry = {"when": 'route = "a \\"b\\""', "color": "adverse"}
    more = with_rule(text, {**entry, "name": None}, place)
    assert tomllib.loads(more)["rule"] == [*rules[:place], entry, *rules[place:]]
    assert tomllib.loads(with_rule(text, entry))["rule"] == [*rules, entry]
    assert tomllib.loads(with_rule(DOTTED, entry))["rule"] == [entry]


@pytest.mark.parametrize("change", [
    lambda text: without_rule(text, 3),
    lambda text: without_rule(text, -1),
    lambda text: with_rule_moved(text, 0, 3),
    lambda text: with_rule_moved(text, 7, 0),
    lambda text: with_key(text, ("rule", 5, "when"), "x"),
    lambda text: with_key(text, ("title", "x"), "x"),
])  # fmt: skip
def test_a_place_that_is_not_there_is_refused(change: Any) -> None:
    with pytest.raises(YuzenError) as refused:
        change(TEXT)
    assert refused.value.code == "call-place"


@pytest.mark.parametrize("text", ["[chart", "a = ", 'a = "x\n', "a = 1\na = 2\n"])
def test_a_text_that_is_no_toml_is_not_changed(text: str) -> None:
    for change in (
        lambda: with_key(text, ("theme",), "dusk"),
        lambda: with_rule(text, {"when": "x"}),
        lambda: with_rule_moved(text, 0, 1),
    ):
        with pytest.raises(YuzenError) as refused:
            change()
        assert refused.value.code == "brief-toml"


@pytest.mark.parametrize(
    "brief", sorted((DEMO / "briefs").glob("*.toml")), ids=lambda path: path.stem
)
def test_briefs_of_the_gallery_keep_their_comments(brief: Path) -> None:
    text = brief.read_text()
    values = tomllib.loads(text)
    for key, value in (
        (("chart", "kind"), "column"),
        (("theme",), "press"),
        (("size", "width"), 900),
    ):
        changed = with_key(text, key, value)
        assert tomllib.loads(changed) == set_in(tomllib.loads(text), key, value)
        comments = [line for line in text.splitlines() if line.startswith("#")]
        assert [line for line in changed.splitlines() if line.startswith("#")] == comments
    if "rule" in values:
        last = len(values["rule"]) - 1
        there = with_rule_moved(text, 0, last)
        assert tomllib.loads(there)["rule"] == [*values["rule"][1:], values["rule"][0]]
        assert tomllib.loads(with_rule_moved(there, last, 0)) == values


steps = st.lists(
    st.one_of(
        st.tuples(st.just("write"), st.text("ab", max_size=3), st.sampled_from(["", "g", "h"])),
        st.tuples(st.sampled_from(["undo", "redo"]), st.just(""), st.just("")),
    ),
    max_size=25,
)


@given(steps)
def test_undoing_goes_back_to_the_beginning_and_forward_again(
    done: list[tuple[str, str, str]],
) -> None:
    draft = Draft(("first",))
    for what, text, gesture in done:
        if what == "write":
            draft = draft.changed(text, gesture)
            assert draft.text == text
        else:
            draft = draft.undone if what == "undo" else draft.redone
    last, count = draft, len(draft.texts)
    back = [draft := draft.undone for _ in range(count)]
    assert back[-1].text == "first"
    forward = [draft := draft.redone for _ in range(last.place)]
    assert (forward[-1] if forward else draft).text == last.text
    assert all(one != two for one, two in zip(last.texts, last.texts[1:], strict=False))


def test_one_gesture_is_one_step_and_long_histories_keep_their_beginning() -> None:
    draft = Draft(("a",))
    for value in range(50):
        draft = draft.changed(f"n = {value}", "drag 1")
    assert draft.undone.text == "a"
    for value in range(8):
        draft = draft.changed(str(value) * (MAX_KEPT_CHARACTERS // 4))
    assert sum(map(len, draft.texts)) <= MAX_KEPT_CHARACTERS
    for _ in draft.texts:
        draft = draft.undone
    assert draft.text == "a"
