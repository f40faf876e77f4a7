"""Letters that a picture can hold: what a reader of SVG, HTML or PDF may not meet is replaced."""

from typing import Final

from yuzen.regex import regex

REPLACED: Final = "\N{REPLACEMENT CHARACTER}"
# What XML 1.0 (section 2.2) has no place for: control characters but tab and line ends, halves of
# pairs, and the last two code points of each plane; and the control characters after 7F, which it
# only warns of.
_UNFIT: Final = regex(
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff"
    + "".join(
        f"{chr(plane + 0xFFFE)}{chr(plane + 0xFFFF)}" for plane in range(0, 0x110000, 0x10000)
    )
    + "]"
)


def replace_unprintable(text: str) -> str:
    r"""A text with all that a picture cannot hold replaced.

    >>> replace_unprintable("a\x00b\x1b[31m"), replace_unprintable("naïve\u200d")
    ('a�b�[31m', 'naïve\u200d')
    """
    return _UNFIT.sub(REPLACED, text)
