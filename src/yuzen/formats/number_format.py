"""How numbers are written: their digits, and what stands before and after them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from math import isfinite, isnan
from typing import Final, Literal, TypeAlias

from yuzen.formats.locales import PLAIN_LOCALE, Locale
from yuzen.formats.number_text import MINUS, tell, tell_percents
from yuzen.regex import regex
from yuzen.value import Value

SIGN_CHARACTERS: Final = f"{MINUS}+"
MAX_UNIT_LETTERS: Final = 4  # of a unit that stands at every number of an axis
NO_DIGITS: Final = "0.,%"  # what a zero is written with
UNTOLD: Final = "–"  # stands for a number that is missing
SUFFIX_FACTORS: Final = {"": 1.0, "k": 1e3, "M": 1e6, "B": 1e9}
DECIMALS: Final = regex(r"\.(\d+)")
RAISED: Final = str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹")
ScaleSuffix: TypeAlias = Literal["", "k", "M", "B"]


class Form(Value):
    """The digits of a number.

    style: what tells its sign; spec: comma, decimals and percent, as Python has them; '' for as few
    digits as tell what it is. scale: of how many ones it is counted. power: the same as a power of
    ten.
    """

    style: Literal["", "arrow", "sign", "paren"] = ""
    spec: str = ""
    scale: ScaleSuffix = ""
    power: int = 0

    @property
    def unit(self) -> str:
        """What its power of ten is; '' for none.

        >>> Form(power=-7).unit
        '×10⁻⁷'
        """
        return f"×10{str(self.power).translate(RAISED)}" if self.power else ""

    @property
    def decimals(self) -> int:
        """How many decimals are set, 0 where none are.

        >>> Form(spec=",.2f").decimals, Form().decimals
        (2, 0)
        """
        found = DECIMALS.search(self.spec)
        return int(found[1]) if found else 0

    @property
    def percent(self) -> bool:
        """Whether it is a share that is written in percent."""
        return self.spec.endswith("%")

    def write(self, value: float, locale: Locale = PLAIN_LOCALE) -> str:
        """The number as text.

        >>> Form("arrow", ".0%").write(-0.38), Form("paren", ",.1f", "k").write(-18300)
        ('▼ 38%', '(18.3k)')
        """
        if not isfinite(value):
            return _endless(value)
        digits = self._digits(abs(value))
        # −0.4 without decimals is 0, and has no sign.
        negative = value < 0 and bool(set(digits) & set("123456789"))
        return self._signed(
            locale.number(digits) + self.scale + self.unit, value, negative=negative
        )

    def _signed(self, body: str, value: float, *, negative: bool) -> str:
        """The digits with the sign, as the style has it."""
        if self.style == "arrow":
            return f"{_arrow(value, negative=negative)} {body}"
        if self.style == "paren" and negative:
            return f"({body})"
        if negative:
            return f"{MINUS}{body}"
        if self.style == "sign" and value > 0:
            return f"+{body}"
        return body

    def _digits(self, size: float) -> str:
        size /= SUFFIX_FACTORS[self.scale] * 10.0**self.power
        if self.spec:
            return format(size, self.spec)
        return tell(size)[0]


def _arrow(value: float, *, negative: bool) -> str:
    """Up, down, or a square for what stays."""
    if negative:
        return "▼"
    if value > 0:
        return "▲"
    return "■"


def _endless(value: float) -> str:
    """What is written for a number that is missing or has no end."""
    if isnan(value):
        return UNTOLD
    return "∞" if value > 0 else f"{MINUS}∞"


class NumberFormat(Value):
    """How the numbers of a measure are written: form, prefix and suffix, language."""

    form: Form = Form()
    before: str = ""
    after: str = ""
    locale: Locale = PLAIN_LOCALE

    def write(self, value: float) -> str:
        """The number as text; a sign stands before all of it.

        >>> euros = NumberFormat(Form("", ",.1f", "M"), "€")
        >>> euros.write(-1_250_000.0), euros.write(float("nan"))
        ('−€1.2M', '–')
        """
        text = self.form.write(value, self.locale)
        if isnan(value):
            return text
        if text[0] in SIGN_CHARACTERS:
            return f"{text[0]}{self.before}{text[1:]}{self.after}"
        return f"{self.before}{text}{self.after}"

    def write_all(self, values: Iterable[float]) -> list[str]:
        """Like `write`, of many numbers: most charts write theirs without a sign of their own.

        >>> NumberFormat(Form("", ",.0f"), "€").write_all([1250.0, -0.3, -7.0, float("nan")])
        ['€1,250', '€0', '−€7', '–']
        """
        form = self.form
        if form.style or not form.spec or self.locale != PLAIN_LOCALE:
            return [self.write(value) for value in values]
        factor, spec = SUFFIX_FACTORS[form.scale] * 10.0**form.power, form.spec
        before, after = self.before, f"{form.scale}{form.unit}{self.after}"
        signed = f"{MINUS}{before}"
        texts = []
        for value in values:
            if not isfinite(value):
                texts.append(self.write(value))
                continue
            digits = format(abs(value) / factor, spec)
            # −0.4 without decimals is 0, and has no sign.
            first = signed if value < 0 and digits.strip(NO_DIGITS) else before
            texts.append(f"{first}{digits}{after}")
        return texts

    def tell(self, *values: float) -> list[str]:
        """The numbers with as few digits as keep different ones different, as reasons need them.

        >>> NumberFormat(Form("", ",.0f", "M"), "€").tell(41_204.4, 41_204.2, float("nan"))
        ['€41,204.4', '€41,204.2', 'missing']
        """
        if self.form.percent:
            texts = tell_percents(*values)
        else:
            texts = tell(*values)
        return [self._around(text, value) for text, value in zip(texts, values, strict=True)]

    def titled(self, title: str) -> str:
        """The title of an axis of such numbers, with what they do not say themselves.

        That is the power of ten that they are divided by, and a long unit.

        >>> NumberFormat(Form(power=-7)).titled("metres"), NumberFormat().titled("metres")
        ('metres, ×10⁻⁷', 'metres')
        >>> NumberFormat(after=" kg per passenger").titled("Load")
        'Load, kg per passenger'
        """
        parts = (title, self.form.unit, self.long_unit)
        return ", ".join(part for part in parts if part)

    @property
    def long_unit(self) -> str:
        """A unit that is too long to stand at every number of an axis; '' for none."""
        unit = self.after.strip()
        return unit if len(unit) > MAX_UNIT_LETTERS else ""

    @property
    def on_axis(self) -> NumberFormat:
        """The format of the numbers of an axis, whose title says a long unit once."""
        return replace(self, after="") if self.long_unit else self

    def styled(self, style: Literal["", "arrow", "sign", "paren"]) -> NumberFormat:
        """A copy with another way to write signs."""
        return replace(self, form=replace(self.form, style=style))

    def _around(self, text: str, value: float) -> str:
        """Digits with what stands before and after them; what is no number as it is."""
        if not isfinite(value):
            return text
        text = self.locale.number(text)
        if text[0] == MINUS:
            return f"{MINUS}{self.before}{text[1:]}{self.after}"
        return f"{self.before}{text}{self.after}"
