"""The language that a brief asks for: signs in numbers and names of months, by Babel's tables."""

from typing import Any, Literal

from yuzen.errors import external_call
from yuzen.formats.locales import PLAIN_LOCALE, Locale
from yuzen.formats.words import words_of
from yuzen.sources.extras import extra


def locale_of(name: str | None) -> Locale:
    """The locale of a name like "de" or "en_GB". Raises YuzenError (brief-locale, call-extra)."""
    if name is None:
        return PLAIN_LOCALE
    with extra("locale", "a locale"):
        from babel import Locale as Table  # noqa: PLC0415 - an extra
    message = f'There is no locale \'{name[:40]}\'. Write one such as "de", "fr" or "en_GB".'
    with external_call("brief-locale", message):
        table = Table.parse(name.replace("-", "_"))
    symbols = table.number_symbols
    signs = symbols.get("latn") or symbols[table.default_numbering_system]
    percent = table.percent_formats[None]
    return Locale(
        decimal=signs["decimal"],
        thousands=signs["group"],
        percent=(percent.prefix[0], percent.suffix[0]),
        months=_twelve(table, "wide"),
        short_months=_twelve(table, "abbreviated"),
        weekdays=tuple(table.days["stand-alone"]["wide"][day] for day in range(7)),
        words=words_of(table.language),
    )


def _twelve(table: Any, width: Literal["wide", "abbreviated"]) -> tuple[str, ...]:  # noqa: ANN401 - Babel's
    """The names of months as they stand by themselves."""
    return tuple(table.months["stand-alone"][width][month] for month in range(1, 13))
