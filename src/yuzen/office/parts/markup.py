"""Elements of the XML that slides and workbooks are made of (ISO/IEC 29500)."""

from __future__ import annotations

from functools import cache
from typing import Any, Final, TypeAlias

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


def node(tag: str, *children: Xml, **attributes: object) -> Xml:
    """An element such as "c:ser" with its attributes and its children, without those that are None.

    >>> text_of(node("c:idx", val=3))
    '<c:idx xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" val="3"/>'
    """
    prefix, _, name = tag.partition(":")
    space = NAMESPACES[prefix]
    written = {key: _written(value) for key, value in attributes.items() if value is not None}
    made = _etree().Element(f"{{{space}}}{name}", written, {prefix: space})
    made.extend([child for child in children if child is not None])
    return made


def text_node(tag: str, text: str) -> Xml:
    """An element that holds a text, without letters that XML cannot hold."""
    made = node(tag)
    made.text = replace_unprintable(text)
    return made


def text_of(element: Xml) -> str:
    """An element as text."""
    text: str = _etree().tostring(element, encoding="unicode")
    return text


def document(root: Xml) -> bytes:
    """An element as the bytes of a part, with each namespace named once."""
    _etree().cleanup_namespaces(root, top_nsmap=NAMESPACES, keep_ns_prefixes=["r"])
    data: bytes = _etree().tostring(root, encoding="UTF-8", xml_declaration=True, standalone=True)
    return data


def _written(value: object) -> str:
    """A value as an attribute: truths as 1 and 0."""
    if isinstance(value, bool):
        return str(int(value))
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
