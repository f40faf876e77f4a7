"""A start: what is in rows, and a first chart of them with its brief."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field, replace
from functools import cache
from html import escape
from pathlib import Path
from typing import Any, Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.brief.data_source import path_from, shareable
from yuzen.brief.keys.key_help import KeyHelp, keys_of
from yuzen.brief.sections.chart import ChartSection
from yuzen.brief.toml.document import brief_schema, make_brief, parse_brief
from yuzen.brief.toml.source import BriefSource
from yuzen.charts.chart import Chart
from yuzen.errors import make_error, require_type
from yuzen.files.whole import made_folder, write_whole
from yuzen.paths import path_of
from yuzen.rules.truth import TRUE
from yuzen.secrets import holds_secret
from yuzen.sources.inputs import RowsLike, lasting, source_of
from yuzen.sources.prepared import Prepared, Wide
from yuzen.sources.rows import Source
from yuzen.stages.stages import Stages
from yuzen.starts.choice import Choice, Reason, Wish, chosen
from yuzen.starts.first_brief import brief_values, commented, other_values, value_format
from yuzen.starts.first_rules import (
    MOST_RULES,
    FirstRule,
    beyond,
    candidates,
    ends,
    few_that_make_up_most,
    telling,
    with_distinct_colors,
)
from yuzen.starts.profile import Profile
from yuzen.starts.read_rows import profile_of
from yuzen.value import Value

MOST_TRIES: Final = 6  # of what check finds in a first brief


class Start(Value, eq=False):
    """What is in rows, and a first chart of them.

    profile: what each column holds, and what is untidy.
    chart:   the first chart.
    reasons: pairs of a key of the brief and why it is so.

    >>> made = start({"route": ["Ottery", "Kelpwick", "Larkholm"], "surplus": [900, -300, 120]})
    >>> print(made.brief().splitlines()[-1])
    color = "notice"
    """

    profile: Profile
    chart: Chart
    reasons: tuple[Reason, ...]
    _values: Mapping[str, Any] = field(repr=False)
    _others: Mapping[str, str] = field(repr=False)

    def brief(self, folder: str | Path = ".") -> str:
        """The first brief as text, each key under a line that explains it.

        folder: where the brief is to be; the file of the rows is named from there.
        """
        values = dict(self._values)
        file = values.get("data", {}).get("file")
        if file is not None:
            near = path_from(path_of(folder).absolute(), Path(file).absolute())
            values["data"] = {**values["data"], "file": near}
        return commented(values, _keys(), self._others)

    def write(self, path: str | Path) -> Path:
        """Write the first brief into a .toml file that is not there yet; returns its path.

        Raises YuzenError (call-exists), as a brief that somebody has written is never replaced.
        """
        target = path_of(path)
        if target.exists():
            message = f"{target} is there already, and a brief is never replaced."
            raise make_error("call-exists", f"{message} Name another file, or remove that one.")
        made_folder(target.parent)
        write_whole(target, self.brief(target.parent).encode())
        return target

    def bare(self) -> Chart:
        """The first chart without its rules and its title, for rules of one's own."""
        rules = {"rule", "title", "parameters"}
        values = {key: of for key, of in self._values.items() if key not in rules}
        return replace(self.chart, stages=self.chart.stages.with_brief(make_brief(values)))

    def save(self, path: str | Path) -> Path:
        """Save the first chart: .png, .svg, .pdf, ... ; returns its path."""
        return self.chart.save(path)

    def __str__(self) -> str:
        """What is in the rows, and why the chart is as it is."""
        from yuzen.starts.profile_text import profile_text, reasons_text  # noqa: PLC0415 - for people only

        return f"{profile_text(self.profile)}\n\n{reasons_text(self.reasons)}"

    def _repr_html_(self) -> str:
        """In a notebook: the text and the chart."""
        picture = self.chart.image("svg").decode()
        return f"<pre>{escape(str(self))}</pre>{picture}"


def start(
    rows: RowsLike,
    *,
    category: str | None = None,
    value: str | None = None,
    kind: str | None = None,
    table: str | None = None,
) -> Start:
    """What is in rows, and a first chart of them, with rules that say something about the rows.

    rows: what yz.chart takes, or the URL of a database with its `table`.
    category, value, kind: what is already decided.
    Raises YuzenError (data-…) where there are no rows, (call-…) for what the rows do not have.

    >>> rows = {"route": ["Ottery", "Kelpwick", "Larkholm"], "surplus": [900, -300, 120]}
    >>> made = start(rows)
    >>> made.chart
    <Chart bar: surplus by route, rules: 2>
    >>> made.reasons[0]
    ('value', 'the first column of numbers that add up')
    """
    for name in (category, value, kind, table):
        require_type(name, str | None, "Name columns, kinds and tables by texts.")
    source, data = _place(rows, table)
    given = rows if data else source
    profile = profile_of(source)
    if profile.beside is not None:
        source, profile, data = _lengthened(source, profile, data)
    choice = chosen(profile, Wish(category, value, kind))
    return _First(profile, choice, source, given, data).made()


