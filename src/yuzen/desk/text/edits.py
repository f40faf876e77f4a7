"""Changes of a brief's text: keys are set, rules are added, moved and taken out.

Comments, blank lines and the order of the file stay where they are.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Final

import tomlkit
from tomlkit.exceptions import TOMLKitError
from tomlkit.items import Array

from yuzen.brief.keys.key_help import toml_value
from yuzen.brief.toml.source import BriefSource, KeyPath
from yuzen.desk.text.text_blocks import RuleBlocks, with_line_in
from yuzen.errors import make_error

_UNREADABLE: Final = (
    "The text is no TOML at the moment. Mend it, or undo; then this can be changed."
)
_NO_PLACE: Final = "The text has no such place any more. Look at it, and try again."


def with_key(text: str, key: KeyPath, value: object) -> str:
    r"""The text with a key set; None takes it out. Raises YuzenError (brief-toml, call-place).

    >>> print(with_key("[chart]  # what is drawn\nkind = 'bar'  # for now\n",
    ...     ("chart", "kind"), "column"))
    [chart]  # what is drawn
    kind = "column"  # for now
    <BLANKLINE>
    """
    document, name = _document(text), str(key[-1])
    holder = _holder(document, key[:-1])
    if value is None:
        if holder is not None:
            holder.pop(name, None)
        return tomlkit.dumps(document)
    if holder is not None and name in holder:
        holder[name] = _like(holder[name], value)
        return tomlkit.dumps(document)
    # A new line is written by ourselves: the package puts it under comments of what follows.
    line = f"{_key_text(name)} = {toml_value(value)}"
    with_new = with_line_in(BriefSource("", text), key[:-1], line)
    if with_new is not None:
        return with_new
    if holder is None:
        return f"{text.rstrip()}\n\n[{'.'.join(map(str, key[:-1]))}]\n{line}\n"
    holder[name] = value
    return tomlkit.dumps(document)


def with_rule(text: str, values: Mapping[str, Any], place: int | None = None) -> str:
    """The text with one more rule: before the rule at a place, or after all. Raises YuzenError."""
    document = _document(text)
    given = {name: value for name, value in values.items() if value is not None}
    if isinstance(rules := document.get("rule"), Array):
        rules.insert(len(rules) if place is None else place, given)
        return tomlkit.dumps(document)
    lines = [f"{_key_text(name)} = {toml_value(value)}" for name, value in given.items()]
    return RuleBlocks(text).inserted("\n".join(["[[rule]]", *lines]), place)


def without_rule(text: str, place: int) -> str:
    """The text without the rule at a place. Raises YuzenError."""
    return _with_rules(text, lambda rules: rules.pop(place), lambda blocks: blocks.without(place))


def with_rule_moved(text: str, place: int, to: int) -> str:
    """The text with a rule at another place among the rules; its comments go with it."""
    return _with_rules(
        text,
        lambda rules: rules.insert(to, rules.pop(place)),
        lambda blocks: blocks.moved(place, to),
    )


def _with_rules(
    text: str, of_list: Callable[[Array], object], of_blocks: Callable[[RuleBlocks], str]
) -> str:
    """The text with other rules: of a list in brackets, or of sections."""
    document = _document(text)
    try:
        if not isinstance(rules := document.get("rule"), Array):
            return of_blocks(RuleBlocks(text))
        of_list(rules)
    except IndexError:
        raise make_error("call-place", _NO_PLACE) from None
    return tomlkit.dumps(document)


def _document(text: str) -> tomlkit.TOMLDocument:
    try:
        return tomlkit.parse(text)
    except (TOMLKitError, RecursionError, ValueError):
        raise make_error("brief-toml", _UNREADABLE) from None


def _holder(document: tomlkit.TOMLDocument, key: KeyPath) -> Any:  # noqa: ANN401 - an item of tomlkit
    """The section at a key; None where there is none. Raises YuzenError (call-place)."""
    holder: Any = document
    for step in key:
        if isinstance(step, int) and not 0 <= step < len(holder):
            raise make_error("call-place", _NO_PLACE)
        if isinstance(step, str) and step not in holder:
            return None
        holder = holder[step]
    if not isinstance(holder, Mapping):
        raise make_error("call-place", _NO_PLACE)
    return holder


def _like(before: Any, value: object) -> Any:  # noqa: ANN401 - an item of tomlkit
    """A value in the place of another, with the comment that follows that."""
    after = tomlkit.item(value)
    if hasattr(before, "trivia"):
        after.trivia.comment_ws = before.trivia.comment_ws
        after.trivia.comment = before.trivia.comment
    return after


def _key_text(name: str) -> str:
    """A key as TOML writes it."""
    return tomlkit.key(name).as_string()
