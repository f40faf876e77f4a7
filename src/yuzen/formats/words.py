"""The words that Yuzen writes itself, such as "the rest", in several languages.

English is in `english.py`; every other language is a file of its name in `languages/`. A house
theme and a brief may say any of them otherwise.
"""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import field, replace
from functools import cache
from pathlib import Path
from typing import Final

from yuzen.formats.english import ENGLISH
from yuzen.regex import regex
from yuzen.value import Value

FORMS: Final = "|"  # between the forms of a noun: of one, of some, of many
_SLOT: Final = regex(r"\{(\w+)\}")


class Words(Value):
    """The words of one language.

    texts:    by what they are for, with the names of numbers and words in braces.
    language: its code, as in 'en'; by it a noun has one form, or another, after a number.
    """

    texts: Mapping[str, str] = field(default_factory=lambda: ENGLISH)
    language: str = "en"

    def say(self, key: str, **values: object) -> str:
        """A text with numbers and words in it.

        >>> Words().say("flagged", flagged=3, asked=20)
        '3 of 20 flagged'
        """
        return _SLOT.sub(lambda slot: str(values[slot[1]]), self.texts[key])

    def noun(self, key: str, count: int, otherwise: str = "") -> str:
        """The form that a noun has after a number; `otherwise` are the forms of an unknown one.

        >>> Words().noun("marks bar", 1), Words().noun("marks bar", 2)
        ('bar', 'bars')
        """
        forms = self.texts.get(key, otherwise).split(FORMS)
        return forms[min(plural_form(self.language, count), len(forms) - 1)]

    def listed(self, names: Sequence[str], most: int = 4, rest: str = "more") -> str:
        """Some names as a sentence lists them: "a, b and 3 more"; `rest` is what says "more"."""
        if not names:
            return self.texts["none"]
        shown = list(names)
        if len(shown) > most:
            shown = [*shown[: most - 1], self.say(rest, count=f"{len(names) - most + 1:,}")]
        # Names of several parts have commas of their own.
        between = "; " if any(", " in name for name in shown) else ", "
        first, last = shown[:-1], shown[-1]
        return f"{between.join(first)} {self.texts['and']} {last}" if first else last

    def changed(self, texts: Mapping[str, str]) -> Words:
        """A copy that says some of them otherwise."""
        if not texts:
            return self
        return replace(self, texts={**self.texts, **texts})


ENGLISH_WORDS: Final = Words()


def words_fault(key: str, text: str) -> str:
    """What is wrong with a text for a key, as a sentence; '' where nothing is."""
    if key not in ENGLISH:
        return f"I know no words '{key[:60]}'"
    known = set(_SLOT.findall(ENGLISH[key]))
    strange = [name for name in _SLOT.findall(text) if name not in known]
    if strange:
        listed_names = ", ".join(f"{{{name}}}" for name in sorted(known)) or "no braces"
        return f"'{key}' knows no {{{strange[0][:40]}}}, but {listed_names}"
    return ""


@cache
def words_of(language: str) -> Words:
    """The words of a language by its code, such as 'de'; English ones where it is not built in."""
    path = Path(__file__).parent / "languages" / f"{language}.toml"
    if not (language.isalpha() and path.is_file()):
        return replace(ENGLISH_WORDS, language=language)
    return Words({**ENGLISH, **tomllib.loads(path.read_text("utf-8"))}, language)


def plural_form(language: str, count: int) -> int:
    """Which form of a noun stands after a number: 0 for that of one.

    By the rules of the Unicode CLDR for whole numbers (Language Plural Rules).

    >>> [plural_form("pl", count) for count in (1, 2, 5, 12, 22)]
    [0, 1, 2, 2, 1]
    """
    if language in PLURALS:
        return PLURALS[language](count)
    return int(count != 1)


def _polish(count: int) -> int:
    if count == 1:
        return 0
    few = count % 10 in {2, 3, 4} and count % 100 not in {12, 13, 14}
    return 1 if few else 2


PLURALS: Final[Mapping[str, Callable[[int], int]]] = {
    "fr": lambda count: int(count > 1),
    "pl": _polish,
}
