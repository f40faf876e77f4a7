"""Rules in a file of their own, which many briefs use: they stand before each brief's own."""

from collections.abc import Iterator, Sequence
from dataclasses import field, replace
from pathlib import Path

from pydantic import Field, ValidationError

from yuzen.brief.design import Design, DesignRule
from yuzen.brief.judge_rules import judge_rules
from yuzen.brief.model import Brief
from yuzen.brief.row_plan import names_used
from yuzen.brief.sections.base import Parameters, Section
from yuzen.brief.sections.rule import Rules, RuleSection
from yuzen.brief.toml.document import known_targets, read_text, read_toml, refuse_faults
from yuzen.brief.toml.faults import faults_of
from yuzen.brief.toml.source import BriefSource, KeyPath
from yuzen.errors import Fault, YuzenError
from yuzen.locks import cached_property
from yuzen.rules.language.period_names import period_named
from yuzen.rules.names import Names, in_quantities, in_rules
from yuzen.value import Value


class HouseFile(Section):
    """What a file of house rules holds: rules, and parameters that briefs may set otherwise."""

    parameters: Parameters = Field(default_factory=dict)
    rule: Rules = ()


class HouseRules(Value):
    """The rules of a house, and the text that they are written in."""

    file: HouseFile
    written: BriefSource


class HousedBrief(Value):
    """A brief whose rules are the house's and its own.

    places:   for each rule of the brief its place in the house's file; own rules follow them.
    left_out: what to say of the house's rules that do not apply to this chart.
    """

    brief: Brief
    places: tuple[int, ...] = ()
    left_out: tuple[str, ...] = ()
    house: HouseRules | None = field(default=None, repr=False)
    written: BriefSource | None = field(default=None, repr=False)

    @cached_property
    def rules(self) -> tuple[DesignRule, ...]:
        """All rules, bands and columns taken apart."""
        return Design(self.brief).rules

    def located(self, fault: Fault) -> Fault:
        """A fault with the file and the line of the brief, or of the house's rules."""
        key = fault.key
        if len(key) > 1 and key[0] == "rules":  # its index among all rules, of which bands are some
            key = (*self.rules[int(key[1])].key, *key[2:])
        written, key = self.place_of(key)
        if written is None or not key:
            return fault
        return written.located(replace(fault, key=key))

    def place_of(self, key: KeyPath) -> tuple[BriefSource | None, KeyPath]:
        """The text in which a key of the brief stands, and the key there."""
        if self.house is None or len(key) < 2 or key[0] != "rule":
            return self.written, key
        place = int(key[1])
        if place < len(self.places):
            return self.house.written, ("rule", self.places[place], *key[2:])
        return self.written, ("rule", place - len(self.places), *key[2:])


def load_house_rules(path: Path) -> HouseRules:
    """The rules in a TOML file. Raises YuzenError with all faults and places."""
    written = read_text(path, "file of rules")
    values = read_toml(written)
    try:
        return HouseRules(HouseFile.model_validate(values), written)
    except ValidationError as error:
        faults = faults_of(error.errors(), values, HouseFile)
        raise YuzenError(*map(written.located, faults)) from None


def with_house_rules(
    brief: Brief, house: HouseRules, column_names: Sequence[str], written: BriefSource | None
) -> HousedBrief:
    """A brief with the house's rules before its own, as far as they apply to its columns.

    Raises YuzenError for rules of the house and of the brief that cannot stand together.
    """
    known = {name.casefold() for name in (*column_names, *brief.measures, brief.chart.value)}
    # What the brief says of a parameter comes before what the house says.
    parameters = {**house.file.parameters, **brief.parameters}
    known |= {name.casefold() for name in parameters}
    kept: list[tuple[int, RuleSection]] = []
    left_out = []
    for place, rule in enumerate(house.file.rule):
        reasons = [*_unfit(rule, brief, known)]
        if reasons:
            what = f'{house.written.called}, rule {place + 1} "{rule.called}"'
            left_out.append(f"{what} does not apply here: {reasons[0]}")
        else:
            kept.append((place, rule))
    rules = (*(rule for _, rule in kept), *brief.rule)
    merged = brief.having(rules=None, rule=rules, parameters=parameters)
    used = {name.casefold() for name in names_used(Design(merged))}
    own = {name.casefold() for name in brief.parameters}
    parameters = {
        name: value for name, value in parameters.items() if name.casefold() in used | own
    }
    housed = HousedBrief(
        merged.having(parameters=parameters),
        tuple(place for place, _ in kept),
        tuple(left_out),
        house,
        written,
    )
    try:
        refuse_faults(housed.brief)
    except YuzenError as error:
        raise YuzenError(*map(housed.located, error.faults)) from None
    return housed


def _unfit(rule: RuleSection, brief: Brief, known: set[str]) -> Iterator[str]:
    """Why a rule of the house does not apply to a brief."""
    for target in (rule.on, *(f"column {name}" for name in rule.columns)):
        targets = known_targets(brief)
        if target not in targets:
            yield f"there is no '{target}' to act on."
    for judged in judge_rules(Design(brief.having(rule=(rule,)))):
        names = in_rules([judged.condition])
        if judged.shade is not None:
            names |= in_quantities([judged.shade.of]) | Names(peers=frozenset(judged.shade.within))
        for name in sorted(names.all):
            if name.casefold() not in known and period_named(name) is None:
                yield f"there is no measure or column '{name}'."
