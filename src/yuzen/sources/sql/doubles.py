"""A number of whatever type as one of double precision, in the words of each database."""

from typing import Any

import sqlalchemy as sql
from sqlalchemy.ext.compiler import compiles
from sqlalchemy.sql.expression import ColumnElement


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
