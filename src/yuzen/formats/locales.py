"""How a language writes numbers and names months and days of the week."""

from typing import Final

from yuzen.formats.periods import MONTH_NAMES, MONTHS, WEEKDAYS
from yuzen.formats.words import ENGLISH_WORDS, Words
from yuzen.value import Value


class Locale(Value):
    """Signs in numbers, and names.

    words:   that Yuzen writes itself.
    percent: what stands before and after a number of percents.
    """

    decimal: str = "."
    thousands: str = ","
    percent: tuple[str, str] = ("", "%")
    months: tuple[str, ...] = MONTH_NAMES
    short_months: tuple[str, ...] = MONTHS
    weekdays: tuple[str, ...] = WEEKDAYS
    words: Words = ENGLISH_WORDS

    def number(self, text: str) -> str:
        """A number that stands as 1,234.5% as this language writes it.

        >>> Locale(",", ".", ("", " %")).number("1,234.5%")
        '1.234,5 %'
        """
        if self == PLAIN_LOCALE:
            return text
        signs = {".": self.decimal, ",": self.thousands}
        digits = "".join(signs.get(char, char) for char in text.removesuffix("%"))
        if text.endswith("%"):
            before, after = self.percent
            return f"{before}{digits}{after}"
        return digits


PLAIN_LOCALE: Final = Locale()