def _place(rows: RowsLike, table: str | None) -> tuple[Source, dict[str, Any]]:
    """The source of rows, and what [data] says of it: nothing of rows in memory."""
    if isinstance(rows, str) and "://" in rows:
        from yuzen.sources.sql.database import Database  # noqa: PLC0415 - few rows are in one
        from yuzen.starts.tables import only_table  # noqa: PLC0415 - as above

        table = table or only_table(rows)
        # A brief goes wherever its picture goes, so a URL with a password stays out of it.
        place = {} if holds_secret(rows) else {"url": rows, "table": table}
        return Database(rows, table), place
    if table is not None and hasattr(rows, "engine"):
        from yuzen.sources.sql.database import Database  # noqa: PLC0415 - as above

        return Database(rows, table), {}  # type: ignore[arg-type]  # an engine or a connection
    if table is not None:
        message = (
            "A table is that of a database, by its URL or its engine, and these rows are in none."
        )
        raise make_error("call-table", f"{message} Leave the table out.")
    if isinstance(rows, str | Path):
        # Kept, as the rows are read several times until the chart is as it shall be.
        return shareable(source_of(path_of(rows)))[0], {"file": str(rows)}
    return source_of(lasting(rows)), {}


def _lengthened(
    source: Source, profile: Profile, data: dict[str, Any]
) -> tuple[Source, Profile, dict[str, Any]]:
    """Rows whose columns side by side are one column, with what is in them."""
    beside = profile.beside
    assert beside is not None  # noqa: S101 - who calls has asked
    columns = f"{beside.first} to {beside.last}"
    longer = Prepared(source, Wide(columns, beside.names, beside.numbers))
    wide = {"columns": columns, "name": beside.names, "value": beside.numbers}
    of_rows = profile_of(longer)
    whole = replace(of_rows, called=profile.called, beside=beside, remarks=profile.remarks)
    return longer, whole, {**data, "wide": wide}


@cache
def _keys() -> Mapping[str, KeyHelp]:
    """What each key of a brief does."""
    return keys_of(brief_schema())


class _First(Value, eq=False):
    """The making of a first chart: rules are tried on its marks, and check has the last word.

    given: the rows as the chart keeps them: a path or a URL, so that it can be written as a brief.
    """

    profile: Profile
    choice: Choice
    source: Source
    given: Any
    data: Mapping[str, Any]

    def made(self) -> Start:
        """The start."""
        rules, form = self._rules()
        besides: dict[str, Any] = {}
        # Each try mends one thing that check finds; what is in the data stays.
        for _ in range(MOST_TRIES):
            findings = self._tried_chart(self._values(rules, form, besides)).check()
            codes = {finding.code for finding in findings}
            faulty = {int(f.key[1]) for f in findings if len(f.key) > 1 and f.key[0] == "rule"}
            if "partial-period" in codes and "partial" not in besides:
                besides["partial"] = "leave out"
            elif "left-out" in codes and "label" not in besides:
                besides["label"] = [{"text": ""}]
            elif faulty:
                rules = [rule for place, rule in enumerate(rules) if place not in faulty]
            else:
                break
        # Once more, as the last try may have mended something too.
        values = self._values(rules, form, besides)
        others = other_values(self.profile, self.choice)
        told = tuple((f'rule "{rule.name}"', rule.why) for rule in rules)
        written = self._written_chart(commented(values, _keys(), others))
        return Start(self.profile, written, (*self.choice.reasons, *told), values, others)

    def _values(
        self, rules: list[FirstRule], form: str, besides: Mapping[str, Any]
    ) -> dict[str, Any]:
        """The brief's plain values, with what check has asked for besides."""
        values = brief_values(self.profile, self.choice, rules, self.data, form)
        of_chart = {key: of for key, of in besides.items() if key in ChartSection.model_fields}
        values["chart"] |= of_chart
        return {**values, **{key: of for key, of in besides.items() if key not in of_chart}}

    def _written_chart(self, text: str) -> Chart:
        """The chart of the first brief's text."""
        written = BriefSource("the first brief", text)
        return Chart(Stages(parse_brief(written), self.given, brief_source=written))

    def _tried_chart(self, values: Mapping[str, Any]) -> Chart:
        """The chart of plain values on the rows that are open already."""
        data = {key: of for key, of in values.get("data", {}).items() if key != "file"}
        # [data] makes columns side by side one column, so that the rows are as they come.
        rows = self.source.source if isinstance(self.source, Prepared) else self.source
        return Chart(Stages(make_brief({**values, "data": data}), rows))

    def _rules(self) -> tuple[list[FirstRule], str]:
        """The rules that say something about the marks, and the format of their numbers."""
        # All candidates are judged at once: the rows are shaped once for all of them.
        tried = [*candidates(self.profile, self.choice)]
        judged = self._tried_chart(self._values(tried, "", {})).stages.judged
        items = np.flatnonzero(~judged.marks.totals)
        values: Floats = judged.context.values[items]
        form = value_format(self.choice, values)
        if self.choice.bins is not None:
            edges = np.asarray(judged.marks.columns[judged.marks.category], dtype=float)[items]
            return [beyond(self.profile, self.choice.category, edges, values)], form
        flagged = [
            frozenset(np.flatnonzero(truths[items] == TRUE).tolist())
            for truths in judged.verdict.whole.truths
        ]
        few = few_that_make_up_most(values, self.choice, self.profile)
        if few is not None:
            order = np.argsort(-np.nan_to_num(values, nan=-np.inf), kind="stable")
            tried.append(few)
            flagged.append(frozenset(order[: int(*few.parameters.values())].tolist()))
        rules = telling(tried, flagged, len(items))
        if len(rules) < 2:
            rules = [*rules, *ends(self.choice, len(items))][:MOST_RULES]
        return with_distinct_colors(rules), form
