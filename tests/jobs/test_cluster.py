"""Work on a cluster of Dask that runs: two workers in processes of their own, one of which is killed."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterator
from concurrent.futures import Executor, Future, ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest

import yuzen as yz
from tests.support.command_line import Called
from tests.support.sampling import a_sample_of
from yuzen.shape.in_place.gathered import gathered
from yuzen.shape.plan.resolved import resolved
from yuzen.sources.sets.distributed import DistributedFiles

ROWS, FILES = 20_000, 4


@pytest.fixture(scope="module")
def cluster(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Any]:
    from distributed import LocalCluster

    os.environ["DASK_TEMPORARY_DIRECTORY"] = str(tmp_path_factory.mktemp("dask"))
    with LocalCluster(
        n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None
    ) as made:
        yield made


@pytest.fixture(scope="module")
def shards(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Sailings in four files of each form."""
    folder, random = tmp_path_factory.mktemp("shards"), np.random.default_rng(5)
    for form in ("parquet", "csv"):
        (folder / form).mkdir()
    for place in range(FILES):
        part = pd.DataFrame(
            {
                "route": random.choice([f"Route {i}" for i in range(12)], ROWS),
                "waters": random.choice(["North Reach", "Outer Isles"], ROWS),
                "vessel": random.integers(1, 40, ROWS).astype(str),
                "passengers": random.integers(0, 900, ROWS),
                "surplus": random.normal(0, 50, ROWS).round(2),
            }
        )
        part.loc[random.random(ROWS) < 0.05, "passengers"] = np.nan
        part.to_parquet(folder / "parquet" / f"{place}.parquet", index=False)
        part.assign(vessel="v" + part["vessel"]).to_csv(
            folder / "csv" / f"{place}.csv", index=False
        )
    return folder


MEASURES: list[dict[str, Any]] = [
    {"value": "passengers"},
    {"value": "average of passengers"},
    {"value": "highest of surplus - lowest of surplus"},
    {"value": "count of distinct vessel"},
    {"value": "total of surplus / total of passengers", "series": "waters"},
    {"value": "count of rows", "totals": ["all"]},
    {"value": "median of passengers"},
    {"value": "share of total of passengers", "data": {"keep": "surplus > 0"}},
    {"value": "deviation of surplus", "data": {"keep": 'waters = "Outer Isles" and surplus > 0'}},
]


def chart_of(place: Path, said: dict[str, Any]) -> yz.Chart:
    chart = yz.chart(place, category="route", **{"order": "by name", **said})
    return (
        chart.rule("top 3", color="favorable")
        .rule("below average", color="adverse")
        .rule("surplus negative", badge="down")
    )


@pytest.mark.sampled(3)
@pytest.mark.parametrize(
    ("said", "form"),
    # Every second: each measure from Parquet or from text, by turns.
    a_sample_of(
        [
            (said, form)
            for place, said in enumerate(MEASURES)
            for form in (("parquet", "csv") if place % 2 else ("csv", "parquet"))
        ]
    ),
)
def test_shards_are_put_together_as_they_are_read_as_one(
    said: dict[str, Any], form: str, shards: Path
) -> None:
    chart = chart_of(shards / form, said)
    with ThreadPoolExecutor(2) as executor:
        spread = chart.on(executor)
        assert isinstance(spread.stages.data, DistributedFiles)
        pd.testing.assert_frame_equal(chart.flags(), spread.flags(), check_exact=False, rtol=1e-12)


class Counting(ThreadPoolExecutor):
    """Tells what it was asked to do."""

    def __init__(self) -> None:
        super().__init__(2)
        self.asked: list[tuple[Any, ...]] = []

    def submit(self, fn: Any, /, *args: Any, **kwargs: Any) -> Future[Any]:
        self.asked.append(args)
        return super().submit(fn, *args, **kwargs)


def test_each_shard_is_grouped_by_itself_and_only_groups_come_back(shards: Path) -> None:
    with Counting() as executor:
        chart = chart_of(shards / "parquet", {"value": "passengers"}).on(executor)
        rows, _ = gathered(
            chart.stages.data, resolved(chart.stages.plan, chart.stages.data.column_names, tuple)
        )
        assert len(executor.asked) == FILES
        assert len(rows) == FILES * 12
    with Counting() as executor:
        chart = chart_of(shards / "parquet", {"value": "median of passengers"}).on(executor)
        assert len(chart.stages.marks) == 12


