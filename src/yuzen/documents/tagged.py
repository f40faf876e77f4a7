"""A document as a tagged PDF, which WeasyPrint makes from the page of HTML."""

from __future__ import annotations

import io
import logging
import warnings
from contextlib import redirect_stdout
from functools import cache

from yuzen.documents.document import Document
from yuzen.documents.web_page import page_of
from yuzen.errors import external_call
from yuzen.sources.extras import is_installed


@cache
def can_tag() -> bool:
    """Whether WeasyPrint is installed, and the libraries that it needs are there."""
    if not is_installed("weasyprint"):
        return False
    try:
        # Where Pango is missing, which is no package of Python's, it prints a page of advice.
        with redirect_stdout(io.StringIO()):
            import weasyprint  # noqa: F401, PLC0415 - an extra
    except OSError:
        return False
    return True


def tagged_pdf(document: Document) -> bytes:
    """The document as PDF/UA. Raises YuzenError (draw-failed)."""
    from weasyprint import HTML  # noqa: PLC0415 - an extra

    logging.getLogger("weasyprint").setLevel(logging.ERROR)
    page = page_of(document)
    with (
        external_call("draw-failed", "No tagged PDF can be made of this report: {reason}."),
        warnings.catch_warnings(),
    ):
        warnings.simplefilter("ignore")
        data: bytes = HTML(string=page, url_fetcher=_refuse).write_pdf(pdf_variant="pdf/ua-1")
    return data


def _refuse(url: str, *_: object, **__: object) -> object:
    """Fetch nothing: a report needs no file and no address outside of it."""
    message = f"a report fetches nothing, and not {url[:80]}"
    raise ValueError(message)
