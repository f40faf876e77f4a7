"""Random charts say and show what was recorded of them, in a few lines each."""

from __future__ import annotations

import os

import pytest

from tests.support.records import REMEDY, SKETCHED, SKETCHES, differences, sketch_of
from tests.support.sampling import seeds

# `make mutants` looks at all of them.
TRIED = range(SKETCHED) if os.environ.get("ALL_RECORDS") else seeds(0, SKETCHED)
SKETCHES_BY_SEED = dict(enumerate(SKETCHES.read_text("utf-8").split("\n\n")))


@pytest.mark.sampled(3)
@pytest.mark.parametrize("seed", TRIED)
@pytest.mark.filterwarnings("ignore")
def test_a_random_chart_says_and_shows_what_is_recorded(seed: int) -> None:
    other = differences(SKETCHES_BY_SEED[seed], sketch_of(seed))
    assert not other, "\n".join([*other[:6], REMEDY])


def test_every_random_chart_has_its_lines() -> None:
    assert len(SKETCHES_BY_SEED) == SKETCHED
