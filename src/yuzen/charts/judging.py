"""Verdicts without a picture: of rows, and of bare values whose colours another program draws."""

from __future__ import annotations

import warnings
from collections.abc import Collection, Iterable
from pathlib import Path
from typing import Any, Literal, overload

import numpy as np
import pandas as pd
from numpy.typing import ArrayLike, NDArray

from yuzen.arrays import Floats
from yuzen.brief.design import Design
from yuzen.brief.judge_rules import judge_rules
from yuzen.brief.model import Brief
from yuzen.brief.row_plan import plan_of
from yuzen.brief.sections.rule import RuleSection
from yuzen.brief.toml.document import make_brief, write_brief
from yuzen.charts.verdicts import Verdicts
from yuzen.color.gradient import hex_words
from yuzen.color.named import hex_of, inks_on, rgb_of
from yuzen.color.themes import TEXT_CONTRAST, theme_of
from yuzen.compose.judged_chart import JudgedChart
from yuzen.errors import external_call, make_error, require_type, type_name
from yuzen.files.records.record import Record
from yuzen.formats.name_lists import listed
from yuzen.rules.judge import rule_title
from yuzen.rules.marks import Marks
from yuzen.rules.target import MARK
from yuzen.shape.given import given_rows
from yuzen.shape.plan.plan import Plan
from yuzen.sources.inputs import RowsLike, frame_of, lasting
from yuzen.stages.stages import Stages


def judge(
    rows: RowsLike,
    *ordered: RuleSection,
    category: str | int,
    value: str | int,
    theme: str | None = None,
    rules: Iterable[RuleSection] = (),
) -> Verdicts:
    """The verdict of rules on rows, without a picture: as flags, as reasons and as arrays.

    rows:     whatever a chart takes; they are grouped by the category, as for a chart.
    category: the column that names the marks.  value: their measure, the total of a column.
    ordered:  rules in the order that decides; of each target and effect the first that holds wins.
    rules:    their former keyword.
    Raises YuzenError for rules that cannot be judged on these rows, with every fault.

    >>> rows = {"route": ["Brinewick", "Kelpwick", "Brinewick"], "passengers": [700, 300, 200]}
    >>> import yuzen as yz
    >>> told = judge(rows, yz.rule("highest", color="adverse"), category="route",
    ...     value="passengers")
    >>> told.names, told.numbers.tolist(), told.winners().tolist()
    (['Brinewick', 'Kelpwick'], [900.0, 300.0], [0, -1])
    """
    settings = {"category": category, "value": value, "order": "as given"}
    require_type(rules, Iterable, "Give the rules one after the other: yz.judge(rows, rule, ...).")
    if rules:
        message = "yz.judge takes rules one after the other, and rules= no longer."
        warnings.warn(message, DeprecationWarning, stacklevel=2)
    rules = (*ordered, *rules)
    return Verdicts(Stages(spec_of(settings, rules, theme), lasting(rows)).judged)


@overload
def colors(
    values: ArrayLike,
    *rules: RuleSection,
    data: RowsLike | None = None,
    names: str | ArrayLike | None = None,
    within: str | ArrayLike | None = None,
    theme: str | None = None,
    as_rgba: Literal[False] = False,
) -> NDArray[np.str_]: ...


@overload
def colors(
    values: ArrayLike,
    *rules: RuleSection,
    data: RowsLike | None = None,
    names: str | ArrayLike | None = None,
    within: str | ArrayLike | None = None,
    theme: str | None = None,
    as_rgba: Literal[True],
) -> Floats: ...


