"""Places of words: the ground against brute force, and what charts do when there is little room."""

from __future__ import annotations

from itertools import combinations, pairwise
from pathlib import Path
from shutil import copy
from typing import Any

import matplotlib as mpl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tools.legibility.faults import written_faults

import yuzen as yz
from tests.support.sampling import examples
from tests.support.scenes import boxes_of, drawn, plots, seen, spot, straight_lines, upward
from yuzen.color.difference import EYES, apart
from yuzen.color.named import contrast
from yuzen.color.themes import TEXT_SIZES_PT, THEMES
from yuzen.draw.room.choices import Choices, placed
from yuzen.draw.room.occupancy import CURVE, JOIN, NO_MARK, SPREAD_PX, STROKE, TEXT, Occupancy
from yuzen.draw.room.placement import spread_out
from yuzen.draw.text.font_reader import path_of_font
from yuzen.draw.text.fonts import box_of
from yuzen.render.scenes import scene_of
from yuzen.scene.box import Box
from yuzen.scene.scene import Scene
from yuzen.scene.writing import WrittenLine

ROOM = Box(0, 0, 40, 30)
pixel_boxes = st.tuples(
    st.integers(0, 34), st.integers(0, 24), st.integers(1, 12), st.integers(1, 10)
).map(lambda box: (float(box[0]), float(box[1]), float(box[0] + box[2]), float(box[1] + box[3])))


def covered(box: tuple[float, ...]) -> set[tuple[int, int]]:
    """The pixels of a box."""
    left, top, right, bottom = map(int, box)
    return {(x, y) for x in range(left, right) for y in range(top, bottom)}


@given(
    st.lists(pixel_boxes, max_size=5),
    st.lists(st.tuples(pixel_boxes, st.sampled_from([TEXT, CURVE, JOIN, STROKE])), max_size=5),
    pixel_boxes,
    st.integers(0, 5),
    st.sampled_from([0, STROKE, STROKE | JOIN]),
)
def test_a_place_is_free_where_every_pixel_is(
    marks: list[Any], others: list[tuple[Any, int]], box: Any, inside_mark: int, ignoring: int
) -> None:
    ground, owner = Occupancy(ROOM), {}
    for number, one in zip(
        ground.add_marks(np.array(marks).reshape(-1, 4)).tolist(), marks, strict=True
    ):
        owner.update(dict.fromkeys(covered(one), number))
    for one, what in others:
        ground.add(np.array([one]), what)
    blocked = {pixel for one, what in others if not what & ignoring for pixel in covered(one)}
    expected = all(owner.get(p, NO_MARK) == inside_mark and p not in blocked for p in covered(box))
    assert ground.free(box, inside_mark, ignoring=ignoring) == expected
    assert ground.texts.tolist() == [list(one) for one, what in others if what == TEXT]


@given(
    st.lists(pixel_boxes, max_size=4),
    st.lists(
        st.tuples(*[st.integers(-150, 170)] * 2, *[st.integers(1, 20)] * 2), min_size=1, max_size=9
    ),
)
def test_boxes_on_paper_are_free_where_they_are_on_it_and_nothing_is_in_them(
    texts: list[Any], places: list[tuple[int, ...]]
) -> None:
    """Beside a look at each box by itself, also of boxes that lie beyond an edge."""
    ground = Occupancy(ROOM)
    for text in texts:
        ground.add(np.array([text]), TEXT)
    boxes = np.array([[x, y, x + wide, y + tall] for x, y, wide, tall in places], dtype=float)
    # The paper goes on beyond the room by as much as texts may stand out of it.
    edges = np.array([ROOM.left, ROOM.top, ROOM.right, ROOM.bottom]) + SPREAD_PX * np.array(
        [-1, -1, 1, 1]
    )
    beyond = [
        box[0] < edges[0] or box[1] < edges[1] or box[2] > edges[2] or box[3] > edges[3]
        for box in boxes
    ]
    each = [
        not off and not any(covered(tuple(box)) & covered(text) for text in texts)
        for box, off in zip(boxes.tolist(), beyond, strict=True)
    ]
    assert ground.free_on_paper(boxes).tolist() == each


