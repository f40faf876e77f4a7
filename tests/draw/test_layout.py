"""The parts of a picture's layout by themselves: scales, texts, placement, furniture, badges."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise
from multiprocessing import get_context
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.font_manager import FontProperties

import yuzen as yz
from tests.support.scenes import bars_of, boxes_of, drawn
from yuzen.color.themes import LINEN
from yuzen.compose.layer import drawable
from yuzen.draw.around.page_header import PAGE_MARGIN_PX, PageHeader
from yuzen.draw.axes.axis import tick_texts, ticks_between
from yuzen.draw.axes.scale import Room, fit
from yuzen.draw.canvas import Canvas
from yuzen.draw.room.placement import cut_line, sampled, spread_out, thinned
from yuzen.draw.signs.badges import BADGE_SIZE_PX, badges_at
from yuzen.draw.text.fonts import face_of, installed
from yuzen.draw.text.measurer import ELLIPSIS, TextMeasurer
from yuzen.formats.number_format import NumberFormat
from yuzen.render.figure import figure_of
from yuzen.render.sheets import own_sheet
from yuzen.scene.badge_shapes import SHAPES
from yuzen.scene.box import Box
from yuzen.scene.primitives import Rectangles
from yuzen.scene.scene import Scene
from yuzen.scene.writing import Font

PEN = TextMeasurer(LINEN)
words = st.text(st.sampled_from("abc WM.ij"), max_size=60)
pixels = st.floats(0, 500)


@given(
    st.lists(st.tuples(st.floats(-1e9, 1e9), st.floats(0, 90)), min_size=1, max_size=20),
    st.floats(300, 2000),
)
def test_a_scale_gives_everything_room_and_wastes_none(
    marks: list[tuple[float, float]], length: float
) -> None:
    values, extra = (np.array(column) for column in zip(*marks, strict=True))
    if not np.abs(values).max() > 1e-6:
        return
    scale = fit(Room.beyond(values, extra, values < 0), length)
    ends = scale.zero + scale.unit * values
    reach = np.where(values < 0, ends - extra, ends + extra)
    assert reach.min() >= -1e-6 * length
    assert reach.max() <= length * (1 + 1e-6)
    used = max(reach.max(), scale.zero) - min(reach.min(), scale.zero)
    assert used >= length * 0.999 or scale.unit * np.abs(values).max() >= length * 0.05
    assert scale.value(scale(123.0)) == pytest.approx(
        123.0, rel=1e-6, abs=length / scale.unit * 1e-9
    )


def test_nothing_but_zeros_has_a_scale_too() -> None:
    scale = fit(Room(np.zeros(3), np.zeros(3), np.full(3, 20.0)), 500)
    assert scale(0.0) == 0
    assert scale.unit > 0


def test_infinite_values_are_drawn_a_little_beyond_the_others() -> None:
    assert drawable(np.array([1.0, np.inf, -4.0, -np.inf, np.nan])).tolist()[:4] == pytest.approx(
        [1, 4.6, -4, -4.6]
    )
    assert drawable(np.array([np.inf])).tolist() == [1.0]


@given(words, st.sampled_from(["title", "name", "number"]), st.booleans())
def test_widths_are_those_that_are_drawn(text: str, use: str, bold: bool) -> None:
    sheet = own_sheet(400, 300, "white")
    size, weight = LINEN.sizes[use], "bold" if bold else "normal"
    font = FontProperties(family=LINEN.fonts[0], size=size, weight=weight)
    made = sheet.figure.text(0.1, 0.5, text, fontproperties=font)
    renderer = FigureCanvasAgg(sheet.figure).get_renderer()
    drawn = made.get_window_extent(renderer).width if text else 0.0
    assert PEN.width(text, use, bold=bold) == pytest.approx(drawn, abs=1)
    _, tall, below = renderer.get_text_width_height_descent(text, font, ismath=False)
    assert PEN.face(use, bold=bold).reach(text) == pytest.approx((tall - below, below))
    assert PEN.advance(text.strip(), use, bold=bold) == pytest.approx(
        PEN.width(text.strip(), use, bold=bold), abs=1 + 0.12 * len(text)
    )


def has_file(number: int) -> bool:
    return id(PEN.scaled(1).face("title").file) == number


def test_a_process_that_was_forked_opens_its_own_font() -> None:
    """Two that read on in one open file get parts of each other's letters."""
    here = id(PEN.scaled(1).face("title").file)
    with get_context("fork").Pool(1) as pool, ThreadPoolExecutor(1) as thread:
        assert not pool.apply(has_file, [here])
        assert not thread.submit(has_file, here).result()
    assert has_file(here)