@pytest.mark.slow
def test_the_cluster_gives_the_same_flags_also_when_a_worker_dies(
    cluster: Any, shards: Path
) -> None:
    from distributed import Client

    said = {"value": "average of passengers"}
    chart = chart_of(shards / "csv", said)
    with Client(cluster) as client:
        executor: Executor = client.get_executor(retries=2, pure=False)
        pd.testing.assert_frame_equal(
            chart.flags(), chart.on(executor).flags(), check_exact=False, rtol=1e-12
        )
        charts = [
            (f"{word} {place}", chart_of(shards / "csv", {**said, "title": word}))
            for place in range(4)
            for word in ("one", "two")
        ]
        pids = client.run(os.getpid)
        os.kill(next(iter(pids.values())), signal.SIGKILL)
        folder = shards / "pictures"
        made = yz.save_all(charts, folder, executor=executor)
        assert [edition.error for edition in made] == [None] * len(charts)
        pd.testing.assert_frame_equal(
            chart.flags(), chart.on(executor).flags(), check_exact=False, rtol=1e-12
        )
    assert {path.read_bytes() for path in folder.glob("two-*")} == {dict(charts)["two 0"].image()}


@pytest.mark.slow
def test_pictures_flags_and_changes_from_the_command_line(
    cluster: Any, shards: Path, call: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    address = cluster.scheduler_address
    brief = tmp_path / "routes.toml"
    brief.write_text(
        f'[data]\nfile = "{shards}/parquet"\n[chart]\ncategory = "route"\nvalue = "passengers"\n'
        '[[rule]]\nwhen = "top 2"\ncolor = "favorable"\n'
    )
    (tmp_path / "broken.toml").write_text(brief.read_text().replace("top 2", "surplusses above 2"))
    plain: Called = call("flags", brief, "--format", "csv")
    assert call("flags", brief, "--format", "csv", "--on", address).out == plain.out
    told = call("draw", brief, tmp_path / "broken.toml", "-o", tmp_path / "out", "--on", address)
    assert (told.code, "broken.toml" in told.err, "surplusses" in told.err) == (2, True, True)
    assert (tmp_path / "out" / "routes.png").read_bytes() == yz.load(brief).image()
    same = call("compare", brief, shards / "csv", shards / "parquet", "--on", address)
    assert "12 marks have the same flag" in same.out
    monkeypatch.setattr("yuzen.jobs.cluster.SCHEDULER_TIMEOUT_S", 1)
    gone = call("flags", brief, "--on", "tcp://127.0.0.1:9")
    assert (gone.code, "No cluster answers at tcp://127.0.0.1:9" in gone.err) == (2, True)


class Broken(Counting):
    """Has lost its workers."""

    def submit(self, fn: Any, /, *args: Any, **kwargs: Any) -> Future[Any]:
        del fn, args, kwargs
        raised: Future[Any] = Future()
        raised.set_exception(OSError("the worker is gone"))
        return raised


class Older(Counting):
    """Has workers of another release."""

    def submit(self, fn: Any, /, *args: Any, **kwargs: Any) -> Future[Any]:
        return super().submit(fn, "0.0.9", *args[1:], **kwargs)


@pytest.mark.parametrize(
    ("executor", "message"),
    [
        (Broken(), "June: The workers could not draw it: the worker is gone."),
        (Older(), "this is yuzen 0.0.9; install one on all"),
    ],
)
def test_other_versions_and_what_breaks_is_told_with_its_name(
    executor: Executor, message: str, shards: Path, tmp_path: Path
) -> None:
    chart = chart_of(shards / "parquet", {"value": "passengers"})
    [edition] = yz.save_all({"June": chart}, tmp_path, executor=executor)
    assert message in str(edition.error)
    assert not list(tmp_path.iterdir())
    with pytest.raises(yz.YuzenError) as error:
        _ = chart.on(executor).stages.marks
    assert "the worker is gone" in str(error.value) or "yuzen 0.0.9" in str(error.value)