@given(st.lists(st.lists(pixel_boxes, min_size=3, max_size=3), min_size=1, max_size=8))
def test_every_text_takes_its_first_place_that_is_left(choices: list[list[Any]]) -> None:
    found = placed(Occupancy(ROOM), Choices.on_paper(np.array(choices)))
    taken: list[set[tuple[int, int]]] = []
    for own, choice in zip(choices, found.tolist(), strict=True):
        wide = [covered((box[0] - 2, box[1], box[2] + 2, box[3])) for box in own]
        free = [
            place for place, pixels in enumerate(wide) if not any(pixels & other for other in taken)
        ]
        assert choice == (free[0] if free else -1)
        if free:
            taken.append(covered(own[choice]))


def test_lines_to_texts_are_in_the_way_of_what_comes_later() -> None:
    ground = Occupancy(ROOM)
    choices = np.array([[[10.0, 0, 14, 4]], [[6.0, 8, 18, 12]]])
    leads = np.array([[[11.0, 4, 12, 20]], [[np.nan] * 4]])
    assert placed(ground, Choices.on_paper(choices, leads)).tolist() == [0, -1]


def numbers(scene: Scene) -> list[WrittenLine]:
    """What is written at marks, by its size or its weight."""
    return [line for line in scene.texts if line.text[:1].isdigit() or line.text[:1] == "−"]


def columns(values: list[float], width: int, **said: Any) -> yz.Chart:
    rows = {"item": [f"r{place}" for place in range(len(values))], "v": values}
    return yz.chart(
        rows,
        kind="column",
        category="item",
        value="v",
        order="as given",
        size={"width": width},
        footer=" ",
        **said,
    )


@pytest.mark.parametrize(
    ("width", "text", "size"), [(1280, "123,456", 11), (900, "123k", 11), (640, "123k", 9.46)]
)
def test_numbers_are_written_shorter_and_then_smaller_before_any_is_left_out(
    width: int, text: str, size: float
) -> None:
    values = [123_456.0 + 311 * (place % 5) for place in range(14)]
    chart = columns(values, width)
    own = [line for line in numbers(drawn(chart)) if line.text == text]
    assert own
    assert own[0].font.size == pytest.approx(size)
    assert chart.notes() == []


@settings(max_examples=examples(25))
@given(st.integers(0, 10_000))
def test_exceptions_are_never_left_out_for_others(seed: int) -> None:
    draw_from = np.random.default_rng(seed)
    values = np.round(draw_from.normal(0, 50_000, int(draw_from.integers(3, 60))), 1).tolist()
    chart = columns(values, int(draw_from.choice([400, 640, 1280]))).rule("top 4", color="adverse")
    chart = chart.label("{v:,.1f}")
    page = chart.stages.page
    layer = page.charts[0].layers[0]
    texts = np.array(layer.labels[0].pieces[0].texts)
    written = {line.text for line in scene_of(page).texts}
    there = np.array([text in written for text in texts])
    assert there[layer.marks.flagged].all() or not there[~layer.marks.flagged].any()


def test_a_number_goes_past_a_tick_and_a_line_stops_before_a_number() -> None:
    rows = {"item": list("abcd"), "g": list("xxyy"), "v": [50.0, 40.0, 30.0, 20.0]}
    chart = yz.chart(rows, category="item", value="v", order="as given").reference(
        "average", within=["g"]
    )
    figure = drawn(chart)
    boxes = dict(boxes_of(figure))
    references = seen(figure, "reference")
    ticks = [upward(figure, line) for made in references for line in made.shape.lines()]
    assert len(ticks) == 4, "none is broken"
    for (x, low), (_, high) in ticks:
        for text in ("50", "40", "30", "20"):
            box = boxes[text]
            beside = box.x1 + 3 <= x or x + 3 <= box.x0
            assert beside or max(low, high) < box.y0 or min(low, high) > box.y1