@given(words, st.floats(20, 400))
def test_cut_texts_fit_and_are_beginnings(text: str, room: float) -> None:
    cut = PEN.cut(text, "name", room)
    assert cut == text or cut.endswith(ELLIPSIS)
    assert PEN.width(cut, "name") <= max(room, PEN.width(ELLIPSIS, "name"))
    assert text.startswith(cut.removesuffix(ELLIPSIS))
    if cut != text:
        longer = text[: len(cut.removesuffix(ELLIPSIS)) + 2].rstrip() + ELLIPSIS
        assert PEN.width(longer, "name") > room or longer.rstrip(ELLIPSIS) == cut.rstrip(ELLIPSIS)


@given(words, st.floats(60, 500), st.integers(1, 4))
def test_broken_texts_fit_and_lose_no_word_but_at_the_end(
    text: str, room: float, lines: int
) -> None:
    broken = PEN.broken(text, "title", room, lines=lines)
    assert len(broken) <= lines
    assert all(
        PEN.width(line, "title") <= max(room, PEN.width(ELLIPSIS, "title")) for line in broken
    )
    if not any(ELLIPSIS in line for line in broken):
        assert " ".join(broken).split() == text.split()


def test_the_first_font_that_is_installed_is_used() -> None:
    assert installed(("No Such Font", "DejaVu Serif"))[:2] == ("DejaVu Serif", "DejaVu Sans")


@given(st.lists(st.tuples(pixels, st.floats(1, 60)), min_size=1, max_size=30), st.data())
def test_what_is_thinned_never_overlaps_and_is_kept_when_it_fits(
    places: list[tuple[float, float]], data: Any
) -> None:
    centers, sizes = (np.array(column) for column in zip(*places, strict=True))
    wanted = np.array(
        data.draw(st.lists(st.booleans(), min_size=len(places), max_size=len(places)))
    )
    first = np.array(data.draw(st.lists(st.booleans(), min_size=len(places), max_size=len(places))))
    kept = thinned(centers, sizes, wanted, first)
    assert not (kept & ~wanted).any()
    order = np.argsort(centers[kept])
    low = (centers - sizes / 2)[kept][order]
    high = (centers + sizes / 2)[kept][order]
    assert (low[1:] >= high[:-1] - 2).all()
    assert not wanted.any() or kept.any()
    alone = [
        m
        for m in np.flatnonzero(wanted & first)
        if (np.abs(centers - centers[m]) >= (sizes + sizes[m]) / 2 + 3).sum() == len(places) - 1
    ]
    assert kept[alone].all()


@given(st.lists(st.tuples(pixels, st.floats(1, 40)), min_size=1, max_size=10))
def test_what_is_spread_out_is_apart_and_inside(places: list[tuple[float, float]]) -> None:
    centers, sizes = [c for c, _ in places], [s for _, s in places]
    found = spread_out(centers, sizes, 0, 500)
    order = sorted(range(len(found)), key=lambda i: (centers[i], i))
    for before, after in pairwise(order):
        assert found[after] - found[before] >= (sizes[before] + sizes[after]) / 2 - 1e-6
    if sum(sizes) <= 500:
        assert all(
            s / 2 - 1e-6 <= c <= 500 - s / 2 + 1e-6 for c, s in zip(found, sizes, strict=True)
        )


