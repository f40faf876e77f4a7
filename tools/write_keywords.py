"""Writes the types of a brief's keys, src/yuzen/brief/keywords.py; --check only compares.

Editors and type checkers read sources and run nothing, so that what they are to know has to stand
there.
"""

from __future__ import annotations

import sys
from datetime import date
from pathlib import Path
from types import UnionType
from typing import TYPE_CHECKING, Annotated, Any, Final, Literal, Union, get_args, get_origin

from pydantic import BeforeValidator

from yuzen.brief.model import Brief
from yuzen.brief.sections.base import Section, dated, named_by_number
from yuzen.brief.sections.calendar import CalendarSection
from yuzen.brief.sections.chart import ChartSection
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.data import AlsoSection, DataSection, WideSection
from yuzen.brief.sections.labels import LabelSection, NoteSection
from yuzen.brief.sections.layers import LayerSection
from yuzen.brief.sections.phrases import Phrase
from yuzen.brief.sections.references import ReferenceSection
from yuzen.brief.sections.rule import RuleSection
from yuzen.brief.sections.scale import EndsSection, ScaleSection
from yuzen.brief.sections.shading import BandsSection, ShadeSection, as_section
from yuzen.brief.sections.size import SizeSection
from yuzen.brief.toml.document import ENTRIES
from yuzen.formats.number_format import NumberFormat
from yuzen.rules.conditions import Condition, Test
from yuzen.rules.grammar.wording import Wording
from yuzen.rules.quantities.numbers import Quantity
from yuzen.rules.shades import Range
from yuzen.shape.plan.choices import Order

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

PAGE: Final = Path(__file__).parent.parent / "src" / "yuzen" / "brief" / "keywords.py"
HEAD: Final = '''\
"""What the keys of a brief take, as editors and type checkers read it; written by make format."""

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Literal, Required, TypeAlias, TypedDict

from yuzen.rules.conditions import BaseCondition
from yuzen.rules.grammar.measure import Measure
from yuzen.rules.quantities.numbers import Quantity

ConditionLike: TypeAlias = str | BaseCondition
QuantityLike: TypeAlias = str | float | Quantity | Measure
'''
# The sections in the order in which they speak of one another, and the key that a call says by
# itself.
SECTIONS: Final[Mapping[type[Section], str]] = {
    ShadeSection: "",
    BandsSection: "",
    RuleSection: "when",
    ReferenceSection: "at",
    LabelSection: "text",
    LayerSection: "name",
    ColumnSection: "value",
    NoteSection: "text",
    EndsSection: "",
    ScaleSection: "",
    SizeSection: "",
    CalendarSection: "",
    WideSection: "",
    AlsoSection: "",
    DataSection: "",
}
INSIDE: Final = {
    "Shade": "a shade",
    "Bands": "bands",
    "Ends": "an axis of values",
    "Wide": "columns side by side that become rows",
    "Also": "a second table that is joined",
}
PHRASES: Final[Mapping[Any, str]] = {
    Condition: "ConditionLike",
    Condition | None: "ConditionLike",
    Test: "ConditionLike",
    Quantity: "QuantityLike",
    Wording: "str",
    NumberFormat: "str",
    Range: "str",
    Order: "str | Sequence[str]",
}
BESIDES: Final[Mapping[Any, str]] = {
    named_by_number: "int",
    dated: "date",
    as_section: "QuantityLike",
}
CALLED_APART: Final = {"category", "value"}  # of yz.chart, which says them by themselves


def page() -> str:
    """The module's text."""
    return (
        "\n\n".join([HEAD, *(_types_of(section, head) for section, head in SECTIONS.items())])
        + _chart()
    )


def _types_of(section: type[Section], head: str) -> str:
    """The types of a section's keys; where a call says one of them by itself, apart from that."""
    name = section.__name__.removesuffix("Section")
    title = f'class {name}Keys(TypedDict, total=False):\n    """The keys of {_where(name)}."""\n'
    told = [title, *_lines(section, {head})]
    if head:
        entry = f"\n\nclass {name}Entry({name}Keys, total=False):\n"
        told.append(f'{entry}    """The keys of a whole entry, its first one too."""\n')
        told += _lines(section, {*section.model_fields} - {head})
    return "\n".join(told)


def _where(name: str) -> str:
    """Where such keys stand."""
    if name in INSIDE:
        return INSIDE[name]
    if name.lower() in ENTRIES:
        return f"a [[{name.lower()}]]"
    return f"[{name.lower()}]"


def _chart() -> str:
    """What yz.chart takes: the keys of [chart] and the sections."""
    fields = {**Brief.model_fields, **ChartSection.model_fields}
    told = ["\n\nclass ChartCallKeys(TypedDict, total=False):"]
    told += [
        '    """The further keys of yz.chart: those of [chart], and the sections of a brief."""\n'
    ]
    for name in fields:
        if name in CALLED_APART or name == "chart":
            continue
        owner = ChartSection if name in ChartSection.model_fields else Brief
        told.append(f"    {name}: {_text(owner, name)}")
    return "\n".join(told) + "\n"


def _lines(section: type[Section], without: set[str]) -> list[str]:
    told = []
    for name, field in section.model_fields.items():
        text = _text(section, name)
        if field.is_required():
            text = f"Required[{text}]"
        if name not in without:
            told.append(f"    {name}: {text}")
    return told


def _text(section: type[Section], name: str) -> str:
    """What a key takes, as Python writes it."""
    field = section.model_fields[name]
    kind = Annotated[field.annotation, *field.metadata] if field.metadata else field.annotation
    return " | ".join(dict.fromkeys(_parts(kind)))


def _parts(kind: Any) -> Iterator[str]:  # noqa: ANN401 - a type of any form
    """Its types, one after the other."""
    origin, of = get_origin(kind), get_args(kind)
    if origin is Annotated:
        yield from (part for part in _parts(of[0]) if part != "None")
        for told in of[1:]:
            if isinstance(told, BeforeValidator) and told.func in BESIDES:
                yield BESIDES[told.func]
        yield from (part for part in _parts(of[0]) if part == "None")
    elif origin in {Union, UnionType}:
        found = [part for one in of for part in _parts(one)]
        yield from (part for part in found if part != "None")
        yield from ["None"] * ("None" in found)
    elif origin is tuple:
        yield f"Sequence[{' | '.join(dict.fromkeys(_parts(of[0])))}]"
    elif origin is dict:
        yield f"Mapping[str, {' | '.join(dict.fromkeys(_parts(of[1])))}]"
    elif origin is Literal:
        yield f"Literal[{', '.join(_quoted(said) for said in of)}]"
    elif origin is Phrase:
        yield PHRASES[of[0]]
    elif isinstance(kind, type) and issubclass(kind, Section):
        name = kind.__name__.removesuffix("Section")
        yield f"{name}{'Entry' if SECTIONS[kind] else 'Keys'}"
    else:
        yield {type(None): "None", date: "date"}.get(kind) or kind.__name__


def _quoted(said: object) -> str:
    return f'"{said}"' if isinstance(said, str) else repr(said)


def main() -> int:
    """Write the module, or say that it is not as it would be written."""
    wanted = page()
    if "--check" in sys.argv:
        return int(_bare(wanted) != _bare(PAGE.read_text(encoding="utf-8")))
    PAGE.write_text(wanted, encoding="utf-8")
    return 0


def _bare(text: str) -> str:
    """A module without what the formatter decides on."""
    return "".join(text.split()).replace(",]", "]").replace(",)", ")")


if __name__ == "__main__":
    sys.exit(main())
