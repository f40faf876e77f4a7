"""Briefs in and out: TOML or plain values to the typed model, with every fault in one report."""

import re
import tomllib
from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from pathlib import Path
from typing import Any, Final

from pydantic import ValidationError

from yuzen.brief.design import Design, DesignRule
from yuzen.brief.keys.schema import schema_of
from yuzen.brief.model import Brief
from yuzen.brief.sections.base import Section
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.effects import EFFECTS
from yuzen.brief.sections.labels import LabelSection, NoteSection
from yuzen.brief.sections.layers import LayerSection
from yuzen.brief.sections.references import ReferenceSection
from yuzen.brief.sections.rule import RuleSection
from yuzen.brief.toml.faults import LISTS, faults_of
from yuzen.brief.toml.hints import place_in, toml_remedy
from yuzen.brief.toml.source import BriefSource
from yuzen.errors import Fault, YuzenError, make_error, suggestion
from yuzen.paths import read_file
from yuzen.regex import regex
from yuzen.rules.grammar.wording import braced
from yuzen.rules.quantities.structure import in_reverse
from yuzen.rules.target import AXIS_NAME, LABEL, LINE, MARK, MARKER, ROW, Target

MAX_BRIEF_BYTES = 1_000_000  # of one brief
ENTRIES: Final[Mapping[str, type[Section]]] = {
    "rule": RuleSection,
    "reference": ReferenceSection,
    "label": LabelSection,
    "layer": LayerSection,
    "column": ColumnSection,
    "note": NoteSection,
}
MOST_ENTRIES: Final = {
    name: next(m.max_length for m in Brief.model_fields[name].metadata if hasattr(m, "max_length"))
    for name in ENTRIES
}
_HEADING = regex(r"^\[", re.MULTILINE)
_QUOTED = regex(r' = "((?:[^"\\\n]|\\.)*)"$', re.MULTILINE)


def brief_schema() -> dict[str, Any]:
    """The JSON Schema of a brief, for editors that complete and check one."""
    return schema_of(Brief, "brief")


def read_text(path: Path, what: str) -> BriefSource:
    """The text of a file of TOML. Raises YuzenError (brief-file, brief-text)."""
    data = read_file(path, MAX_BRIEF_BYTES, "brief-file", what)
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise make_error("brief-text", "This file is no text in UTF-8.", where=str(path)) from None
    return BriefSource(path.name, text)


def parse_brief(written: BriefSource) -> Brief:
    """The brief in a TOML text. Raises YuzenError with all its faults, each with file and line."""
    try:
        return make_brief(read_brief_values(written))
    except YuzenError as error:
        raise YuzenError(*map(written.located, error.faults)) from None


def read_brief_values(written: BriefSource) -> dict[str, Any]:
    """The plain values of a brief's text. Raises YuzenError (brief-toml, brief-report)."""
    values = read_toml(written)
    if "section" in values and "chart" not in values:
        message = f"This is the file of a report. Write it with yuzen report {written.called} -o"
        raise make_error("brief-report", f"{message} report.html.", where=written.called)
    return values


def read_toml(written: BriefSource) -> dict[str, Any]:
    """The plain values of a TOML text. Raises YuzenError (brief-toml) with its line."""
    try:
        return tomllib.loads(written.text)
    except (tomllib.TOMLDecodeError, RecursionError, ValueError) as error:
        if isinstance(error, RecursionError):
            reason = "it is nested too deep"
        else:
            reason = str(error)
        remedy = toml_remedy(reason, written.text, LISTS)
        line, span = place_in(reason, written.text)
        message = f"This is no TOML: {reason}.{remedy}"
        fault = Fault("brief-toml", message, written.called, line, span)
        raise YuzenError(fault) from None


def make_brief(values: Mapping[str, Any]) -> Brief:
    """The brief of plain values. Raises YuzenError with all its faults."""
    try:
        brief = Brief.model_validate(values)
    except ValidationError as error:
        raise YuzenError(*faults_of(error.errors(), values)) from None
    refuse_faults(brief)
    return brief


def refuse_faults(brief: Brief) -> None:
    """Raise YuzenError where sections of a brief do not go together."""
    if faults := _whole_faults(brief):
        raise YuzenError(*faults)


def with_entry(brief: Brief, section: str, entry: Mapping[str, Any]) -> Brief:
    """The brief with one more rule, reference or label; what it has already is not read again.

    Raises YuzenError with all faults of the entry.
    """
    entries: tuple[Section, ...] = getattr(brief, section)
    place = len(entries)
    if place >= MOST_ENTRIES[section]:  # which the whole brief's own validation tells
        plain = brief.plain()
        return make_brief({**plain, section: [*plain[section], dict(entry)]})
    longer = brief.having(**{section: (*entries, make_entry(section, entry, place))})
    refuse_faults(longer)
    return longer


def of_value(spec: Brief, column: str, value: str) -> Brief:
    """The brief of one value of a column, which its subtitle tells."""
    plain = spec.plain()
    data = plain.get("data", {})
    plain["data"] = {**data, "only": {**data.get("only", {}), column: value}}
    if spec.subtitle is None:
        subtitle = ""
    else:
        subtitle = spec.subtitle.text
    plain["subtitle"] = " · ".join(filter(None, [braced(value), subtitle]))
    return make_brief(plain)


