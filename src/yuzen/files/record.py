"""The record inside a picture: its brief and its marks, as a line of JSON and one for each array."""

from __future__ import annotations

import base64
import json
from typing import TYPE_CHECKING, Any

import numpy as np

from yuzen.errors import wrong
from yuzen.rules.arrays import Text, kind_of
from yuzen.rules.marks import Marks

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from yuzen.rules.arrays import Column

VERSION = 2


def record_of(brief: str, marks: Marks) -> str:
    """The record of a chart: JSON that names arrays by the line on which each stands."""
    arrays: list[str] = []

    def kept(values: NDArray[Any] | None, kind: str) -> int | None:
        if values is None:
            return None
        arrays.append(_bytes(values, kind))
        return len(arrays)

    def packed(column: Column) -> dict[str, Any]:
        if isinstance(column, Text):
            return {"kind": "text", "codes": kept(column.codes, "<i4"), "words": list(column.words)}
        if kind_of(column) == "date":
            return {"kind": "date", "values": kept(column.astype("datetime64[s]"), "<i8")}
        return {"kind": "number", "values": kept(column, "<f8")}

    head = json.dumps(
        {
            "yuzen": VERSION,
            "brief": brief,
            "category": marks.category,
            "value": marks.value,
            "series": list(marks.series),
            "panel": marks.panel,
            "among": list(marks.among),
            "order": kept(marks.order, "<i4"),
            "standing": kept(marks.standing, "<i1"),
            "grain": marks.grain,
            "formulas": dict(marks.formulas),
            "behind": kept(marks.behind, "<i4"),
            "columns": {name: packed(column) for name, column in marks.columns.items()},
        }
    )
    return "\n".join([head, *arrays])


def from_record(text: str) -> tuple[str, Marks]:
    """The brief's text and the marks of a record. Raises YuzenError (data-picture)."""
    try:
        head, *arrays = text.split("\n")
        found = json.loads(head)

        def array(key: str, kind: str) -> NDArray[Any] | None:
            return None if found[key] is None else _array(arrays[found[key] - 1], kind)

        order, standing, behind = array("order", "<i4"), array("standing", "<i1"), array("behind", "<i4")
        columns = {str(name): _unpacked(packed, arrays) for name, packed in found["columns"].items()}
        marks = Marks(
            columns,
            found["category"],
            found["value"],
            series=tuple(found["series"]),
            panel=str(found["panel"]),
            among=tuple(found["among"]),
            order=None if order is None else order.astype(np.intp),
            standing=None if standing is None else standing.astype(np.int8),
            grain=found["grain"],
            formulas=dict(found["formulas"]),
            behind=None if behind is None else behind.astype(np.intp),
        )
        if {len(column) for column in columns.values()} != {len(marks)}:
            raise ValueError("columns of several lengths")  # noqa: TRY301 - told as damage below
        return str(found["brief"]), marks
    except (KeyError, TypeError, ValueError, IndexError, AttributeError, RecursionError):
        raise wrong("data-picture", "The record in this picture is damaged.") from None


def _unpacked(packed: dict[str, Any], arrays: list[str]) -> Column:
    if packed["kind"] == "text":
        codes = _array(arrays[packed["codes"] - 1], "<i4").astype(np.intp)
        words = tuple(map(str, packed["words"]))
        if codes.size and not -1 <= codes.min() <= codes.max() < len(words):
            raise ValueError("a code without a word")
        return Text(codes, words)
    if packed["kind"] == "date":
        return _array(arrays[packed["values"] - 1], "<i8").astype("datetime64[s]")
    return _array(arrays[packed["values"] - 1], "<f8").astype(np.float64)


def _bytes(values: NDArray[Any], kind: str) -> str:
    """Numbers as the text of their bytes: a million of them in JSON's own digits would take seconds.

    Whole numbers as the steps between them, which are mostly alike and take next to no room.
    """
    kept = values.astype(kind)
    if kept.dtype.kind == "i":
        kept[1:] -= kept[:-1].copy()
    return base64.b64encode(kept.tobytes()).decode()


def _array(text: str, kind: str) -> NDArray[Any]:
    kept = np.frombuffer(base64.b64decode(text, validate=True), dtype=kind)
    return np.cumsum(kept, dtype=kind) if kept.dtype.kind == "i" else kept