def test_names_under_columns_stand_level_and_are_broken_or_shortened() -> None:
    names = ["Quarrel Head", "Vane Harbour", "Ninefathom", "Eelstone"] * 4
    rows = {"item": [f"{name} {place}" for place, name in enumerate(names)], "v": range(16)}
    chart = yz.chart(rows, kind="column", category="item", value="v", size={"width": 1000})
    lines = [
        line for line in drawn(chart).texts if any(line.text.startswith(name[:4]) for name in names)
    ]
    assert len({round(line.foot) for line in lines}) == 1
    assert all(
        box_of(one).right < box_of(other).left
        for one, other in pairwise(sorted(lines, key=lambda line: line.left))
    )
    assert any("names cut" in note for note in chart.notes())
    wide = yz.chart(rows, kind="column", category="item", value="v", size={"width": 1800})
    assert wide.notes() == []
    assert len({round(line.foot) for line in drawn(wide).texts if line.text.startswith("Eel")}) == 1


def test_the_name_of_a_line_stands_beside_its_last_point() -> None:
    rows = {
        "m": ["a", "b", "c", "d"] * 2,
        "s": ["one"] * 4 + ["two"] * 4,
        "v": [1.0, 5, 3, 8, 2, 2, 9, 2],
    }
    figure = drawn(
        yz.chart(rows, kind="line", category="m", value="v", series="s", order="as given")
    )
    boxes = dict(boxes_of(figure))
    for name, value in (("one", 8.0), ("two", 2.0)):
        x, y = spot(figure, 3, value)
        assert boxes[name].x0 - x == pytest.approx(8, abs=1)
        assert boxes[name].y0 < y < boxes[name].y1


def test_labels_of_references_stand_in_rows_of_their_own() -> None:
    rows = {"item": list("abcdefgh"), "v": [10.0, 11, 12, 13, 14, 15, 16, 17]}
    chart = yz.chart(rows, category="item", value="v", size={"width": 700})
    for place, at in enumerate(("average", "median", "average + 1", "median - 1")):
        chart = chart.reference(at, label=f"a long label, number {place}")
    boxes = [box for text, box in boxes_of(drawn(chart)) if text.startswith("a long label")]
    assert len(boxes) == 4
    assert not any(one.overlaps(other) for one, other in combinations(boxes, 2))


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_a_total_belongs_to_the_group_before_it(kind: Any) -> None:
    rows = {"item": list("abcd"), "g": list("xxyy"), "v": [4.0, 3, 2, 1]}
    chart = yz.chart(rows, kind=kind, category="item", value="v", totals=["g"], order="as given")
    places = chart.stages.page.charts[0].axes.category.positions
    assert np.diff(places).tolist() == pytest.approx([1, 1, 1.45, 1, 1])


@pytest.mark.parametrize(
    ("values", "ticks", "unit"),
    [
        ([2e-7, 8e-7], {"0", "2", "4", "6", "8"}, "×10⁻⁷"),
        ([3e15, 9e15], {"0", "2", "4", "6", "8"}, "×10¹⁵"),
        ([3e9, 9e9], {"0B", "2B", "4B", "6B", "8B"}, None),
    ],
)
@pytest.mark.parametrize("kind", ["line", "area"])
def test_an_axis_of_far_numbers_says_its_power_once(
    kind: Any, values: list[float], ticks: set[str], unit: str | None
) -> None:
    rows = {"item": ["a", "b"], "v": values}
    texts = [
        line.text for line in drawn(yz.chart(rows, kind=kind, category="item", value="v")).texts
    ]
    assert ticks - {"0B"} <= {*texts}
    assert sum("×" in text for text in texts if text[0] == "×") == (unit is not None)
    if unit is not None:
        assert unit in texts


@pytest.mark.parametrize("kind", ["line", "area"])
@pytest.mark.parametrize("theme", THEMES)
def test_quiet_lines_can_be_seen(kind: Any, theme: str) -> None:
    chart = yz.chart(
        {"item": list("abc"), "v": [3.0, 1, 2]}, kind=kind, category="item", value="v", theme=theme
    )
    chart = chart.rule("highest", color="adverse")
    quiet = chart.flags().query("target == 'mark' and rule == ''")["color"].iloc[0]
    own = THEMES[theme]
    assert contrast(quiet, own.color("paper")) >= 3
    for role in ("favorable", "adverse", "notice"):
        assert all(
            apart(quiet, own.color(role), eye) >= 18
            for eye in EYES
            if eye != "grey" and theme != "press"
        )


