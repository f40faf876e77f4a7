"""Numbers of double precision, and numbers that are missing, in the words of each database."""

from decimal import Context, Decimal
from typing import Any, Final

import sqlalchemy as sql
from sqlalchemy.ext.compiler import compiles
from sqlalchemy.sql.expression import ColumnElement
from sqlalchemy.sql.functions import FunctionElement

from yuzen.sources.sql.duckdb_nan import without_nan
from yuzen.sources.sql.exact_total import NAME as EXACT_TOTAL

LARGEST_SLICED: Final = (
    4_000_000_000_000  # times 2 to the 20th it still is a whole number of 64 bits
)


class AsDouble(ColumnElement[float]):
    """A column as numbers of double precision."""

    inherit_cache = True
    type = sql.Double()
    _traverse_internals = [("of", sql.sql.visitors.InternalTraversal.dp_clauseelement)]  # noqa: RUF012

    def __init__(self, of: ColumnElement[Any]) -> None:
        self.of = of


@compiles(AsDouble)
def _cast(element: AsDouble, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - of a dialect
    return str(compiler.process(sql.cast(element.of, sql.Double), **options))


@compiles(AsDouble, "mysql", "mariadb")
def _added(element: AsDouble, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - as above
    """MySQL casts to no such number in all its releases; what is added to one is one."""
    return f"({compiler.process(element.of, **options)} + 0e0)"


class WithoutNaN(FunctionElement[Any]):
    """A column of numbers in which NaN is missing: some databases hold it for above all others."""

    inherit_cache = True

    def __init__(self, of: ColumnElement[Any]) -> None:
        super().__init__(of)
        self.type = of.type


@compiles(WithoutNaN)
def _as_it_is(element: WithoutNaN, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - as above
    """Most databases hold no NaN."""
    return str(compiler.process(*element.clauses, **options))


@compiles(WithoutNaN, "postgresql")
def _known(element: WithoutNaN, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - as above
    [of] = element.clauses
    column = compiler.process(of, **options)
    as_double = compiler.process(AsDouble(of), **options)
    return f"CASE WHEN {as_double} = 'NaN'::DOUBLE PRECISION THEN NULL ELSE {column} END"


@compiles(WithoutNaN, "duckdb")
def _in_duckdb(element: WithoutNaN, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - as above
    [of] = element.clauses
    column = compiler.process(of, **options)
    return without_nan(column, compiler.process(AsDouble(of), **options))


class TotalOf(FunctionElement[Any]):
    """The sum of numbers of double precision."""

    inherit_cache = True

    def __init__(self, of: ColumnElement[Any]) -> None:
        super().__init__(of)
        self.type = of.type


@compiles(TotalOf)
def _sum(element: TotalOf, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - of a dialect
    return f"sum({compiler.process(*element.clauses, **options)})"


@compiles(TotalOf, "duckdb")
def _compensated(element: TotalOf, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - as above
    """DuckDB's processors add parts in turn, and each run would end in another last digit."""
    return f"fsum({compiler.process(*element.clauses, **options)})"


class MeasuredTotal(TotalOf):
    """The sum of numbers with many decimals: the same in any order of rows, where it can be."""

    inherit_cache = True


@compiles(MeasuredTotal, "sqlite")
def _exact(element: MeasuredTotal, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - as above
    """SQLite takes a function of ours."""
    return f"{EXACT_TOTAL}({compiler.process(*element.clauses, **options)})"


@compiles(MeasuredTotal, "postgresql")
def _sliced(element: MeasuredTotal, compiler: Any, **options: Any) -> str:  # noqa: ANN401 - as above
    """PostgreSQL adds whole numbers exactly, so each number is cut into three of 32 bits and more.

    Numbers that are too large for that are added as they are.
    """
    [of] = element.clauses

    def number() -> str:
        return str(compiler.process(of, **options))

    def small() -> str:
        return f"CASE WHEN abs({number()}) < {LARGEST_SLICED} THEN {number()} END * {2**20}"

    def rest(depth: int) -> str:
        if depth == 0:
            return small()
        return f"(({rest(depth - 1)}) - floor({rest(depth - 1)})) * {2**32}"

    slices = [
        f"sum(floor({rest(depth)})::bigint) * {_power(-(20 + 32 * depth)):f}::numeric"
        for depth in range(3)
    ]
    return (
        f"CASE WHEN max(abs({number()})) < {LARGEST_SLICED} THEN ({' + '.join(slices)})"
        f"::double precision ELSE sum({number()}) END"
    )


def _power(exponent: int) -> Decimal:
    """A power of two with all its digits."""
    return Context(prec=200).power(Decimal(2), exponent)