@given(st.lists(st.tuples(st.floats(-50, 600), st.floats(0, 100)), max_size=12))
def test_a_cut_line_and_its_gaps_are_the_whole_line(gaps: list[tuple[float, float]]) -> None:
    array = np.array([[low, low + size] for low, size in gaps]).reshape(-1, 2)
    left = cut_line(0, 500, array)
    fine = np.linspace(0.05, 499.95, 2_000)
    covered = ((array[:, :1] < fine) & (fine < array[:, 1:])).any(axis=0)
    drawn = np.zeros(len(fine), dtype=bool)
    for low, high in left:
        drawn |= (low < fine) & (fine < high)
    assert (drawn == ~covered).all()


@given(st.integers(1, 5_000), st.integers(10, 300), st.randoms(use_true_random=False))
def test_samples_are_few_and_hold_some_of_the_first(count: int, most: int, random: Any) -> None:
    first = np.array([random.random() < 0.01 for _ in range(count)])
    chosen = sampled(count, most, first)
    assert len(chosen) <= max(most + 2, 2)
    assert (np.diff(chosen) > 0).all()
    if first.sum() <= most // 2:
        assert set(np.flatnonzero(first)) <= set(chosen.tolist())


@pytest.mark.parametrize(
    ("ticks", "texts"),
    [
        ([0, 0.5, 1], ["0.0", "0.5", "1.0"]),
        ([-5_000, 0, 5_000], ["−5,000", "0", "5,000"]),
        ([0, 10_000, 20_000], ["0k", "10k", "20k"]),
        ([0, 2.5e6, 5e6], ["0.0M", "2.5M", "5.0M"]),
        ([0, 3e9], ["0B", "3B"]),
    ],
)
def test_numbers_of_an_axis(ticks: list[float], texts: list[str]) -> None:
    assert tick_texts(np.array(ticks, dtype=float), NumberFormat()) == texts


@pytest.mark.parametrize("name", SHAPES)
def test_badges_fill_their_square(name: str) -> None:
    corners = np.concatenate(SHAPES[name])
    assert np.abs(corners).max() <= 1
    assert np.ptp(corners, axis=0).min() >= 1.3
    canvas = Canvas(LINEN, 200, 100)
    canvas.page.add(badges_at([name], np.array([[100.0, 50.0]]), np.array([[0.0, 0.0, 0.0]])))
    dark = dark_pixels(canvas.scene())
    assert len(dark) > 30
    assert np.abs(dark - [50, 100]).max() <= BADGE_SIZE_PX / 2 + 1.5


def dark_pixels(scene: Scene) -> np.ndarray[Any, Any]:
    """The rows and columns of a picture's dark pixels, shape (n, 2)."""
    agg = FigureCanvasAgg(figure_of(scene))
    agg.draw()
    return np.argwhere(np.asarray(agg.buffer_rgba())[:, :, 0] < 128)


def test_rectangles_are_where_their_corners_say() -> None:
    canvas = Canvas(LINEN, 200, 100)
    plane = canvas.plot(Box(50, 0, 150, 100), (0, 10), (0, 10))
    assert plane.area is not None
    (left, top), (right, bottom) = plane.area.places(np.array([[1.0, 9.0], [4.0, 2.0]])).tolist()
    corners = np.array([[left, top, right, bottom]])
    plane.add(Rectangles(role="bars", corners=corners, fill=np.array([[0.0, 0.0, 0.0, 1.0]])))
    dark = dark_pixels(canvas.scene())
    assert dark.min(axis=0).tolist() == [10, 60]
    assert dark.max(axis=0).tolist() == [79, 89]


LONG = "A title of many words that does not fit into one line of a page of this width " * 8