def test_a_house_font_is_read_from_its_file(tmp_path: Path) -> None:
    fonts = Path(mpl.get_data_path()) / "fonts" / "ttf"
    copy(fonts / "STIXGeneral.ttf", tmp_path / "House.ttf")
    (tmp_path / "house.toml").write_text('font_files = ["House.ttf"]\n')
    (tmp_path / "rows.csv").write_text("item,v\na,1\nb,2\n")
    (tmp_path / "b.toml").write_text(
        'title = "T 字"\ntheme = "house.toml"\n[data]\nfile = "rows.csv"\n[chart]\ncategory = "item"\nvalue = "v"\n'
    )
    chart = yz.load(tmp_path / "b.toml")
    title = next(line for line in drawn(chart).texts if line.text.startswith("T"))
    assert Path(path_of_font(title.font)).name.startswith("STIXGeneral")
    picture = chart.save(tmp_path / "b.png")
    assert yz.load_picture(picture).stages.theme.sizes == TEXT_SIZES_PT
    letters = [finding for finding in chart.check() if finding.code == "letters-missing"]
    assert not letters or "字" in letters[0].message


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ('font_files = "House.ttf"', "font_files is a list of at most 40 paths"),
        (
            'font_files = ["House.woff"]',
            "'House.woff' is no font file; one ends in .ttf, .otf, .ttc.",
        ),
        ('font_files = ["Hose.ttf"]', r"There is no file 'Hose.ttf'\. Did you mean House.ttf\?"),
        ('font_files = ["House.ttf"]', "The font House.ttf cannot be read"),
    ],
)
def test_faults_of_font_files(tmp_path: Path, text: str, message: str) -> None:
    (tmp_path / "House.ttf").write_text("no font")
    (tmp_path / "house.toml").write_text(text)
    rows = {"item": ["a"], "v": [1]}
    with pytest.raises(yz.YuzenError, match=message):
        yz.chart(rows, category="item", value="v", theme=str(tmp_path / "house.toml")).image()


def test_a_page_that_is_too_low_is_refused_with_the_height_that_would_do() -> None:
    rows = {"p": list("abcdef") * 2, "i": ["x"] * 6 + ["y"] * 6, "v": range(12)}
    said: dict[str, Any] = {"kind": "column", "category": "i", "value": "v", "panels": "p"}
    with pytest.raises(yz.YuzenError, match=r"Set a height of (\d+) or more") as caught:
        yz.chart(rows, **said, size={"height": 300}).image()
    height = int(str(caught.value).split("height of ")[1].split(" ")[0])
    assert yz.chart(rows, **said, size={"height": height}).image()


def test_what_gave_way_in_all_panels_is_told_once() -> None:
    rows = {
        "p": np.repeat(list("abc"), 80),
        "i": [f"name {k}" for k in range(80)] * 3,
        "v": np.arange(240.0),
    }
    notes = yz.chart(rows, kind="column", category="i", value="v", panels="p").notes()
    assert len(notes) == len({note.split(" ", 1)[1].split(":")[0] for note in notes})


@given(st.integers(0, 1_000), st.sampled_from([5, 40, 3_000]), st.booleans())
def test_a_line_covers_every_place_that_it_runs_over(seed: int, count: int, upright: bool) -> None:
    random = np.random.default_rng(seed)
    points = np.column_stack([np.linspace(2, 38, count), random.uniform(2, 28, count)])
    if upright:
        points = points[:, ::-1] * np.array([1.2, 0.7])
    ground = Occupancy(ROOM)
    ground.add_curves(lambda: [points])
    share = random.uniform(0, 1, (60, 1))
    start = random.integers(0, count - 1, 60)
    for x, y in points[start] + share * (points[start + 1] - points[start]):
        assert not ground.free((x - 1, y - 1, x + 1, y + 1))
        assert ground.free((x - 1, -20.0, x + 1, -18.0))
    assert not ground.crosses(points)


stretches = st.lists(st.tuples(st.floats(0, 300), st.floats(1, 30)), min_size=1, max_size=9)


