"""What a chart says of itself, call by call: each call gives a new chart with a longer brief."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any, Self

from yuzen.brief.meaning import spoken_names
from yuzen.brief.toml import make_brief, with_entry, write_brief
from yuzen.errors import suggestion, wrong
from yuzen.rules.conditions import BaseCondition
from yuzen.rules.language.grammar import parse
from yuzen.rules.language.measure import Measure
from yuzen.rules.language.wording import braced
from yuzen.rules.quantities import Quantity

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import date

    from yuzen.brief.model import Brief
    from yuzen.brief.places import Written
    from yuzen.errors import Fault
    from yuzen.rules.conditions import Condition


class Builder:
    """Whoever has a brief and can be made again with another one."""

    spec: Brief

    def saying(self, spec: Brief) -> Self:
        """The same with another brief."""
        raise NotImplementedError

    def needs_rows(self, what: str, *names: str) -> None:
        """Raise YuzenError where there are no rows that could be asked for this, or for these names."""
        raise NotImplementedError

    def rule(self, when: str | Condition, **keys: Any) -> Self:  # noqa: ANN401 - a brief's own keys
        """Add a rule: a condition in words or as an object, and the keys of a brief's [[rule]]."""
        return self._more("rule", {"when": _text(when), **keys})

    def first_rule(self, when: str | Condition, **keys: Any) -> Self:  # noqa: ANN401 - as above
        """The same, but the rule comes before all others, so that it decides."""
        plain = self.spec.plain()
        return self.saying(
            make_brief({**plain, "rule": [{"when": _text(when), **keys}, *plain.get("rule", [])]})
        )

    def measure(self, **measures: str | Quantity) -> Self:
        """Add measures by name: surplus="total of surplus"."""
        self.needs_rows("measures")
        return self._merged("measures", {name: _text(text) for name, text in measures.items()})

    def given(self, **parameters: float | str | date) -> Self:
        """Set parameters: n=5, pier="Kelpwick".

        Raises YuzenError (call-set) for one that nothing in the brief speaks of.
        """
        self.needs_rows("a parameter of rows or measures", *parameters)
        own = {name.casefold(): name for name in self.spec.parameters}
        spoken = self.spoken
        for name in parameters:
            if name.casefold() not in spoken:
                known = f" It has {', '.join(own.values())}." if own else ""
                hint = suggestion(name, spoken.values()) or known
                message = f"The brief has no parameter '{name[:60]}', and nothing speaks of it yet.{hint}"
                raise wrong("call-set", message)
        called = {own.get(name.casefold(), name): value for name, value in parameters.items()}
        return self._merged("parameters", called)

    @property
    def spoken(self) -> dict[str, str]:
        """The parameters and every other name that the brief speaks of, by their small letters."""
        return {name.casefold(): name for name in (*spoken_names(self.spec), *self.spec.parameters)}

    def reference(self, at: str | float | Quantity | Measure | None = None, **keys: Any) -> Self:  # noqa: ANN401
        """Add a line at a quantity, or what the keys of a brief's [[reference]] say."""
        return self._more("reference", keys if at is None else {"at": _text(at), **keys})

    def label(self, text: str, **keys: Any) -> Self:  # noqa: ANN401
        """Add a piece to the marks' numbers, with the keys of a brief's [[label]]."""
        return self._more("label", {"text": text, **keys})

    def layer(self, name: str, **keys: Any) -> Self:  # noqa: ANN401
        """Add a further measure to the chart, with the keys of a brief's [[layer]]."""
        return self._more("layer", {"name": name, **keys})

    def column(self, value: str, **keys: Any) -> Self:  # noqa: ANN401
        """Add a column to a table: a measure, with the keys of a brief's [[column]]."""
        return self._more("column", {"value": value, **keys})

    def note(self, text: str, **keys: Any) -> Self:  # noqa: ANN401
        """Add a text beside a mark: at="2026-03", or when="highest"."""
        return self._more("note", {"text": text, **keys})

    def keep(self, condition: str | Condition) -> Self:
        """Keep only the rows for which a condition holds."""
        self.needs_rows("a condition on rows (keep)")
        return self._merged("data", {"keep": _text(condition)})

    def also_keep(self, condition: str | Condition) -> Self:
        """Keep, of the rows that are kept already, only those for which a condition holds too."""
        held = self.spec.data.keep
        if held is None:
            return self.keep(condition)
        further = _text(condition)
        return self.keep(held.tree & parse(further) if isinstance(further, str) else condition)

    def themed(self, theme: str) -> Self:
        """The same in another theme: a built-in one by its name, or a file's path."""
        return self.saying(make_brief({**self.spec.plain(), "theme": theme}))

    def panelled(self, column: str) -> Self:
        """The same in one small chart for each value of a column."""
        self.needs_rows("panels")
        return self._merged("chart", {"panels": column})

    def brief(self) -> str:
        """The chart as the TOML of a brief."""
        return write_brief(self.spec)

    def _more(self, section: str, entry: Mapping[str, Any]) -> Self:
        return self.saying(with_entry(self.spec, section, entry))

    def _merged(self, section: str, entries: Mapping[str, Any]) -> Self:
        plain = self.spec.plain()
        return self.saying(make_brief({**plain, section: {**plain.get(section, {}), **entries}}))


def _text(said: object) -> object:
    """What an object of the language says, as its text; anything else as it is, which is then refused."""
    if isinstance(said, BaseCondition | Measure | Quantity):
        return str(said)
    return said


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


def placed(fault: Fault, spec: Brief, written: Written | None) -> Fault:
    """A fault with the file and the line of the brief that was loaded; as it is without one."""
    if written is None or not fault.key:
        return fault
    rule = fault.key[0] == "rules"  # by its place among all rules, of which bands make several
    if rule:
        key = (*spec.key_of(int(fault.key[1])), *fault.key[2:])
    else:
        key = fault.key
    return written.placed(replace(fault, key=key))
