"""The types of file that pictures are drawn into, by their endings."""

from collections.abc import Mapping
from pathlib import Path
from typing import Final

from yuzen.errors import error_at, make_error, suggestion, type_name
from yuzen.regex import regex

# The file of this folder that writes each type; messages, help and checks follow the table. "web"
# is for tables alone, "slide" and "sheet" are for charts that can be edited there.
TYPES: Final[Mapping[str, str]] = {
    "png": "pixels",
    "svg": "svg",
    "pdf": "pdf",
    "html": "web",
    "pptx": "slide",
    "xlsx": "sheet",
}
EDITABLE_TYPES: Final = frozenset({"pptx", "xlsx"})  # in which charts can be edited
CHART_TYPES: Final = tuple(
    name for name, writer in TYPES.items() if writer != "web" and name not in EDITABLE_TYPES
)
CHART_ENDINGS: Final = " or ".join(
    [", ".join(f".{name}" for name in CHART_TYPES[:-1]), f".{CHART_TYPES[-1]}"]
)
_IDS: Final = regex(r"[A-Za-z][A-Za-z0-9_-]{0,60}")
ENDINGS: Final = (
    f"Pictures end in {CHART_ENDINGS}, tables in .html too, slides in .pptx, workbooks in .xlsx."
)


def known_ids(ids: object, kind: str) -> str:
    """What the ids in a picture of a type begin with. Raises YuzenError (call-ids).

    >>> known_ids("routes-", "svg"), known_ids("", "png")
    ('routes-', '')
    """
    if ids == "":
        return ""
    if TYPES[kind] != "svg":
        raise make_error("call-ids", f"Only an SVG has ids, and {kind} has none. Leave ids out.")
    if not isinstance(ids, str) or _IDS.fullmatch(ids) is None:
        message = "ids is the beginning of names: a letter, then letters, digits, - and _."
        raise make_error("call-ids", f'{message} For example ids="routes-".')
    return ids


def refuse_template(kind: str) -> None:
    """Refuse a template for what has none. Raises YuzenError (call-template)."""
    if kind != "pptx":
        message = f"A template is for .pptx, and {kind} has none. Leave it out."
        raise make_error("call-template", message)


def format_of(path: Path) -> str:
    """The file type that a path's ending asks for. Raises YuzenError (call-format)."""
    if not path.suffix:
        message = f"I cannot draw into a file without an ending. {ENDINGS}"
        raise make_error("call-format", message, where=str(path))
    # The path goes along, as a batch writes many.
    with error_at(str(path)):
        return known_format(path.suffix)


def known_format(name: object) -> str:
    """A picture type by name or ending: svg, SVG or .svg. Raises YuzenError (call-format)."""
    if not isinstance(name, str):
        message = f"{type_name(name)} is no type of file. {ENDINGS}"
        raise make_error("call-format", message)
    kind = name.casefold().lstrip(".")
    if kind not in TYPES:
        hint = suggestion(kind, TYPES)
        message = f"I cannot draw into '{name[:40]}'.{hint} {ENDINGS}"
        raise make_error("call-format", message)
    return kind