@given(stretches, st.integers(0, 1_000))
def test_stretches_are_moved_apart_as_little_as_can_be(
    wanted: list[tuple[float, float]], seed: int
) -> None:
    centers, sizes = [center for center, _ in wanted], [size for _, size in wanted]
    found = np.array(spread_out(centers, sizes, 0, 300))
    order, size = np.argsort(centers, kind="stable"), np.array(sizes)
    low, high = found - size / 2, found + size / 2
    assert low.min() >= -1e-9
    assert high.max() <= 300 + 1e-9
    assert np.all(low[order][1:] - high[order][:-1] >= -1e-6)
    moved = np.sum((found - centers) ** 2)
    random = np.random.default_rng(seed)
    for _ in range(20):  # no other way to keep them apart in this order moves them less
        other = found + random.normal(0, 3, len(found))
        fits = np.all(np.diff(other[order]) >= (size[order][1:] + size[order][:-1]) / 2)
        if fits and (other - size / 2).min() >= 0 and (other + size / 2).max() <= 300:
            assert np.sum((other - centers) ** 2) >= moved - 1e-6


def test_a_flagged_number_finds_a_place_farther_away_with_a_line_to_its_bar() -> None:
    values = [90.0, 91, 5, 92, 93]
    chart = (
        columns(values, 400)
        .rule("lowest", color="adverse")
        .label("{v:,.0f} passengers", show="flagged")
    )
    figure = drawn(chart)
    box = dict(boxes_of(figure))["5 passengers"]
    x, tip = spot(figure, 2, 5)
    assert box.y0 > spot(figure, 0, 91)[1] - 1, "above its taller neighbour"
    ends = straight_lines(figure, on_plots=False)
    low, high = next(part[:, 1].tolist() for part in ends if abs(part[0, 0] - x) < 2)
    assert tip < min(low, high) < max(low, high) <= box.y0 + 1


def test_a_stack_of_one_series_writes_its_number_once() -> None:
    rows: dict[str, list[Any]] = {
        "item": ["a", "b"] * 2,
        "s": ["x", "x", "y", "y"],
        "v": [5.0, 3, 2, 4],
    }
    said: dict[str, Any] = {"category": "item", "value": "v", "series": "s", "arrange": "stacked"}
    both = [line.text for line in drawn(yz.chart(rows, kind="column", **said)).texts]
    assert "".join(sorted(text for text in both if text in {*"75234"})) == "234577"
    one = yz.chart({name: column[:2] for name, column in rows.items()}, kind="column", **said)
    texts = [line.text for line in drawn(one).texts]
    assert (texts.count("5"), texts.count("3"), "0" in texts) == (1, 1, False)


@pytest.mark.sampled(3)
@pytest.mark.parametrize("theme", THEMES)
@pytest.mark.parametrize(
    "said",
    [
        {"kind": "bar", "order": "as given"},
        {"kind": "area", "series": "s"},
        {"kind": "column", "series": "s", "arrange": "stacked"},
    ],
)
def test_texts_stand_out_from_what_is_behind_them(theme: str, said: dict[str, str]) -> None:
    rows = {
        "item": list("abcd") * 2,
        "s": ["one"] * 4 + ["two"] * 4,
        "v": [50.0, 40, 30, 9, 45, 20, 33, 12],
    }
    chart = yz.chart(rows, category="item", value="v", theme=theme, size={"width": 700}, **said)  # type: ignore[arg-type]
    chart = chart.rule("above average", color="adverse").rule("lowest", color="favorable")
    chart = chart.reference(low="lowest", high="median", label="lower half")
    if said["kind"] != "area":
        chart = chart.label("{v}", where="inside")
    assert [fault for fault in written_faults(drawn(chart)) if fault.what != "text on text"] == []


def test_the_whole_in_a_ring_is_shortened_before_it_is_left_out() -> None:
    rows = {"item": list("abc"), "v": [1_234_567_890.0, 2_000_000_000.0, 999_999_999.0]}
    texts = []
    for width in (1280, 360, 320):
        chart = yz.chart(
            rows, kind="ring", category="item", value="v", size={"width": width, "height": 300}
        )
        texts.append({line.text for line in drawn(chart).texts})
    assert {"4,234,567,889", "4.2B"} & texts[0]
    assert "4.2B" in texts[0] | texts[1]
    assert not any("…" in text and text[0].isdigit() for own in texts for text in own)


