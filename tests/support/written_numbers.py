"""Numbers as texts write them, read back."""

from __future__ import annotations

import re

SUFFIXES = {"k": 1e3, "M": 1e6, "B": 1e9, "%": 0.01}


def number_of(text: str) -> tuple[float, float]:
    """The number in a text, and half of its last digit: how far the true one may be."""
    found = re.search(
        r"([−+(]*)[^\d(−+]{0,2}(\d[\d,]*)(?:\.(\d+))?(?:e([-+]\d+))?\s?([kMB%]?)(?:×10([⁻⁰¹²³⁴-⁹]+))?",
        text,
    )
    assert found is not None, text
    size = SUFFIXES.get(found[5], 1.0) * 10.0 ** int(found[4] or 0)
    if found[6]:
        size *= 10.0 ** int(found[6].translate(str.maketrans("⁻⁰¹²³⁴⁵⁶⁷⁸⁹", "-0123456789")))
    value = float(f"{found[2].replace(',', '')}.{found[3] or 0}") * size
    sign = -1 if "−" in found[1] else 1
    return sign * value, size * 10.0 ** -len(found[3] or "") * 0.500001 + abs(value) * 1e-9