def make_entry(section: str, entry: Mapping[str, Any], place: int = 0) -> Section:
    """A rule, a reference or another entry of its section, at a place among those.

    Raises YuzenError with all its faults.
    """
    try:
        return ENTRIES[section].model_validate(entry)
    except ValidationError as error:
        # The faults are to name the entry's own place among the others.
        values = {section: [None] * place + [entry]}
        details = [{**detail, "loc": (section, place, *detail["loc"])} for detail in error.errors()]
        raise YuzenError(*faults_of(details, values)) from None  # type: ignore[arg-type]  # as they were


def write_brief(brief: Brief) -> str:
    """The brief as TOML that loads to an equal brief, one section after the other."""
    from tomli_w import dumps  # noqa: PLC0415 - only when a brief is written

    plain = brief.plain()
    sections = {key: value for key, value in plain.items() if _is_section(value)}
    blocks = [dumps({key: value for key, value in plain.items() if key not in sections})]
    for name, section in sections.items():
        if isinstance(section, list):
            entries = section
        else:
            entries = [section]
        if isinstance(section, list):
            head = f"[[{name}]]"
        else:
            head = f"[{name}]"
        # A table inside has a heading of its own, which is inside this section.
        blocks += [f"{head}\n{_HEADING.sub(f'[{name}.', dumps(entry))}" for entry in entries]
    return _QUOTED.sub(_literal, "\n".join(filter(None, blocks)))


def _is_section(value: object) -> bool:
    """Whether a value of a brief has a heading of its own, as tables and lists of them have."""
    if isinstance(value, list):
        return all(isinstance(entry, dict) for entry in value)
    return isinstance(value, dict)


def _literal(value: re.Match[str]) -> str:
    """A text with double quotes in it between single ones, in which nothing has to be escaped."""
    text = value[1].replace('\\"', '"')
    if "'" in text or "\\" in text or '"' not in text:
        return value[0]
    return f" = '{text}'"


def _whole_faults(brief: Brief) -> list[Fault]:
    """What is wrong between the sections of a brief."""
    rules = Design(brief).all_rules
    return [*_twins(brief, rules), *_unknown_targets(brief, rules), *_edges_in_disorder(brief)]


def _edges_in_disorder(brief: Brief) -> Iterator[Fault]:
    """The edges of bands ascend, as far as they are numbers or parameters."""
    for place, rule in enumerate(brief.rule):
        edges = () if rule.bands is None else rule.bands.edges
        for low, high in pairwise(edges):
            if low.text == high.text or in_reverse(low.tree, high.tree, brief.numbers):
                message = (
                    f"Edges go up, and {high} comes after {low}. List all from the lowest band on."
                )
                where = f'rule {place + 1} "{rule.called}", bands'
                yield Fault("brief-bands", message, where, key=("rule", place, "bands"))
                break


def _twins(brief: Brief, rules: Sequence[DesignRule]) -> Iterator[Fault]:
    """Faults of names that occur twice; a rule on several columns has one name."""
    seen: dict[str, list[tuple[int, str]]] = {}
    for rule in rules:
        name, on = rule.section.called, rule.section.on
        before = seen.setdefault(name, [])
        unnamed = rule.section.name is None
        if all((first == rule.place or unnamed) and other != on for first, other in before):
            before.append((rule.place, on))
            continue
        message = f'Two rules are called "{name}"; give one of them another name.'
        if rule.section.name is None:
            message = f'Two rules without a name say the same, "{name}"; give one of them a name.'
        yield Fault("brief-twins", message, key=rule.key)
    pieces = [piece.name for piece in brief.label]
    for place, piece in enumerate(pieces):
        if piece is not None and piece in pieces[:place]:
            message = (
                f'Two pieces of the label are called "{piece}"; give one of them another name.'
            )
            yield Fault("brief-twins", message, key=("label", place))


def _unknown_targets(brief: Brief, rules: Sequence[DesignRule]) -> Iterator[Fault]:
    """What rules act on exists, and has the effects that they name."""
    known = known_targets(brief)
    for number, rule in enumerate(rules, start=1):
        section = rule.section
        where = f'rule {number} "{section.called}"'
        if section.on not in known:
            hint = suggestion(section.on, known)
            message = f"There is no '{section.on}' to act on.{hint} There is {', '.join(known)}."
            yield Fault("brief-target", message, f"{where}, on", key=(*rule.key, "on"))
            continue
        if section.shade is not None and section.shade.scale == "shared" and rule.shape.small:
            message = (
                f"Each line of {section.on} is judged by itself, so it shares no scale; leave it "
                "out."
            )
            yield Fault("brief-effect", message, f"{where}, columns", key=(*rule.key, "columns"))
        for name in section.effects:
            shown = EFFECTS[name].shown
            if rule.seen_on.family not in shown:
                message = f"{section.on} has no {name}; what has one is {', '.join(shown)}."
                yield Fault("brief-effect", message, f"{where}, {name}", key=(*rule.key, name))


def known_targets(brief: Brief) -> list[str]:
    """What a rule of the brief can act on."""
    columns = dict.fromkeys(column.called for column in (*Design(brief).columns, *brief.column))
    pieces = [piece.name for piece in brief.label if piece.name]
    return [
        *(str(target) for target in (MARK, LINE, MARKER, LABEL, AXIS_NAME, ROW)),
        *(str(Target("label", name)) for name in (*pieces, *columns)),
        *(str(Target("layer", layer.name)) for layer in brief.layer),
        *(str(Target("column", name)) for name in columns),
    ]
