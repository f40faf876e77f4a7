"""Array functions against pandas, SciPy and plain Python."""

from __future__ import annotations

import math
import sqlite3
from contextlib import closing
from decimal import Decimal
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import rankdata

import yuzen as yz
from yuzen.arrays import Text, codes_of
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.grammar.parser import parse, parse_quantity
from yuzen.rules.marks import Marks
from yuzen.rules.peers import summaries
from yuzen.rules.peers.codes import ALONE, Peers, SortedGroups
from yuzen.rules.peers.exact_sums import exact_sums, mean_of
from yuzen.rules.peers.ranks import RANKS, Sorted, cut
from yuzen.rules.peers.sequences import previous, running_total
from yuzen.rules.quantities.fields import Field

finite = st.integers(-4, 4).map(float) | st.floats(-1e6, 1e6) | st.just(np.nan)
grouped = st.lists(st.tuples(finite, st.integers(0, 5)), min_size=1, max_size=60)


def arrays(
    rows: list[tuple[float, int]],
) -> tuple[np.ndarray, np.ndarray, Any]:
    values = np.array([value for value, _ in rows])
    codes = np.array([code for _, code in rows], dtype=np.intp)
    return values, codes, pd.Series(values).groupby(codes)


@pytest.mark.parametrize(
    ("ours", "theirs"),
    [
        ("total", {"func": "sum", "min_count": 1}),
        ("average", {"func": "mean"}),
        ("deviation", {"func": "std"}),
        ("highest", {"func": "max"}),
        ("lowest", {"func": "min"}),
        ("count", {"func": "count"}),
    ],
)
@given(rows=grouped)
def test_summaries_as_pandas(
    ours: str, theirs: dict[str, Any], rows: list[tuple[float, int]]
) -> None:
    values, codes, groups = arrays(rows)
    found = getattr(summaries, ours)(values, Peers(codes, 6))
    expected = getattr(groups, theirs["func"])(**{k: v for k, v in theirs.items() if k != "func"})
    np.testing.assert_allclose(found[expected.index], expected, rtol=1e-9, atol=1e-9)
    alone = getattr(summaries, ours)(values, ALONE)
    whole = getattr(pd.Series(values), theirs["func"])(
        **{k: v for k, v in theirs.items() if k != "func"}
    )
    np.testing.assert_allclose(alone, [whole], rtol=1e-9, atol=1e-9)


@pytest.mark.parametrize("scale", [1e-290, 1e-160, 1e-9, 1.0, 1e160, 1e290])
@pytest.mark.parametrize(
    ("odd", "whole"), [(0.5, 0.5), (np.nan, np.nan), (np.inf, np.inf), (-np.inf, -np.inf)]
)
def test_what_cancels_out_is_zero_whatever_its_size_and_its_company(
    scale: float, odd: float, whole: float
) -> None:
    parts = [1 / 3, 1 / 7, 1 / 11]
    values = np.array([*parts, *(-part for part in parts), 2 / 3, odd]) * scale
    found = summaries.total(values, Peers(np.array([0] * 6 + [1, 2]), 4))
    np.testing.assert_array_equal(found, [0.0, 2 / 3 * scale, whole * scale, np.nan])


@given(st.integers(-9_999_999, 9_999_999), st.integers(0, 4), st.integers(2, 2_500))
def test_sums_of_decimals_are_those_on_paper(number: int, places: int, count: int) -> None:
    """Also where the first thousand numbers have fewer decimals than the others."""
    numbers = [Decimal(1)] * 1_200 + [Decimal(number).scaleb(-places)] * count
    found = summaries.total(np.array(numbers, dtype=float), ALONE)
    assert found.tolist() == [float(sum(numbers))]


@given(
    st.lists(st.tuples(st.floats(allow_nan=False), st.integers(0, 2)), min_size=1, max_size=40),
    st.randoms(use_true_random=False),
)
def test_sums_are_the_same_in_any_order(rows: list[tuple[float, int]], shuffle: Any) -> None:
    shuffled = list(rows)
    shuffle.shuffle(shuffled)
    answers = []
    for given_rows in (rows, shuffled):
        values = np.array([value for value, _ in given_rows])
        groups = np.array([group for _, group in given_rows], dtype=np.intp)
        with np.errstate(all="ignore"):
            sums, _ = exact_sums(values, groups, 3)
            summaries_found = [
                summary(values, Peers(groups, 3))
                for summary in (summaries.total, summaries.average)
            ]
        answers.append([sums, *summaries_found])
        for group in range(3):
            own = values[groups == group].tolist()
            if all(map(math.isfinite, own)) and sum(map(abs, own)) < 1e300:
                # Just beside the middle of two floats it may be the other one.
                assert abs(sums[group] - math.fsum(own)) <= math.ulp(math.fsum(own))
    finite = (
        all(math.isfinite(value) for value, _ in rows)
        and sum(abs(value) for value, _ in rows) < 1e300
    )
    assert not finite or np.array_equal(answers[0], answers[1], equal_nan=True)


