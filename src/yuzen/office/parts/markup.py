"""Elements of the XML that slides and workbooks are made of (ISO/IEC 29500)."""

from __future__ import annotations

from functools import cache
from typing import Any, Final, TypeAlias
from xml.sax.saxutils import escape

from yuzen.errors import make_error
from yuzen.page.unprintable import replace_unprintable
from yuzen.sources.extras import extra

Xml: TypeAlias = Any  # an element of lxml, which has no types
Foreign: TypeAlias = Any  # an object of python-pptx or XlsxWriter
NAMESPACES: Final = {
    "a": "http://schemas.openxmlformats.org/drawingml/2006/main",
    "c": "http://schemas.openxmlformats.org/drawingml/2006/chart",
    "r": "http://schemas.openxmlformats.org/officeDocument/2006/relationships",
}
_DECLARED: Final = "".join(f' xmlns:{prefix}="{space}"' for prefix, space in NAMESPACES.items())


def node(tag: str, *children: str | None, **attributes: object) -> str:
    """An element such as "c:ser" as text: its attributes, and its children without those of None.

    Texts are ten times as quick to make as elements of a library, and a chart has thousands.

    >>> node("c:dPt", node("c:idx", val=3), None, node("c:bubble3D", val=False))
    '<c:dPt><c:idx val="3"/><c:bubble3D val="0"/></c:dPt>'
    """
    written = "".join(
        f' {key}="{_written(value)}"' for key, value in attributes.items() if value is not None
    )
    inside = "".join(child for child in children if child is not None)
    if not inside:
        return f"<{tag}{written}/>"
    return f"<{tag}{written}>{inside}</{tag}>"


def text_node(tag: str, text: str) -> str:
    """An element that holds a text, without letters that XML cannot hold.

    >>> text_node("a:t", "Fish & <chips>")
    '<a:t>Fish &amp; &lt;chips&gt;</a:t>'
    """
    return f"<{tag}>{escape(replace_unprintable(text))}</{tag}>"


def document(root: str) -> bytes:
    """An element as the bytes of a part, in which each namespace is named once."""
    begin, rest = root[: root.index(">")], root[root.index(">") :]
    declaration = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'
    return f"{declaration}{begin}{_DECLARED}{rest}".encode()


def element(text: str) -> Xml:
    """An element of lxml made of text, to be put into a part that was read."""
    return _etree().fromstring(f"<made{_DECLARED}>{text}</made>")[0]


def _written(value: object) -> str:
    """A value as an attribute: truths as 1 and 0."""
    if isinstance(value, bool):
        return str(int(value))
    if isinstance(value, str):
        return escape(replace_unprintable(value), {'"': "&quot;", "\n": " ", "\t": " "})
    return str(value)


@cache
def _etree() -> Xml:
    with extra("slides", "or write slides and charts of workbooks"):
        from lxml import etree  # noqa: PLC0415 - an extra
    return etree


def parsed(data: bytes, where: str, code: str = "paint-file") -> Xml:
    """A part as an element; nothing in it is followed, and its size is bounded.

    Raises YuzenError with a code for what is no XML.
    """
    etree = _etree()
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False
    )
    try:
        return etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        message = f"A part of the file is damaged: {str(error)[:120]}."
        raise make_error(code, message, where=where) from None


def unchanged_names(root: Xml) -> bytes:
    """A part that was read, as bytes, with the names of its namespaces as they were."""
    data: bytes = _etree().tostring(root, encoding="UTF-8", xml_declaration=True, standalone=True)
    return data
