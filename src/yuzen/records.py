"""The record inside a picture: its brief, its marks and what was judged, as JSON."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any

import numpy as np

from yuzen.errors import wrong
from yuzen.rules.arrays import Text, kind_of
from yuzen.rules.marks import Marks

if TYPE_CHECKING:
    from yuzen.rules.arrays import Column

VERSION = 1


def record_of(brief: str, marks: Marks) -> str:
    """The record of a chart as JSON text."""
    columns = {name: _packed(column) for name, column in marks.columns.items()}
    return json.dumps(
        {
            "yuzen": VERSION,
            "brief": brief,
            "category": marks.category,
            "value": marks.value,
            "series": list(marks.series),
            "order": None if marks.order is None else marks.order.tolist(),
            "standing": None if marks.standing is None else marks.standing.tolist(),
            "grain": marks.grain,
            "formulas": dict(marks.formulas),
            "behind": None if marks.behind is None else marks.behind.tolist(),
            "columns": columns,
        }
    )


def from_record(text: str) -> tuple[str, Marks]:
    """The brief's text and the marks of a record. Raises YuzenError (data-picture)."""
    try:
        found = json.loads(text)
        columns = {str(name): _unpacked(packed) for name, packed in found["columns"].items()}
        marks = Marks(
            columns,
            found["category"],
            found["value"],
            series=tuple(found["series"]),
            order=None if found["order"] is None else np.array(found["order"], dtype=np.intp),
            standing=None if found["standing"] is None else np.array(found["standing"], dtype=np.int8),
            grain=found["grain"],
            formulas=dict(found["formulas"]),
            behind=None if found["behind"] is None else np.array(found["behind"], dtype=np.intp),
        )
        if {len(column) for column in columns.values()} != {len(marks)}:
            raise ValueError("columns of several lengths")  # noqa: TRY301 - told as damage below
        return str(found["brief"]), marks
    except (KeyError, TypeError, ValueError, IndexError, AttributeError, RecursionError):
        raise wrong("data-picture", "The record in this picture is damaged.") from None


def _packed(column: Column) -> dict[str, Any]:
    if isinstance(column, Text):
        return {"kind": "text", "codes": column.codes.tolist(), "words": list(column.words)}
    if kind_of(column) == "date":
        return {"kind": "date", "values": column.astype(str).tolist()}
    return {"kind": "number", "values": column.tolist()}


def _unpacked(packed: dict[str, Any]) -> Column:
    if packed["kind"] == "text":
        codes = np.array(packed["codes"], dtype=np.intp)
        words = tuple(map(str, packed["words"]))
        if codes.size and not -1 <= codes.min() <= codes.max() < len(words):
            raise ValueError("a code without a word")
        return Text(codes, words)
    if packed["kind"] == "date":
        return np.array(packed["values"], dtype="datetime64[s]")
    return np.array(packed["values"], dtype=float)