def test_equal_sums_of_measured_numbers_tie_in_whatever_order_they_are_added(
    tmp_path: Path,
) -> None:
    """By rows in memory, by DuckDB's processors, and in SQLite."""
    random = np.random.default_rng(7)
    measured = random.normal(0, 1, 5_000) * 10.0 ** random.integers(-4, 4, 5_000)
    rows = pd.DataFrame(
        {"item": ["a"] * 5_000 + ["b"] * 5_000, "v": [*measured, *random.permutation(measured)]}
    )
    rows.to_parquet(tmp_path / "rows.parquet")
    with closing(sqlite3.connect(tmp_path / "rows.db")) as store, store:
        rows.to_sql("rows", store, index=False)
    stored = yz.Database(f"sqlite:///{tmp_path / 'rows.db'}", "rows")
    for value in ("total of v", "average of v"):
        told = []
        for source in (
            rows,
            rows.sample(frac=1, random_state=1),
            tmp_path / "rows.parquet",
            stored,
        ):
            chart = yz.chart(source, category="item", value=value, order="by name").rule(
                "highest", color="notice"
            )
            flags = chart.flags()
            assert flags["rule"].tolist() == ["highest", "highest"]
            told.append(flags[value].tolist())
        assert told[0] == told[1] == told[2] == told[3]


@given(st.floats(-1e300, 1e300), st.integers(1, 300))
def test_the_average_of_equal_numbers_is_that_number(value: float, size: int) -> None:
    with np.errstate(over="ignore", invalid="ignore"):
        average = summaries.average(np.full(size, value), ALONE)[0]
    assert average == value or not np.isfinite(value * size)


@pytest.mark.parametrize(
    ("ties", "method"), [("competition", "min"), ("dense", "dense"), ("ordinal", "ordinal")]
)
@given(rows=grouped, largest_first=st.booleans())
def test_ranks_as_scipy(
    ties: Any, method: Any, rows: list[tuple[float, int]], largest_first: bool
) -> None:
    values, codes, _ = arrays(rows)
    found = RANKS[ties](values, Peers(codes, 6), largest_first=largest_first)
    expected = np.full(len(values), np.nan)
    for code in np.unique(codes):
        own = np.flatnonzero((codes == code) & ~np.isnan(values))
        expected[own] = rankdata(-values[own] if largest_first else values[own], method=method)
    np.testing.assert_array_equal(found, expected)


@given(rows=grouped, share=st.sampled_from([0.0, 0.25, 0.5, 0.75, 1.0]))
def test_quantiles_as_pandas(rows: list[tuple[float, int]], share: float) -> None:
    values, codes, groups = arrays(rows)
    peers = Peers(codes, 6)
    segments = SortedGroups.by(peers, len(values))
    ordered = Sorted.of(segments.gather(values), segments)
    expected = groups.quantile(share)
    np.testing.assert_allclose(
        ordered.quantile(share)[expected.index], expected, rtol=1e-9, atol=1e-9
    )


@given(rows=grouped, rank=st.integers(1, 8), largest_first=st.booleans())
def test_a_cut_is_where_ranks_end(
    rows: list[tuple[float, int]], rank: int, largest_first: bool
) -> None:
    values, codes, _ = arrays(rows)
    peers = Peers(codes, 6)
    segments = SortedGroups.by(peers, len(values))
    ordered = Sorted.of(segments.gather(values), segments)
    edge = peers.spread(cut(ordered, np.asarray(rank), largest_first=largest_first))
    inside = values >= edge if largest_first else values <= edge
    ranks = RANKS["competition"](values, peers, largest_first=largest_first)
    np.testing.assert_array_equal(inside, ranks <= rank)


