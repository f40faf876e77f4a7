"""A long table on several pages: each has the words, the key and the titles of columns again."""

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes
from yuzen.page.page import Page
from yuzen.page.table import HEADING, INDENTED, SUBTOTAL, Table, unshown

MAX_PAGE_ROWS: Final = 300  # on one page, be it as tall as it is
PAGE_ROWS: Final = 50  # on each of several


def sheets(page: Page) -> tuple[Page, ...]:
    """The pages of a document: the page itself, or its table in parts."""
    table = page.table
    if table is None or len(table) <= MAX_PAGE_ROWS:
        return (page,)
    parts = _parts(table)
    return tuple(
        replace(
            page,
            plots=(table.take(rows),),
            words=replace(page.words, footer=_numbered(page, place, len(parts))),
        )
        for place, rows in enumerate(parts, start=1)
    )


def first_sheet(page: Page) -> Page:
    """The page as one picture: of a longer table the first rows, and how many are missing."""
    table = page.table
    if table is None or len(table) <= MAX_PAGE_ROWS:
        return page
    missing = unshown(table, np.arange(MAX_PAGE_ROWS, len(table)))
    return replace(page, plots=(replace(table.take(np.arange(MAX_PAGE_ROWS)), missing=missing),))


def _numbered(page: Page, place: int, count: int) -> str:
    """The footer with the number of the page."""
    return "   ·   ".join(
        filter(None, [page.words.footer, page.words.own.say("page", page=place, pages=count)])
    )


def _parts(table: Table) -> list[Codes]:
    """The rows of each page; one that goes on with a group begins with its heading."""
    parts = []
    start, heading = 0, -1
    while start < len(table):
        page_rows = list(range(start, min(start + PAGE_ROWS, len(table))))
        while (
            len(page_rows) > 1 and table.roles[page_rows[-1]] == HEADING
        ):  # which would stand alone
            page_rows.pop()
        start = page_rows[-1] + 1
        goes_on = table.roles[page_rows[0]] in {INDENTED, SUBTOTAL} and heading >= 0
        parts.append(np.array([heading, *page_rows] if goes_on else page_rows, dtype=np.intp))
        heading = max((row for row in page_rows if table.roles[row] == HEADING), default=heading)
    return parts