def colors(
    values: ArrayLike,
    *rules: RuleSection,
    data: RowsLike | None = None,
    names: str | ArrayLike | None = None,
    within: str | ArrayLike | None = None,
    theme: str | None = None,
    as_rgba: bool = False,
) -> NDArray[np.str_] | Floats:
    """The colour that rules give each value, for any drawing program; quiet where none holds.

    values:  numbers, shape (n,); each is a mark, in the order in which sequences and positions go,
             unless the names are dates or numbers, which sequences follow.
    data:    further columns that rules speak of, n rows in the same order; where both are of
             pandas, the row of a value is that of its index.
    names:   what the marks are called, shape (n,), or the column of the data that says so.
    within:  peers of one another only are marks that share this, shape (n,), or this column of the
             data.
    theme:   a built-in theme or a file; `linen` if it is left out.
    Rules act on the mark; of what they change only colours are given, and opacity as part of
    `as_rgba`.
    as_rgba: red, green, blue and opacity from 0 to 1 instead of words.
    Returns '#RRGGBB', shape (n,), or floats of shape (n, 4).
    Raises YuzenError for rules that cannot be judged, and for columns of other lengths.

    >>> import yuzen as yz
    >>> colors([-3, 8, 2], yz.rule("negative", color="adverse"), yz.rule("top 1",
    ...     color="favorable")).tolist()
    ['#C63E2F', '#0A4A80', '#C9CCD0']
    >>> colors([-3, 8], yz.rule("negative", color="adverse", opacity=0.5),
    ...     as_rgba=True).round(2).tolist()
    [[0.78, 0.24, 0.18, 0.5], [0.79, 0.8, 0.82, 1.0]]
    """
    frame, settings = _given(values, data, names, within)
    spec = spec_of({"category": settings["category"], "value": settings["value"]}, rules, theme)
    _refuse_colorless(spec, {"color", "opacity"} if as_rgba else {"color"})
    among = tuple(settings[key] for key in settings if key == "within")
    verdict = judged_marks(spec, given_rows(frame, given_plan(spec), among)).verdict
    if not as_rgba:
        return verdict.hex_words(MARK)
    return verdict.rgba(MARK)


def ink(fills: ArrayLike, *, theme: str | None = None) -> NDArray[np.str_]:
    """Text colours that can be read on fills: the theme's ink or paper, else black or white.

    fills: '#RRGGBB' or a CSS name, shape (n,), or red, green and blue from 0 to 1, shape (n, 3) or
    (n, 4). Returns '#RRGGBB', shape (n,), each with a contrast of 4.5 at the least (WCAG 2.2,
    criterion
    1.4.3). Raises YuzenError (call-colors) for what are no colours.

    >>> ink(["#0A4A80", "#C9CCD0"]).tolist()
    ['#FFFFFF', '#22272C']
    """
    require_type(theme, str | None, "Give the name of a theme, or a file that ends in .toml.")
    roles = theme_of(theme or "linen", Path())
    fill_array = np.atleast_1d(np.asarray(fills))
    if not fill_array.size:
        return np.array([], dtype="<U7")
    if fill_array.ndim == 1 and fill_array.dtype.kind in "UOT":
        distinct, where = np.unique(fill_array.astype(str), return_inverse=True)
        ground = np.array([rgb_of(hex_of(color, roles.named)) for color in distinct.tolist()])[
            where
        ]
    elif fill_array.ndim == 2 and fill_array.shape[1] in {3, 4} and fill_array.dtype.kind in "fiu":
        ground = fill_array[:, :3].astype(float)
    else:
        message = (
            f"{type_name(fills)} of shape {fill_array.shape} are no fills. "
            "Give words such as '#0A4A80', or"
        )
        raise make_error("call-colors", f"{message} red, green and blue from 0 to 1, shape (n, 3).")
    if not bool(((ground >= 0) & (ground <= 1)).all()):
        message = (
            "Red, green and blue go from 0 to 1, and some of these do not. Divide bytes by 255."
        )
        raise make_error("call-colors", message)
    return hex_words(inks_on(ground, roles.color("ink"), roles.color("paper"), TEXT_CONTRAST))


def spec_of(
    chart: dict[str, Any],
    rules: Iterable[object],
    theme: str | None,
    **sections: Any,  # noqa: ANN401 - of any form
) -> Brief:
    """The brief of a chart's keys and rules. Raises YuzenError (call-rules) for what is no rule."""
    plain = [entry_of(rule) for rule in rules]
    named = {} if theme is None else {"theme": theme}
    return make_brief({"chart": chart, "rule": plain, **named, **sections})


def entry_of(rule: object) -> dict[str, Any]:
    """A rule as a brief has it. Raises YuzenError (call-rules) for what is none."""
    if isinstance(rule, RuleSection):
        return rule.plain()
    message = f"{type_name(rule)} is no rule. Make one of a condition and what it changes:"
    raise make_error("call-rules", f'{message} yz.rule("top 3", color="favorable").')


