"""Long arrays: several threads share results, and give what one thread gives."""

from __future__ import annotations

import os
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, get_ident
from time import sleep

import numpy as np
import pandas as pd
import pytest

import yuzen as yz
from tests.support.processes import printed_by
from yuzen.rules.memo import Memo
from yuzen.threads import LONG_ARRAY, for_each

FORKING = """
import os, threading, yuzen
from yuzen.rules.memo import Memo
memo, begun, end = Memo(), threading.Event(), threading.Event()
def slow():
    begun.set()
    end.wait()
    return 1
threading.Thread(target=lambda: memo.once("key", slow)).start()
begun.wait()
child = os.fork()
if not child:
    os._exit(memo.once("key", lambda: 2))
print(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), flush=True)
end.set()
"""


@pytest.mark.parametrize("length", [10, LONG_ARRAY])
def test_results_stand_in_the_order_of_the_items(length: int) -> None:
    def late(item: int) -> tuple[int, bool]:
        sleep(0.02 / (1 + item))
        return item, np.geterr()["divide"] == "ignore"

    with np.errstate(divide="ignore"):
        assert for_each(late, range(6), length) == [(item, True) for item in range(6)]


def test_few_numbers_need_no_thread() -> None:
    assert set(for_each(lambda _: get_ident(), range(4), LONG_ARRAY - 1)) == {get_ident()}


@pytest.mark.skipif((os.cpu_count() or 1) < 2, reason="one processor has one thread")
def test_many_numbers_are_shared_out() -> None:
    both = Barrier(2, timeout=60)  # which one thread alone would never pass
    for_each(lambda _: both.wait(), range(2), LONG_ARRAY)


@pytest.mark.parametrize("length", [10, LONG_ARRAY])
def test_the_first_failure_is_raised(length: int) -> None:
    def fails(item: int) -> None:
        sleep(0.02 / (1 + item))
        raise ValueError(item)

    with pytest.raises(ValueError, match=r"^0$"):
        for_each(fails, range(4), length)


def test_what_has_not_begun_when_one_fails_is_not_begun() -> None:
    begun = []

    def fails(item: int) -> None:
        begun.append(item)
        sleep(0.02)
        raise ValueError(item)

    with pytest.raises(ValueError, match=r"^0$"):
        for_each(fails, range(100), LONG_ARRAY)
    assert len(begun) < 50


def test_a_shared_result_is_worked_out_once() -> None:
    memo, asked = Memo({"known": 7}), []

    def make() -> int:
        asked.append(memo.once("known", lambda: 0))
        sleep(0.05)
        return len(asked)

    with ThreadPoolExecutor(4) as pool:
        results = list(pool.map(lambda _: memo.once("key", make), range(4)))
    assert (results, asked) == ([1] * 4, [7])


@pytest.mark.skipif(not hasattr(os, "fork"), reason="nothing forks on this system")
def test_a_forked_child_does_not_wait_for_a_thread_that_it_lacks() -> None:
    assert printed_by(FORKING) == "2"


def test_many_marks_are_judged_as_pandas_judges_them() -> None:
    random = np.random.default_rng(3)
    count = LONG_ARRAY + 1
    rows = pd.DataFrame(
        {
            "item": np.arange(count),
            "group": random.integers(0, 9, count).astype(str),
            "value": random.integers(-500, 500, count).astype(float),
        }
    )
    rows.loc[rows.index % 101 == 0, "value"] = np.nan
    groups = rows.groupby("group")["value"]
    expected = {
        "value above average within group": rows["value"] > groups.transform("mean"),
        "rank 2 to 900 within group": groups.rank("min", ascending=False).between(2, 900),
        "falls by 100 within group": -groups.diff() >= 100,
        "lowest within group": rows["value"] == groups.transform("min"),
        "value negative": rows["value"] < 0,
    }
    chart = yz.chart(rows, category="item", value="value", kind="line")
    for condition in expected:
        chart = chart.rule(condition, color="adverse", badge="dot")
    truths = chart.stages.verdict.whole.truths
    for condition, truth in zip(expected, truths, strict=True):
        assert np.array_equal(truth == 1, expected[condition].to_numpy()), condition
