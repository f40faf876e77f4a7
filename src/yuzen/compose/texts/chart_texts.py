"""Texts of the whole chart, with their numbers filled in."""

import re

from yuzen.brief.design import Design
from yuzen.brief.sections.phrases import Phrase
from yuzen.compose.drawn_context import DrawnContext
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.texts.filled import fill_once
from yuzen.errors import error_at
from yuzen.formats.name_lists import listed
from yuzen.regex import regex
from yuzen.rules.grammar.wording import Wording
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.language.words import NAME

# A name, or a text or a name in quotes, in which nothing is replaced.
_NAME_OR_QUOTED = regex(rf'"[^"]*"|`[^`]*`|{NAME}')


def chart_text(
    source: Phrase[Wording],
    context: EvaluationContext,
    verdict: ColoredVerdict,
    where: str = "",
    *key: str | int,
) -> str:
    """A text of the whole chart with its numbers filled in.

    where, key: its place in the brief, for messages. Raises YuzenError with that place.
    """
    if isinstance(context, DrawnContext):
        return chart_text(source, context.every, context.verdict, where, *key)
    with error_at(where, *key):
        return fill_once(source.tree, context, verdict.whole)


def with_parameters(condition: str, design: Design, context: EvaluationContext) -> str:
    """A condition's text with the values of parameters in the place of their names: 'top 5'."""
    parameters = design.brief.parameters

    def value(word: re.Match[str]) -> str:
        parameter = parameters.get(word.group(), word.group())
        if isinstance(parameter, tuple):
            return listed(parameter)
        if isinstance(parameter, str):
            return parameter
        return context.formats.plain.tell(parameter)[0]

    return _NAME_OR_QUOTED.sub(value, condition)