@given(rows=grouped)
def test_sequences_as_pandas(rows: list[tuple[float, int]]) -> None:
    values, codes, groups = arrays(rows)
    sequence = SortedGroups.by(Peers(codes, 6), len(values))
    np.testing.assert_array_equal(previous(values, sequence), groups.shift())
    np.testing.assert_allclose(
        running_total(values, sequence), groups.cumsum(), rtol=1e-9, atol=1e-6
    )


@given(
    rows=st.lists(
        st.tuples(st.integers(-8, 8).map(float), st.integers(0, 2)), min_size=1, max_size=40
    )
)
def test_changes_as_pandas(rows: list[tuple[float, int]]) -> None:
    values, codes, groups = arrays(rows)
    item = np.arange(len(values), dtype=float)
    marks = Marks(
        {"item": item, "value": values, "group": Text(codes, ("a", "b", "c"))}, "item", "value"
    )
    change = parse_quantity("change of value").values(
        EvaluationData(marks).view(Field("value"), ("group",))
    )
    np.testing.assert_array_equal(change, groups.diff())
    held = parse("rises by 25% within group").holds(EvaluationData(marks))
    relative = groups.pct_change(fill_method=None) * np.sign(groups.shift())
    told = groups.shift().fillna(0) != 0
    np.testing.assert_array_equal((held == 1)[told], (relative >= 0.25)[told])


def test_long_and_short_groups_together() -> None:
    """One group of thousands beside thousands of lone marks: both ways of running over groups."""
    random = np.random.default_rng(3)
    codes = np.concatenate(
        [np.zeros(5_000, np.intp), np.arange(1, 4_001), random.integers(1, 900, 3_000)]
    )
    values = random.integers(-50, 50, len(codes)).astype(float)
    peers, groups = Peers(codes, 4_001), pd.Series(values).groupby(codes)
    sequence = SortedGroups.by(peers, len(values))
    np.testing.assert_array_equal(running_total(values, sequence), groups.cumsum())
    best = sequence.scatter(sequence.accumulate(np.fmax, sequence.gather(values)))
    np.testing.assert_array_equal(best, groups.cummax())
    ordered = Sorted.of(sequence.gather(values), sequence)
    np.testing.assert_array_equal(ordered.median(), groups.median())


def test_averages_are_rounded_once_from_the_exact_quotient() -> None:
    """Beside fractions, for counts whose products with a mean need more digits than a float has."""
    random = np.random.default_rng(7)
    sizes = random.integers(2, 60, 3_000)
    groups = np.repeat(np.arange(len(sizes)), sizes)
    values = random.standard_normal(len(groups)) * 10.0 ** random.integers(-6, 7, len(groups))
    means = mean_of(exact_sums(values, groups, len(sizes)), sizes.astype(float))
    parts = np.split(values, np.cumsum(sizes)[:-1])
    exact = [float(sum(map(Fraction, part.tolist())) / len(part)) for part in parts]
    assert means.tolist() == exact


@given(
    st.lists(st.floats(-1e12, 1e12) | st.just(np.nan), min_size=1, max_size=20), st.integers(0, 99)
)
def test_summaries_of_groups_of_one_are_the_numbers_themselves(
    numbers: list[float], seed: int
) -> None:
    values, codes = np.array(numbers), np.random.default_rng(seed).permutation(len(numbers))
    alone = Peers(codes.astype(np.intp), len(codes))
    in_order = np.empty(len(values))
    in_order[codes] = values
    for summary in (summaries.total, summaries.average, summaries.highest, summaries.lowest):
        np.testing.assert_array_equal(summary(values, alone), in_order)
        # Beside a group without marks nothing is known to be alone, and the long way is taken.
        beside = Peers(alone.codes, len(codes) + 1)
        np.testing.assert_array_equal(summary(values, beside)[:-1], in_order)
    assert np.isnan(summaries.deviation(values, alone)).all()


@pytest.mark.parametrize(
    "rising", [[1.0, 2.0, 5.0], [2.0, 1.0], [1.0, 1.0], [np.nan, 1.0], [3.0], [], [1.0, np.inf]]
)
def test_codes_of_rising_values_are_those_of_a_sort(rising: list[float]) -> None:
    column = np.array(rising)
    codes, count = codes_of(column)
    distinct, sorted_codes = np.unique(column, return_inverse=True)
    assert (codes.tolist(), count) == (sorted_codes.tolist(), max(1, len(distinct)))
