"""What marks are made of: rows and their types, and what was found out of them on the way."""

from collections.abc import Iterator, Mapping

import numpy as np

from yuzen.arrays import Codes
from yuzen.formats.name_lists import listed
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.lineage import PARTS_UNLIKE, Origin, Remark
from yuzen.rules.marks import Marks
from yuzen.rules.names import in_quantities
from yuzen.rules.quantities.numbers import Arithmetic, Quantity
from yuzen.rules.quantities.structure import counts_behind, inside, stays_whole
from yuzen.shape.coverage import partial_periods, remarks_on
from yuzen.shape.grouping.groups import Groups
from yuzen.shape.grouping.measures import Grouped, has_gaps
from yuzen.shape.listing import dated_name, strangers_listed
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import Cells, RowColumn
from yuzen.sources.columns import Columns, digits_lost, types_of
from yuzen.sources.rows import Rows
from yuzen.sources.wanted import by_fold


def origin_of(
    rows: Rows,
    plan: Plan,
    asked: list[tuple[Grouped, Codes | slice]],
    columns: Columns,
    facts: EvaluationData,
    marks: Marks,
) -> Origin:
    """What the marks are made of, and what was found out on the way."""
    row_counts = np.concatenate(
        [groups.counts(rows.weights)[rows_of_groups] for groups, rows_of_groups in asked]
    )
    value_counts = dict(_value_counts(plan, asked, facts, row_counts))
    whole = rows.whole or frozenset()
    shown_as_they_are = {
        *plan.plain_columns,
        *plan.attributes(list(columns)),
    } - plan.formulas.texts.keys()
    if plan.bins is not None:
        shown_as_they_are -= {plan.category}
    types = types_of(rows.columns, sorted(shown_as_they_are), whole)
    types |= dict.fromkeys(plan.periods.hours & shown_as_they_are, "whole")
    for name, formula in plan.formulas.texts.items():
        if stays_whole(parse_quantity(formula), {column.casefold() for column in whole}):
            types[name] = "whole"
    remarks = [*rows.remarks, *map(_merged, columns.merged, columns.merged.values())]
    remarks += unlike_parts(plan, asked, marks, row_counts)
    partial = partial_periods(columns[dated_name(columns, plan)], plan.grain)
    remarks += [*long_values(rows.columns, plan), *remarks_on(partial, plan.grain)]
    if plan.listing.order is not None and plan.listing.order.names:
        names = Groups.of(columns[plan.category]).names
        remarks += strangers_listed(names, plan.listing.order.names, plan.category)
    return Origin(
        row_counts,
        value_counts,
        types,
        tuple(remarks),
        plan.formulas.texts,
        plan.periods.ends(rows.columns),
        {period.start: f"{period.name} {period.covered}" for period in partial},
    )


def long_values(given: Mapping[str, RowColumn], plan: Plan) -> list[Remark]:
    """A remark on each column of measured whole numbers of which some lose digits as floats."""
    measured = by_fold(in_quantities(plan.measures.values()).numbers)
    return [
        remark
        for name, column in given.items()
        if name.casefold() in measured and isinstance(column, Cells)
        for remark in digits_lost(name, column.distinct)
    ]


def _value_counts(
    plan: Plan,
    asked: list[tuple[Grouped, Codes | slice]],
    facts: EvaluationData,
    row_counts: Codes,
) -> Iterator[tuple[str, Codes]]:
    """Measures that some rows have no number for, and how many rows of each mark have one."""
    for name, counts in plan.formulas.counted.items():
        wanted = [count for count in counts if has_gaps(count, facts)]
        numbers = [
            np.concatenate(
                [groups.values(count)[rows_of_groups] for groups, rows_of_groups in asked]
            )
            for count in wanted
        ]
        if not numbers:
            continue
        fewest = np.nan_to_num(np.minimum.reduce(numbers))
        # Where every row has a number there is nothing to tell.
        if not np.array_equal(fewest, row_counts):
            yield name, fewest.astype(np.intp)


def unlike_parts(
    plan: Plan,
    asked: list[tuple[Grouped, Codes | slice]],
    marks: Marks,
    row_counts: Codes,
) -> Iterator[Remark]:
    """A remark on each measure whose parts lack numbers in unlike rows: a ratio of other rows."""
    for measure, counts in plan.formulas.counted.items():
        if len(counts) < 2 or measure not in plan.formulas.texts:
            continue
        formula = parse_quantity(plan.formulas.texts[measure])
        if not _is_ratio(formula):
            continue
        numbers = np.nan_to_num(
            [
                np.concatenate([groups.values(count)[rows] for groups, rows in asked])
                for count in counts
            ]
        ).astype(int)
        unlike = np.flatnonzero((numbers != numbers[0]).any(axis=0))
        if not len(unlike):
            continue
        mark = int(unlike[0])
        parts = [
            f"{behind.of} of {count:,} of {row_counts[mark]:,} rows"
            # Where a database has counted, the formula still says what it counted.
            for behind, count in zip(counts_behind(formula), numbers[:, mark].tolist(), strict=True)
        ]
        more = f", and so are {len(unlike) - 1:,} more" if len(unlike) > 1 else ""
        yield Remark(
            PARTS_UNLIKE,
            f"{measure} of {marks.names()[mark]} is made of unlike rows: {listed(parts)}{more}.",
            "Keep the rows that have both numbers, or fill the gaps.",
        )


def _is_ratio(measure: Quantity) -> bool:
    return any(isinstance(part, Arithmetic) and part.sign == "/" for part in inside(measure))


def _merged(column: str, spellings: tuple[str, str]) -> Remark:
    first, second = spellings
    message = (
        f'{column} has "{first}" and "{second}", which differ in blanks only and are one name.'
    )
    return Remark(
        "names-merged", message, "If they are two, give one of them another name in the rows."
    )
