"""Random conditions in words on random charts, judged by the package and by the evaluator of oracle.py."""

from __future__ import annotations

import pytest

from tests.support.evaluated import KINDS, Tally, judge_all
from tests.support.sampling import THOROUGH


@pytest.mark.sampled(3)
@pytest.mark.parametrize("seed", range(4 if THOROUGH else 2))
@pytest.mark.parametrize("kind", KINDS)
def test_charts_are_judged_as_the_evaluator_judges(kind: str, seed: int) -> None:
    """`make fuzz` judges 20,000 conditions; these are the first ones of each kind of chart."""
    tally = Tally()
    judge_all(kind, 1_000 + seed, 10, tally)
    assert not tally.unlike, "\n".join(tally.unlike)
    assert tally.judged >= 8
