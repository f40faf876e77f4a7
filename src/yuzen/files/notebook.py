"""A chart in a notebook: pictures, sizes and alternative text, by MIME type."""

from collections.abc import Callable
from collections.abc import Set as AbstractSet
from functools import cache
from typing import Any, Final
from zlib import crc32

from yuzen.files.picture import Drawn
from yuzen.files.pictures import picture_of
from yuzen.files.web import fragment
from yuzen.page.description import Description
from yuzen.page.page import Page
from yuzen.scene.units import DPI

SHARP_TIMES: Final = 2  # pixels of a picture for each one that it is shown at, as fine screens have


def bundle(
    page: Page,
    record: Callable[[], str],
    words: Callable[[], Description],
    answers: Callable[[], Description],
    wanted: AbstractSet[str],
) -> tuple[dict[str, Any], dict[str, Any]]:
    """The chart by MIME type, and how large pictures are shown; of a table its text instead.

    words, answers: what it says to those who do not see it, and besides what each mark says.
    wanted: the types that are asked for; only those are made.
    """
    record = cache(record)  # a picture of each type holds it, and the ids come of it
    data: dict[str, Any] = {}
    sizes: dict[str, Any] = {}
    if "text/plain" in wanted:
        data["text/plain"] = words().text
    if page.table is not None:
        if "text/html" in wanted:
            data["text/html"] = fragment(page)
        return data, sizes
    if "image/png" in wanted:
        # Drawn at twice the pixels and shown at half its size, as screens with fine pixels blur it
        # otherwise.
        drawn = Drawn(page, "png", record, words, answers, SHARP_TIMES * DPI)
        data["image/png"] = picture_of(drawn).data
        width, height = width_and_height(data["image/png"])
        sizes["image/png"] = {
            "width": width // SHARP_TIMES,
            "height": height // SHARP_TIMES,
            "alt": words().text,
        }
    if "image/svg+xml" in wanted:
        # A notebook is one page: charts in it must not take one another's clips and patterns.
        ids = f"chart-{crc32(record().encode()):08x}-"
        drawn = Drawn(page, "svg", record, words, answers, ids=ids)
        data["image/svg+xml"] = picture_of(drawn).data.decode()
    return data, sizes


def width_and_height(png: bytes) -> tuple[int, int]:
    """The pixels of a PNG, as its first chunk tells (PNG specification, section 11.2.1).

    >>> width_and_height(bytes(16) + (1280).to_bytes(4) + (800).to_bytes(4))
    (1280, 800)
    """
    return int.from_bytes(png[16:20]), int.from_bytes(png[20:24])
