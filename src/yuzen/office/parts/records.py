"""The part of a deck or a workbook that holds the records of its charts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from yuzen.office.parts.package import Package

RECORD_PART: Final = "customXml/yuzen.xml"
PAINTED_PART: Final = "customXml/yuzen-painted.xml"  # of charts that were painted
WORKBOOK_RELATIONS: Final = "xl/_rels/workbook.xml.rels"
CUSTOM: Final = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/customXml"


def records_xml(records: Sequence[str]) -> bytes:
    """The records of charts as the part of a document; they are letters that XML can hold."""
    return f'<?xml version="1.0" encoding="UTF-8"?><yuzen>{" ".join(records)}</yuzen>'.encode()


def with_record_part(package: Package, parts: Mapping[str, bytes], records: Sequence[str]) -> bytes:
    """A workbook with other parts and the records of its charts, which it refers to."""
    relations = package.part(WORKBOOK_RELATIONS)
    relation = f'<Relationship Id="rIdYuzen" Type="{CUSTOM}" Target="../{RECORD_PART}"/>'.encode()
    closing = b"</Relationships>"
    added = {
        **parts,
        RECORD_PART: records_xml(records),
        WORKBOOK_RELATIONS: relations.replace(closing, relation + closing),
    }
    return package.having(added)