def test_layers_are_added_in_python_as_briefs_have_them() -> None:
    rows = {"item": list("ab"), "v": [5.0, 3], "u": [4.0, 4]}
    chart = yz.chart(rows, category="item", value="v").layer("plan", value="u", kind="tick")
    assert '[[layer]]\nname = "plan"\nvalue = "u"\nkind = "tick"' in chart.brief().replace(
        "  ", " "
    )
    assert [layer.name for layer in chart.stages.page.charts[0].layers][-1] == "plan"
    with pytest.raises(yz.YuzenError, match="I know no key 'valu' in layer 3"):
        chart.layer("plan", valu="u")  # type: ignore[call-arg]  # a slip of the pen


@pytest.mark.parametrize("kind", ["bar", "column", "line", "ring"])
def test_lines_of_text_stand_as_far_apart_as_their_letters_are_large(
    kind: Any, tmp_path: Path
) -> None:
    sizes = "\n".join(f"{use} = {min(40, size * 1.5)}" for use, size in TEXT_SIZES_PT.items())
    (tmp_path / "large.toml").write_text(f"[sizes]\n{sizes}\n")
    rows = {"item": ["Quarrel Head", "Vane Harbour", "Eelstone"], "v": [3.0, 2, 1]}
    chart = yz.chart(
        rows, kind=kind, category="item", value="v", theme=str(tmp_path / "large.toml"), title="A long title " * 16,
        subtitle="Something that is said of it " * 4,
    )  # fmt: skip
    for name in ("highest", "lowest", "rank 2"):
        chart = chart.rule(name, color="adverse", key=f"The one that is {name} of all")
    assert list(written_faults(drawn(chart))) == []
    assert any("around the plot cut" in note for note in chart.notes())


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_texts_that_are_too_wide_leave_bars_their_length(kind: Any) -> None:
    rows = {"item": list("abc"), "v": [9.0, -8, 3]}
    chart = yz.chart(rows, kind=kind, category="item", value="v", size={"width": 420})
    chart = chart.label("a text that is wider than all of the plot at {v}").rule(
        "highest", color="adverse"
    )
    figure = drawn(chart)
    tips = np.array([spot(figure, 9, 9), spot(figure, -8, -8)])
    box = plots(figure)[0].box
    long = box.width if kind == "bar" else box.height
    assert np.ptp(tips[:, 0 if kind == "bar" else 1]) >= 0.24 * long
    assert kind == "column" or any("left out" in note for note in chart.notes())


def test_what_gives_way_is_counted_once_however_many_ways_are_tried() -> None:
    random = np.random.default_rng(1)
    rows = {
        "m": [f"p{place}" for place in range(40)] * 2,
        "s": ["a very long name of a series, longer than there is room for it"] * 40 + ["b"] * 40,
        "v": random.normal(0, 10, 80),
    }
    chart = yz.chart(rows, kind="line", category="m", value="v", series="s", size={"width": 500})
    chart = chart.rule("positive", color="adverse").label("{v:,.5f} passengers")
    notes = chart.notes()
    assert any("numbers left out" in note for note in notes), "so that all ways were tried"
    assert any(n.startswith("1 label beside the plot cut for want of room: a very") for n in notes)
    slope = yz.chart(
        {"m": ["a", "b"] * 2, "s": [f"{'long ' * 30}{k}" for k in (1, 1, 2, 2)], "v": [1.0, 2, 3, 4]},
        kind="line", category="m", value="v", series="s", size={"width": 500},
    )  # fmt: skip
    assert any(n.startswith("4 names of lines cut for want of room: long") for n in slope.notes())


COVERS = {"text": TEXT, "curve": CURVE, "join": JOIN, "stroke": STROKE}


@pytest.mark.parametrize("there", COVERS)
@pytest.mark.parametrize("ignoring", COVERS)
def test_what_is_ignored_is_that_alone(there: str, ignoring: str) -> None:
    ground = Occupancy(ROOM)
    ground.add(np.array([[4.0, 4, 12, 12]]), COVERS[there])
    free = ground.free((5, 5, 9, 9), NO_MARK, ignoring=COVERS[ignoring])
    assert free == (there == ignoring)