def judged_marks(spec: Brief, marks: Marks) -> JudgedChart:
    """Marks that are there already, as a picture's are, judged by a brief."""
    # A record is how charts take marks without rows; nothing else has to know of this case.
    record = Record(write_brief(spec), marks, theme_of(spec.theme, Path()), "")
    return Stages(spec, record).judged


def given_plan(spec: Brief) -> Plan:
    """The plan of a brief whose marks are given one by one."""
    design = Design(spec)
    return plan_of(design, judge_rules(design))


def free_name(wanted: str, taken: Collection[str]) -> str:
    """A name that no column has yet."""
    folded = {name.casefold() for name in taken}
    while wanted.casefold() in folded:
        wanted += "_"
    return wanted


def _given(
    values: ArrayLike,
    data: RowsLike | None,
    names: str | ArrayLike | None,
    within: str | ArrayLike | None,
) -> tuple[pd.DataFrame, dict[str, str]]:
    """A table of values and all that is known of them, and which of its columns are what."""
    value_column, data = _column(values, "values"), _in_order(data, values)
    columns: dict[str, pd.Series] = {}
    if data is not None:
        frame = frame_of(data)
        columns = {str(name): column for name, column in frame.items()}
        _refuse_uneven("data", len(frame), len(value_column))
    settings = {
        "value": value_column.name
        if isinstance(value_column.name, str) and value_column.name
        else free_name("value", columns)
    }
    columns[settings["value"]] = value_column
    for key, given, plain in (("category", names, "name"), ("within", within, "within")):
        if isinstance(given, str):
            if given not in columns:
                message = f"There is no column '{given[:60]}' in data for {key}."
                raise make_error("data-column", message)
            settings[key] = given
        elif given is not None:
            settings[key] = free_name(plain, columns)
            columns[settings[key]] = _column(given, plain)
            _refuse_uneven(plain, len(columns[settings[key]]), len(value_column))
    if "category" not in settings:
        settings["category"] = free_name("place", columns)
        columns[settings["category"]] = pd.Series(np.arange(1.0, len(value_column) + 1))
    return pd.DataFrame(columns, copy=False), settings


def _refuse_colorless(spec: Brief, wanted: set[str]) -> None:
    """Raise YuzenError (call-rules) for rules that set no colour, or nothing else wanted."""
    for place, rule in enumerate((r.section for r in Design(spec).rules), start=1):
        if rule.on == "mark" and not wanted.isdisjoint(rule.decides):
            continue
        effects = ", ".join(rule.effects) or "nothing"
        message = (
            f"colors gives {listed(sorted(wanted))} of marks, and this rule changes {effects} on "
            f"{rule.on}."
        )
        raise make_error("call-rules", message, where=rule_title(place, rule.called))


def _in_order(data: RowsLike | None, values: ArrayLike) -> RowsLike | None:
    """The rows in the order of the values, where pandas tells of both which row is which.

    Raises YuzenError (call-colors) where they are of other rows.
    """
    if not isinstance(data, pd.DataFrame) or not isinstance(values, pd.Series):
        return data
    if values.index.equals(data.index):
        return data
    if data.index.is_unique and values.index.is_unique and values.index.isin(data.index).all():
        return data.loc[values.index]
    message = (
        "The values have another index than data, so they are of other rows. Take them from it,"
    )
    raise make_error(
        "call-colors", f"{message} or give values.to_numpy() if the rows are in the same order."
    )


def _refuse_uneven(what: str, count: int, wanted: int) -> None:
    """Raise YuzenError (call-colors) where something is not of the values one by one."""
    if count != wanted:
        message = f"There are {wanted:,} values, and {count:,} of {what}; each value has one."
        raise make_error("call-colors", message)


def _column(given: ArrayLike, what: str) -> pd.Series:
    """Somebody's list, array or column as a column of pandas, its rows counted anew."""
    with external_call("call-colors", f"{type_name(given)} makes no column of {what}: {{reason}}."):
        if hasattr(given, "to_pandas"):
            given = given.to_pandas()
        series = pd.Series(given, copy=False)
    if (
        isinstance(series.index, pd.RangeIndex)
        and series.index.start == 0
        and series.index.step == 1
    ):
        return series
    return series.reset_index(drop=True)
