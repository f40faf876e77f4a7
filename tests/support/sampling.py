"""How much of what is tried many times over a run tries: a sample, or with THOROUGH=1 all of it."""

from __future__ import annotations

import os
from collections.abc import Sequence
from typing import Any, TypeAlias

import pytest
from hypothesis import settings

Case: TypeAlias = tuple[Any, ...]  # the arguments of a test

# `make test` takes a sample of what is tried many times over; `make thorough` takes all of it.
THOROUGH = bool(os.environ.get("THOROUGH"))
SAMPLED = 1 if THOROUGH else 8  # one of so many is tried


def examples(count: int) -> int:
    """How many examples are made where a thorough run makes `count`."""
    return max(10, count // SAMPLED)


def a_sample_of(cases: Sequence[Case], every: int = 2) -> list[Any]:
    """Every second of some cases, or so; the others are slow, and a thorough run has them."""
    return [
        case if place % every == 0 else pytest.param(*case, marks=pytest.mark.slow)
        for place, case in enumerate(cases)
    ]


def seeds(first: int, last: int) -> range:
    """The seeds of random charts and tables from the first up to the last."""
    return range(first, last, SAMPLED)


settings.register_profile("steady", derandomize=True, deadline=None, max_examples=examples(40))
settings.load_profile("steady")
