"""A first brief: its keys in order, and its text with a line of explanation for each key."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.brief.default_formats import plain_spec
from yuzen.brief.keys.key_help import KeyHelp, toml_value
from yuzen.brief.kinds import KINDS
from yuzen.formats.periods import UNITS
from yuzen.starts.choice import Choice
from yuzen.starts.first_rules import FirstRule, in_text, measured_in_text, sentence
from yuzen.starts.profile import Profile

MOST_OTHERS: Final = 5  # other values that a comment names
MILLIONS: Final = 2e6  # from which numbers are written in millions
NAMED: Final[Mapping[str, str]] = {  # sections whose keys are names, and what each of them is
    "aliases": "Spellings, and the name that each of them means.",
    "parameters": "A number that rules use. A call sets another: --set NAME=VALUE.",
    "measures": "A number of each mark. Or: the total of, median of, highest of a column.",
    "formats": "How these numbers are written. Or: {,.0f}, {,.1fk}, {.1%}.",
}


def brief_values(
    profile: Profile,
    choice: Choice,
    rules: Sequence[FirstRule],
    data: Mapping[str, Any],
    format_of_value: str = "",
) -> dict[str, Any]:
    """The plain values of a first brief, section after section.

    data: where the rows come from, as [data] has it.
    """
    keep = " and ".join(choice.keep)
    measures = dict(choice.measures)
    parameters: dict[str, float] = {}
    for rule in rules:
        measures |= rule.measures
        parameters |= rule.parameters
    values: dict[str, Any] = {
        "title": _title(choice, rules),
        "subtitle": _subtitle(profile, choice),
        "data": {**data, **({"keep": keep} if keep else {})},
        "aliases": dict(profile.spellings),
        "parameters": parameters,
        "measures": measures,
        "formats": {choice.value: format_of_value} if format_of_value else {},
        "chart": _chart(choice),
        "column": [{"value": name} for name in choice.columns],
        "rule": [_rule(rule, choice) for rule in rules],
    }
    return {key: value for key, value in values.items() if value}


def _chart(choice: Choice) -> dict[str, Any]:
    keys = {
        "kind": choice.kind,
        "category": choice.category.name,
        "value": choice.value,
        "across": choice.across,
        "grain": choice.grain or _width(choice.bins),
        "order": choice.order,
        "limit": choice.limit,
        "rest": choice.rest,
    }
    return {key: value for key, value in keys.items() if value is not None}


def _width(bins: float | None) -> float | None:
    """The width of bins, whole where it can be."""
    if bins is None or bins != int(bins):
        return bins
    return int(bins)


def _rule(rule: FirstRule, choice: Choice) -> dict[str, Any]:
    """A rule of the brief; in a table it colours the column that it is about."""
    condition = {"part": rule.when} if rule.part else {"when": rule.when}
    told = {"name": rule.name, "key": rule.key, **condition}
    if rule.about in choice.columns and rule.about != choice.value:
        told["on"] = f"column {rule.about}"
    return {**told, "color": rule.color}


def _title(choice: Choice, rules: Sequence[FirstRule]) -> str:
    """What the first two rules say, or what is drawn."""
    clauses = "; ".join(rule.clause for rule in rules[:2])
    return sentence(clauses or f"{measured_in_text(choice)} by {in_text(choice.category)}")


def _subtitle(profile: Profile, choice: Choice) -> str:
    """What is drawn, and over which time."""
    drawn = sentence(f"{measured_in_text(choice)} by {choice.grain or in_text(choice.category)}")
    dates = profile.of_kind("dates")
    if choice.category.kind == "dates":
        unit, of = choice.grain, ""
    elif dates and "last" in " ".join(choice.keep):
        unit = "month"
        of = "" if len(dates) == 1 else f" of {dates[0].name}"
    else:
        return drawn
    if not of.isascii() or " " in of.removeprefix(" of "):
        return drawn
    return f"{drawn}, {{earliest {unit}{of}}} to {{latest {unit}{of}}}"


def value_format(choice: Choice, values: Floats) -> str:
    """How the numbers of the marks are written: in percent, in millions, or plainly.

    values: shape (n,), NaN where a mark has none.
    """
    known = np.abs(values[np.isfinite(values)])
    if not len(known):
        return ""
    of = choice.of
    if of is not None and of.is_ratio and (_is_share(of.least, of.most) or "percent" in of.typed):
        return "{.1%}"
    if known.max() >= MILLIONS:
        return "{,.1fM}"
    if choice.adds_up:
        return f"{{{plain_spec(values)}}}"
    # An average has more decimals than its numbers; three digits of it are read.
    decimals = int(np.clip(2 - np.floor(np.log10(max(known.max(), 1e-9))), 0, 3))
    return f"{{,.{decimals}f}}"


def _is_share(least: object, most: object) -> bool:
    return isinstance(least, float) and isinstance(most, float) and least >= 0 and most <= 1


def commented(
    values: Mapping[str, Any], keys: Mapping[str, KeyHelp], others: Mapping[str, str]
) -> str:
    """A brief as text: over each key what it does and what else it could be.

    keys: what is known of each key; others: for some, what else they could be here.
    """
    plain = {key: of for key, of in values.items() if not isinstance(of, Mapping | list)}
    lines = list(_entries(plain, "", keys, others))
    for name, section in values.items():
        if name in plain:
            continue
        entries = section if isinstance(section, list) else [section]
        for number, entry in enumerate(entries):
            heading = f"[[{name}]]" if isinstance(section, list) else f"[{name}]"
            lines += ["", *([f"# {keys[name].about}"] if not number else []), heading]
            if name in NAMED:
                for key, of in entry.items():
                    lines += [f"# {NAMED[name]}", f"{_bare(key)} = {toml_value(of)}"]
            else:
                # The keys of a second rule are those of the first.
                told = {} if number else keys
                lines += _entries(entry, f"{name}.", told, others)
    return "\n".join(lines) + "\n"


def _entries(
    entry: Mapping[str, Any], above: str, keys: Mapping[str, KeyHelp], others: Mapping[str, str]
) -> Iterator[str]:
    """The lines of some keys, each under what it does."""
    for key, value in entry.items():
        path = above + key
        if path in keys:
            yield " ".join(filter(None, (f"# {keys[path].about}", others.get(path, ""))))
        yield f"{key} = {toml_value(value)}"


def _bare(name: str) -> str:
    """The name of a measure or a column as a key of TOML."""
    return toml_value({name: 0}).removeprefix("{ ").removesuffix(" = 0 }")


def other_values(profile: Profile, choice: Choice) -> dict[str, str]:
    """For keys of a first brief what else they could be with these rows."""
    columns = [c.name for c in profile.columns if c.kind in {"words", "dates"}]
    numbers = [c.name for c in profile.of_kind("numbers") if not c.is_code]
    return {
        "chart.kind": _or([kind for kind in KINDS if kind != choice.kind]),
        "chart.category": _or([name for name in columns if name != choice.category.name]),
        "chart.value": _or([*(n for n in numbers if n != choice.value), "count of rows"]),
        "chart.grain": _or([unit for unit in UNITS if unit != choice.grain])
        if choice.bins is None
        else "Or: another width.",
        "chart.order": _or(["smallest first", "by name", "as given"]),
        "rule.color": _or(["favorable", "adverse", "notice", "#1F6F54"]),
        "rule.when": _or(["above average", "top 3", "negative", "below 100"]),
        "title": "Or: any text.",
        "subtitle": "Or: any text.",
        "data.file": "Or: a folder, or a pattern such as *.csv.",
        "data.table": "Or: a query.",
        "chart.across": _or([name for name in numbers if name != choice.across]),
        "chart.limit": "Or: another count.",
        "chart.rest": "Leave it out to drop the others.",
        "column.value": _or([name for name in numbers if name not in choice.columns]),
        "rule.name": "Or: another name, also in the title.",
        "rule.key": "Or: any text.",
        "rule.on": _or(["mark", "row", "axis name"]),
        "rule.part": _or(["above average", "below 100", "between 10 and 20"]),
        "label.text": "An empty text leaves the numbers to the axis.",
        "data.keep": "Leave it out to use all rows.",
    }


def _or(options: Sequence[str]) -> str:
    """'Or: fares, cost.' with the first few of these; '' for none."""
    if not options:
        return ""
    more = ", and others" if len(options) > MOST_OTHERS else ""
    # A comment ends with its line, whatever the name of a column holds.
    plain = [" ".join(option.split()) for option in options[:MOST_OTHERS]]
    named = "".join(sign for sign in ", ".join(plain) if sign.isprintable())
    return f"Or: {named}{more}."