@pytest.mark.parametrize("width", [400, 800, 1280, 2000])
def test_furniture_stays_on_pages_of_any_width(width: int) -> None:
    rows = {"item": list("abcdef"), "v": [6, 5, 4, 3, 2, 1]}
    chart = yz.chart(
        rows,
        category="item",
        value="v",
        title=LONG,
        subtitle=LONG,
        footer=LONG,
        size={"width": width},
    )
    for place in range(1, 6):
        chart = chart.rule(f"rank {place}", color="notice", key=f"{place}: {LONG}")
    surround = PageHeader.of(chart.stages.page, PEN)
    assert len(surround.title) == 2
    assert surround.title[1].endswith(ELLIPSIS)
    for _, box in boxes_of(drawn(chart)):
        assert box.x0 >= PAGE_MARGIN_PX / 2
        assert box.x1 <= width


@pytest.mark.parametrize("height", [300, 1000])
def test_a_height_that_is_told_is_kept(height: int) -> None:
    rows = {"item": [f"i{k}" for k in range(30)], "v": range(30)}
    for kind in ("bar", "column"):
        chart = yz.chart(
            rows, category="item", value="v", kind=kind, size={"height": height, "width": 900}
        )
        assert (chart.figure().get_size_inches() * 100).tolist() == [900, height]
        assert (drawn(chart).width, drawn(chart).height) == (900, height)


def test_rows_are_as_high_as_they_are_told() -> None:
    rows = {"item": [f"i{i}" for i in range(40)], "v": [float(i + 1) for i in range(40)]}
    pages = [
        drawn(yz.chart(rows, category="item", value="v", size={"row_height": height}))
        for height in (30, 50)
    ]
    heights = [page.height for page in pages]
    assert heights[1] - heights[0] == pytest.approx(40 * 20)


@pytest.mark.parametrize("kind", ["bar", "column"])
@pytest.mark.parametrize("width", [0.2, 0.5, 1.0])
@pytest.mark.parametrize("series", [None, "s"])
def test_bars_fill_the_part_of_the_pitch_that_is_told(
    kind: Any, width: float, series: str | None
) -> None:
    rows = {"c": ["a", "a", "b", "b"], "s": list("xyxy"), "v": [3.0, 4, 5, 6]}
    said = {"series": series} if series else {}
    chart = yz.chart(rows, kind=kind, category="c", value="v", size={"bar_width": width}, **said)  # type: ignore[arg-type]
    bars = bars_of(drawn(chart)).corners
    low, high = (bars[:, 1], bars[:, 3]) if kind == "bar" else (bars[:, 0], bars[:, 2])
    filled = np.abs(high - low).sum() / 2  # of two rows, which are one unit each
    assert filled == pytest.approx(width if series is None else width * 0.92)
    note = "bar_width is for bars, so this line chart does not show it."
    assert (
        note
        in yz.chart(
            rows,
            kind="line",
            category="c",
            value="v",
            size={"bar_width": width},
            **said,  # type: ignore[arg-type]
        ).notes()
    )


@pytest.mark.parametrize("letter", ["漢", "한", "⇶", "a", "\N{FULLWIDTH LATIN CAPITAL LETTER A}"])
def test_a_text_is_as_wide_as_its_letters_also_of_letters_that_the_font_lacks(letter: str) -> None:
    face = face_of(Font(("DejaVu Sans",), 11.0))
    one = face.width(letter)
    assert one > 0
    assert face.width(letter * 5) == pytest.approx(5 * one, abs=2.5)
    assert sum(face.steps(letter * 5)) == pytest.approx(face.width(letter * 5), abs=2.5)
    between = face.width(f"n{letter * 3}n") - face.width("nn")
    assert between == pytest.approx(3 * one, abs=2.5)


def test_a_text_that_no_page_holds_is_about_as_wide_as_its_letters() -> None:
    face = face_of(Font(("DejaVu Sans",), 11.0))
    few, many = face.width("Brinewick " * 100), face.width("Brinewick " * 10_000)
    assert many == pytest.approx(few * 100, rel=0.01)


def test_between_equal_ends_there_are_no_ticks() -> None:
    assert ticks_between(5.0, 5.0).tolist() == ticks_between(7.0, 5.0).tolist() == []
