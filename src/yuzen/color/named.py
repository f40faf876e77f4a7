"""What a colour may be called, and colours as numbers."""

from collections.abc import Mapping
from typing import Final, TypeAlias

import numpy as np
from numpy.typing import NDArray

from yuzen.errors import make_error, suggestion
from yuzen.regex import regex

Rgb: TypeAlias = NDArray[np.float64]

_HEX = regex(r"#(?:[0-9a-fA-F]{3}|[0-9a-fA-F]{6})")
SAME_COLOR: Final = 1e-9  # by which red, green and blue of one colour may differ


def hex_of(color: str, roles: Mapping[str, str]) -> str:
    """The '#RRGGBB' of a role, a CSS name, or a hex colour. Raises YuzenError (brief-color).

    >>> hex_of("adverse", {"adverse": "#C63E2F"}), hex_of("navy", {}), hex_of("#abc", {})
    ('#C63E2F', '#000080', '#AABBCC')
    """
    text = color.strip()
    # Roles first: a theme may call one "gold", and then means its own.
    if text in roles:
        return roles[text]
    if _HEX.fullmatch(text):
        return ("#" + "".join(c * 2 for c in text[1:]) if len(text) == 4 else text).upper()
    from PIL.ImageColor import colormap, getrgb  # noqa: PLC0415 - few briefs name colors as CSS does

    if text.casefold() in colormap:
        red, green, blue = getrgb(text)[:3]
        return f"#{red:02X}{green:02X}{blue:02X}"
    hint = suggestion(text, [*roles, *colormap])
    message = (
        f"I know no color '{text[:40]}'.{hint} A color is a role ({', '.join(list(roles)[:4])}), a "
        "CSS name or #RRGGBB."
    )
    raise make_error("brief-color", message)


def rgb_of(color: str) -> Rgb:
    """Red, green and blue of '#RRGGBB', each from 0 to 1, shape (3,)."""
    return np.array([int(color[i : i + 2], 16) for i in (1, 3, 5)]) / 255


def rgba_of(color: str) -> tuple[float, ...]:
    """A colour '#RRGGBB' as red, green, blue and an opacity of 1.

    >>> rgba_of("#FF0000")
    (1.0, 0.0, 0.0, 1.0)
    """
    return (*rgb_of(color).tolist(), 1.0)


def linear(rgb: Rgb) -> Rgb:
    """SRGB to light: the transfer function of IEC 61966-2-1, on arrays of any shape."""
    return np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)


def luminance(rgb: Rgb) -> Rgb:
    """Relative luminance, 0 to 1, of sRGB colours, shape (..., 3) (WCAG 2.2)."""
    light: Rgb = linear(rgb) @ np.array([0.2126, 0.7152, 0.0722])
    return light


def same_color(colors: Rgb, color: Rgb) -> NDArray[np.bool_]:
    """Which colours are one colour, shape (k,).

    colors: red, green, blue and, perhaps, opacity, which does not count, shape (k, 3) or (k, 4).

    >>> same_color(np.array([[1.0, 0.0, 0.0, 0.5], [0.0, 0.0, 0.0, 1.0]]), rgb_of("#FF0000"))
    array([ True, False])
    """
    # One part after the other, as that is several times as fast as rows of three.
    near = [
        np.abs(part - wanted) < SAME_COLOR for part, wanted in zip(colors.T, color, strict=False)
    ]
    return np.asarray(near[0] & near[1] & near[2])


def legible(colors: Rgb, ink: Rgb, ground: Rgb, least: float) -> Rgb:
    """Text colours, shape (n, 3), mixed with ink as far as contrast on the ground needs.

    ink, ground: one colour for all, shape (3,), or one for each, shape (n, 3). The mixing is of
    sRGB values in tenths; ink itself is the last resort.

    >>> legible(rgb_of("#F0F0F0")[None], rgb_of("#000000"), rgb_of("#FFFFFF"),
    ...     4.5).round(2).tolist()
    [[0.38, 0.38, 0.38]]
    """
    legible_colors, ink = colors.copy(), np.broadcast_to(ink, colors.shape)
    for share in np.arange(1, 11) / 10:
        faint = contrasts(legible_colors, ground) < least
        if not faint.any():
            break
        # In tenths: as much of the rule's colour is kept as can be read.
        legible_colors[faint] = colors[faint] * (1 - share) + ink[faint] * share
    return legible_colors


def inks_on(ground: Rgb, ink: str, paper: str, least: float, among: Rgb | None = None) -> Rgb:
    """The colour of plain text on each ground, shape (n, 3): one on light grounds, one on dark.

    Ink and paper where they have enough contrast on all grounds of their side, else black and
    white, of which the better one has 4.58 or more on any ground (WCAG 2.2, 'contrast ratio'). So
    the colour changes once along a ramp.
    among: all grounds that texts side by side stand on, shape (m, 3); left out, `ground`.

    >>> inks_on(rgb_of("#808080")[None], "#22272C", "#FFFFFF", 4.5).tolist()
    [[0.0, 0.0, 0.0]]
    """
    among = ground if among is None else among
    black, white = np.zeros(3), np.ones(3)
    darker, lighter = sorted(
        (rgb_of(ink), rgb_of(paper)), key=lambda color: float(luminance(color))
    )
    on_light = contrasts(black, among) > contrasts(white, among)
    dark = darker if (contrasts(darker, among[on_light]) >= least).all() else black
    light = lighter if (contrasts(lighter, among[~on_light]) >= least).all() else white
    on_own = contrasts(black, ground) > contrasts(white, ground)
    return np.where(on_own[:, None], dark, light)


def contrasts(colors: Rgb, grounds: Rgb) -> Rgb:
    """The contrast ratios of colours of shape (..., 3) on grounds, from 1 to 21 (WCAG 2.2)."""
    one, other = luminance(colors), luminance(grounds)
    return (np.maximum(one, other) + 0.05) / (np.minimum(one, other) + 0.05)


def contrast(one: str, other: str) -> float:
    """The contrast ratio of two colours, from 1 to 21 (WCAG 2.2, 'contrast ratio').

    >>> round(contrast("#000000", "#FFFFFF"), 6)
    21.0
    """
    low, high = sorted(float(luminance(rgb_of(color))) for color in (one, other))
    return (high + 0.05) / (low + 0.05)


def black_or_white(fill: str) -> str:
    """The colour of a text on a fill: black or white, whichever can be read better.

    >>> black_or_white("#0A4A80"), black_or_white("#C9CCD0")
    ('#FFFFFF', '#000000')
    """
    if contrast(fill, "#FFFFFF") > contrast(fill, "#000000"):
        return "#FFFFFF"
    return "#000000"
