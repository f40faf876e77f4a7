"""A chart as the lines of Python that make it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from keyword import iskeyword
from typing import Any, Final

from yuzen.files.records.record import Record
from yuzen.stages.stages import Stages

# Sections of several entries: the first argument of the method of a chart that adds one. Rules act
# on columns and labels, which therefore come before them; layers, which the method `layer` adds to
# the chart's own one, are given to the chart all at once.
ENTRIES: Final[Mapping[str, str]] = {
    "column": "value",
    "label": "text",
    "rule": "when",
    "reference": "at",
    "note": "text",
}
FIRST_KEYS: Final = ("kind", "category", "value")
WIDTH: Final = 80  # characters of a line of arguments
NAME_ROWS: Final = "# rows: a DataFrame, an Arrow table, a mapping of columns, or a file's path"


def python_text(stages: Stages) -> str:
    """Lines of Python that make the same chart, run in the folder of its brief."""
    plain = stages.fitted_brief.plain()
    data = dict(plain.pop("data", {}))
    in_file = stages.source is None or isinstance(stages.source, Record)
    file = data.pop("file", None) if in_file else None
    keep = data.pop("keep", None)
    entries = {name: plain.pop(name) for name in ENTRIES if name in plain}
    calls = [] if keep is None else [_call(".keep", [_value(keep)], {})]
    for name, each in entries.items():
        calls += _entry_calls(name, each)
    keywords = _keywords(plain.pop("chart"), plain, data)
    # Rows in memory have no name that Python would know here.
    rows = ["rows"] if file is None else [_value(file)]
    if file is None and "url" in data:
        rows = []  # the address of a database stands under data
    lines = ["import yuzen as yz", ""]
    if rows == ["rows"]:
        lines.append(NAME_ROWS)
    begun = _call("yz.chart", rows, keywords)
    if not calls:
        return "\n".join([*lines, f"chart = {begun}", ""])
    chain = [f"    {line}" for call in (begun, *calls) for line in call.splitlines()]
    return "\n".join([*lines, "chart = (", *chain, ")", ""])


def _keywords(
    chart: dict[str, Any], sections: Mapping[str, Any], data: Mapping[str, Any]
) -> dict[str, Any]:
    """The keys of [chart], the first three first, and the sections of the brief."""
    first: dict[str, Any] = {key: chart[key] for key in FIRST_KEYS if key in chart}
    # `from` is a word of Python, so that its keyword has a line under it.
    others = {f"{key}_" if iskeyword(key) else key: chart[key] for key in chart if key not in first}
    keywords = {**first, **others, **sections}
    if data:
        keywords["data"] = dict(data)
    return keywords


def _entry_calls(name: str, entries: Sequence[Mapping[str, Any]]) -> Iterator[str]:
    """The calls that add the entries of a section."""
    head = ENTRIES[name]
    for entry in entries:
        others = {key: value for key, value in entry.items() if key != head}
        yield _call(f".{name}", [_value(entry[head])] if head in entry else [], others)


def _call(called: str, arguments: Sequence[str], keywords: Mapping[str, Any]) -> str:
    """A call, on one line where it fits, else with a line for each argument."""
    given = [*arguments, *(f"{name}={_value(value)}" for name, value in keywords.items())]
    return _wrapped(f"{called}(", given, ")")


def _value(value: object) -> str:
    """A plain value as Python writes it; texts in double quotes where they hold none."""
    if isinstance(value, Mapping):
        pairs = [f"{_value(str(name))}: {_value(inner)}" for name, inner in value.items()]
        return _wrapped("{", pairs, "}")
    if isinstance(value, list):
        return _wrapped("[", [_value(inner) for inner in value], "]")
    if isinstance(value, float) and value.is_integer():
        return str(int(value))  # as people write whole numbers
    text = repr(value)
    if isinstance(value, str) and text.startswith("'") and '"' not in text:
        return f'"{text[1:-1]}"'
    return text


def _wrapped(first: str, parts: Sequence[str], last: str) -> str:
    """Parts between two signs, on one line where they fit, else each on its own."""
    line = f"{first}{', '.join(parts)}{last}"
    if len(line) <= WIDTH and "\n" not in line:
        return line
    inner = "\n".join(f"    {piece}" for part in parts for piece in f"{part},".splitlines())
    return f"{first}\n{inner}\n{last}"
