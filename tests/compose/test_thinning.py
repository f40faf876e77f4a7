"""Very many marks: the picture of some of them looks like that of all, and says what is true of all."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest

import yuzen as yz
from tests.support.sampling import a_sample_of
from tests.support.scenes import texts_of
from yuzen.compose.thinning import MAX_MARKS
from yuzen.page.plot import Plot
from yuzen.page.scatter import Scatter
from yuzen.render.raster import raster

COUNT = 30_000
STEPS = np.random.default_rng(42).normal(size=(3, COUNT))
COURSE = np.cumsum(STEPS[0])
MINUTES = pd.date_range("2026-01-01", periods=COUNT, freq="min")
ENDS: Any = {"low": -400, "high": 600}  # where the room for texts would decide otherwise
UNLIKE = 48  # of 255, by which a pixel is no paper
SAME_HUE = 0.97  # the cosine between inks


def lines(**keys: Any) -> yz.Chart:
    rows = pd.DataFrame({"moment": MINUTES, "v": COURSE, "w": COURSE[::-1] / 2})
    chart = yz.chart(
        rows,
        category="moment",
        value="v",
        title="{total:,.0f} in {n_all}",
        kind=keys.pop("kind", "line"),
        scale=ENDS,
        **keys,
    )
    return chart.given(n_all=COUNT)


def ruled(chart: yz.Chart) -> yz.Chart:
    chart = chart.rule("negative", name="loss", color="adverse", key='{count "loss"} below zero')
    return chart.rule("highest", color="favorable").rule("rises by 40%", color="notice", badge="up")


def points() -> yz.Chart:
    rows = pd.DataFrame({"id": np.arange(COUNT), "x": STEPS[1], "y": STEPS[2]})
    chart = yz.chart(
        rows, kind="scatter", category="id", value="y", across="x", title="{average:.3f}"
    )
    chart = chart.rule("outlier", color="adverse").rule(
        "top 3", on="marker", size=12, name="three", color="favorable"
    )
    return chart.reference("average + deviation")


def with_series() -> yz.Chart:
    half = COUNT // 2
    rows = pd.DataFrame(
        {"moment": np.tile(MINUTES[:half], 2), "s": np.repeat(["a", "b"], half), "v": COURSE}
    )
    return ruled(yz.chart(rows, kind="line", category="moment", value="v", series="s", scale=ENDS))


def with_gaps() -> yz.Chart:
    values = COURSE.copy()
    values[4_000:9_000] = np.nan
    days = pd.date_range("1944-01-01", periods=COUNT)
    rows = pd.DataFrame({"moment": days, "v": values}).drop(index=range(20_000, 24_000))
    return ruled(yz.chart(rows, kind="line", category="moment", value="v", grain="day", scale=ENDS))


CHARTS: dict[str, Callable[[], yz.Chart]] = {
    "line": lambda: ruled(lines()),
    "parts": lambda: lines().rule("always", part="above average", color="favorable", name="p"),
    "area": lambda: ruled(lines(kind="area")),
    "shade": lambda: lines(kind="area").rule("always", shade={"colors": ["adverse", "favorable"]}),
    "target": lambda: ruled(lines()).reference("average", label="mean {average:,.2f}").reference("w", within=["moment"]),
    "layers": lambda: ruled(lines(kind="line")).layer("own", kind="line", value="v").layer("half", kind="line", value="w"),
    "noted": lambda: ruled(lines()).note("deep", when="lowest"),
    "numbers": lambda: ruled(yz.chart({"k": np.arange(COUNT) ** 2, "v": COURSE}, kind="line", category="k", value="v", scale=ENDS)),
    "series": with_series,
    "gaps": with_gaps,
    "points": points,
}  # fmt: skip


def layers_of(chart: yz.Chart) -> int:
    plot = chart.stages.page.plots[0]
    assert isinstance(plot, Plot | Scatter)
    return len(plot.of_chart) if isinstance(plot, Scatter) else len(plot.layers[0].marks)


def hues(picture: Any) -> Any:
    """What each pixel has of which ink, however thin: (0, 0, 0) on paper, else of length 1."""
    ink = 255.0 - picture[:, :, :3]
    return (
        np.where(ink.max(axis=2, keepdims=True) > UNLIKE, ink, 0)
        / np.maximum(1, np.linalg.norm(ink, axis=2))[:, :, None]
    )


def plot_of(chart: yz.Chart) -> Any:
    """The pixels between the key and the names of the axis."""
    return raster(chart.stages.scene, 100).astype(int)[100:700]


def strange(picture: Any, other: Any) -> float:
    """The share of what is drawn that has no ink of its hue within two pixels in another picture."""
    ink, others = hues(picture), hues(other)
    rows, columns = np.nonzero(ink[3:-3, 3:-3].any(axis=2))
    own, alike = ink[rows + 3, columns + 3], np.zeros(len(rows), dtype=bool)
    for down in range(1, 6):
        for right in range(1, 6):
            alike |= (others[rows + down, columns + right] * own).sum(axis=1) > SAME_HUE
    return float(np.mean(~alike))


@pytest.mark.sampled(2)
@pytest.mark.parametrize(("name",), a_sample_of([(name,) for name in CHARTS], every=5))  # noqa: PT006 - of cases
def test_a_thinned_picture_shows_and_says_what_the_whole_one_does(
    name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    whole, few = CHARTS[name]().label(""), CHARTS[name]().label("")
    pixels = plot_of(whole)
    monkeypatch.setattr("yuzen.compose.thinning.MAX_MARKS", 1_000)
    monkeypatch.setattr("yuzen.compose.thinning.MAX_KEPT_FLAGS", 200)
    assert 20 < layers_of(few) < layers_of(whole) * 0.8
    thin = plot_of(few)
    assert strange(thin, pixels) < 0.02
    assert strange(pixels, thin) < 0.02
    assert few.stages.page.words == whole.stages.page.words
    assert few.stages.page.key == whole.stages.page.key
    pd.testing.assert_frame_equal(few.flags(), whole.flags())
    assert few.alt() == whole.alt()
    points = "points" if name == "points" else "points of lines"
    known = np.count_nonzero(np.isfinite(whole.stages.context.values))
    drawn = f"{layers_of(few):,} of {known:,} {points} are drawn"
    assert [
        note
        for note in few.notes()
        if drawn in note and "Flags, numbers and texts are of all." in note
    ]


def test_every_flagged_mark_is_drawn_where_they_are_few(monkeypatch: pytest.MonkeyPatch) -> None:
    chart = points()
    flagged = np.flatnonzero(chart.stages.verdict.flagged)
    monkeypatch.setattr("yuzen.compose.thinning.MAX_MARKS", 1_000)
    plot = chart.stages.page.plots[0]
    assert isinstance(plot, Scatter)
    assert set(flagged.tolist()) <= set(plot.of_chart.tolist())
    assert plot.flagged.sum() == len(flagged)


def test_a_point_that_is_drawn_has_the_shade_that_it_has_among_all(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    def shaded() -> Scatter:
        shade: Any = {"colors": ["adverse", "favorable"], "of": "x"}
        plot = points().rule("always", shade=shade).stages.page.plots[0]
        assert isinstance(plot, Scatter)
        return plot

    whole = shaded()
    monkeypatch.setattr("yuzen.compose.thinning.MAX_MARKS", 1_000)
    few = shaded()
    assert len(few.of_chart) < len(whole.of_chart)
    place = {mark: place for place, mark in enumerate(whole.of_chart.tolist())}
    same = [place[mark] for mark in few.of_chart.tolist()]
    assert np.array_equal(few.points.fill, whole.points.fill[same])
    assert len(np.unique(few.points.fill, axis=0)) > 100


@pytest.mark.parametrize("kind", ["bar", "column", "table", "dots"])
def test_marks_that_are_drawn_one_by_one_are_refused(kind: Any) -> None:
    rows = {"k": np.arange(MAX_MARKS + 1), "v": np.ones(MAX_MARKS + 1)}
    with pytest.raises(
        yz.YuzenError, match="100,001 different values, and a picture holds 100,000 at most"
    ):
        yz.chart(rows, kind=kind, category="k", value="v").image()


@pytest.mark.parametrize("kind", ["pptx", "xlsx"])
def test_slides_and_workbooks_hold_all_marks_or_refuse(kind: str) -> None:
    rows = {"k": np.arange(MAX_MARKS + 1), "v": np.ones(MAX_MARKS + 1)}
    with pytest.raises(yz.YuzenError, match="a slide or a workbook holds 100,000 at most"):
        yz.chart(rows, kind="line", category="k", value="v").image(kind)


def test_a_layer_of_bars_is_not_thinned() -> None:
    rows = {"k": np.arange(MAX_MARKS + 1), "v": np.ones(MAX_MARKS + 1)}
    chart = yz.chart(rows, kind="line", category="k", value="v").layer("b", kind="bar", value="v")
    with pytest.raises(yz.YuzenError, match="a picture holds 100,000 at most"):
        chart.image()


def test_marks_without_numbers_are_not_said_to_be_left_out() -> None:
    values = np.full(MAX_MARKS + 1, np.nan)
    values[[5, 700]] = 3.0
    chart = yz.chart(
        {"k": np.arange(len(values)), "v": values}, kind="line", category="k", value="v"
    )
    assert not [note for note in chart.notes() if "are drawn" in note]


def test_a_picture_of_very_many_marks_says_that_it_cannot_answer(tmp_path: Path) -> None:
    rows = {"k": np.arange(MAX_MARKS + 1), "v": np.arange(MAX_MARKS + 1.0) % 97}
    chart = yz.chart(rows, kind="line", category="k", value="v").rule("v = 96", color="adverse")
    chart.save(tmp_path / "line.png")
    assert (tmp_path / "line.png").stat().st_size < 300_000
    with pytest.raises(
        yz.YuzenError, match="of 100,001 marks, which are too many to be kept"
    ) as caught:
        yz.load_picture(tmp_path / "line.png")
    assert caught.value.code == "data-picture"
    assert "1,030 of 100,001 flagged" in texts_of(chart.stages.scene)


@pytest.mark.parametrize("kept", ["marks.", "marks.abc", "marks.1e9", "marks.9999999999999999"])
def test_such_a_record_that_somebody_has_changed_is_damaged(kept: str, tmp_path: Path) -> None:
    yz.chart({"k": ["a"], "v": [1]}, category="k", value="v").save(tmp_path / "one.svg")
    text = (tmp_path / "one.svg").read_text("utf-8")
    version = text.split("yuzen-record:")[1].split(":")[0]
    (tmp_path / "one.svg").write_text(
        f"<svg><!-- yuzen-record:{version}:{kept}:end --></svg>", "utf-8"
    )
    with pytest.raises(yz.YuzenError, match="record in this picture is damaged"):
        yz.load_picture(tmp_path / "one.svg")
