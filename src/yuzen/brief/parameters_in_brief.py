"""A brief with its parameters that are words, dates or colors in the places where it names them."""

from collections.abc import Iterable
from dataclasses import replace
from typing import Any, Final

from yuzen.brief.model import Brief
from yuzen.brief.sections.base import Section
from yuzen.brief.sections.phrases import Phrase
from yuzen.errors import Fault, YuzenError
from yuzen.formats.name_lists import listed
from yuzen.rules.claims.base import TextParameters
from yuzen.rules.conditions import BaseCondition, Test, all_tests, with_text_parameters
from yuzen.rules.grammar.wording import OfDates, OfRule, Slot
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Quantity
from yuzen.rules.quantities.structure import inside, with_where

COLOR_KEYS: Final = frozenset({"color", "outline", "colors"})  # the keys that hold colors
PIECES: Final = (str, Slot, OfRule, OfDates)


def substitute_parameters(spec: Brief) -> Brief:
    """The brief with parameters in place. Raises YuzenError (brief-parameter) for a wrong type."""
    words = {name.casefold(): value for name, value in spec.text_parameters.items()}
    if not words:
        return spec
    # Names of files are no places for parameters: a brief would read whatever it is told.
    others = {"parameters", "data"}
    fields_set = {
        name: _settled(name, getattr(spec, name), words) for name in spec.model_fields_set - others
    }
    data = spec.data
    if data.keep is not None:
        data = data.model_copy(update={"keep": _settled("keep", data.keep, words)})
    return spec.having(**fields_set, data=data)


def _settled(key: str, value: Any, words: TextParameters) -> Any:  # noqa: ANN401 - a value of any key
    """A value of a brief under a key."""
    if isinstance(value, Section):
        fields_set = {
            name: _settled(name, getattr(value, name), words) for name in value.model_fields_set
        }
        return value.model_copy(update=fields_set)
    if isinstance(value, Phrase):
        return Phrase(value.text, _meant(value.tree, words))
    if isinstance(value, tuple):
        return tuple(_settled(key, part, words) for part in value)
    if isinstance(value, dict):
        return {name: _settled(key, part, words) for name, part in value.items()}
    if isinstance(value, str) and key in COLOR_KEYS:
        meant = words.get(value.casefold(), value)
        return meant if isinstance(meant, str) else value
    return value


def _meant(tree: Any, words: TextParameters) -> Any:  # noqa: ANN401 - of any phrase
    """What a phrase says."""
    if isinstance(tree, BaseCondition):
        substituted = with_text_parameters(tree, words)  # type: ignore[arg-type]  # one of its kinds
        for test in all_tests(substituted):
            _refuse_lists(test, words)
            _refuse_words(test.quantities(), words)
        return substituted
    if isinstance(tree, Quantity):
        _refuse_words((tree,), words)
        return with_where(tree, lambda part: replace(part, where=_meant(part.where, words)))
    if isinstance(tree, tuple) and all(isinstance(piece, PIECES) for piece in tree):
        return tuple(_piece(piece, words) for piece in tree)
    return tree


def _piece(piece: Any, words: TextParameters) -> Any:  # noqa: ANN401 - of a text
    """A piece of a text: a parameter's word where its name stood."""
    if not isinstance(piece, Slot):
        return piece
    if isinstance(piece.quantity, Field) and piece.quantity.name.casefold() in words:
        text = words[piece.quantity.name.casefold()]
        return text if isinstance(text, str) else listed(text)
    _refuse_words((piece.quantity,), words)
    return piece


def _refuse_lists(test: Test, words: TextParameters) -> None:
    """Raise YuzenError (brief-parameter) for a list of words where one word is needed."""
    for name in test.claim.named():
        if isinstance(words.get(name.name.casefold()), tuple):
            right = f"{test.subject} one of {name}" if test.subject else f"one of {name}"
            message = f"The parameter {name} is a list of words. Write: {right}"
            source = name.span.source if name.span else ""
            raise YuzenError(Fault("brief-parameter", message, "", source, name.span))


def _refuse_words(quantities: Iterable[Quantity], words: TextParameters) -> None:
    for quantity in quantities:
        for part in inside(quantity):
            if isinstance(part, Field) and part.name.casefold() in words:
                text = words[part.name.casefold()]
                word = f'the word "{text}"' if isinstance(text, str) else "a list of words"
                message = f"The parameter {part} is {word}, and a number is needed here."
                span = part.span
                raise YuzenError(
                    Fault("brief-parameter", message, "", span.source if span else "", span)
                )
