"""SVG: well-formed, small, an element for every mark, and the same picture as the PNG."""

from __future__ import annotations

import io
import json
import os
import re
import shutil
import subprocess
import sys
from collections.abc import Callable, Sequence
from html import unescape
from pathlib import Path
from typing import Any, cast
from xml.etree import ElementTree as ET

import matplotlib as mpl
import numpy as np
import pandas as pd
import pytest
import resvg_py
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.sampling import examples
from tests.support.scenes import drawn, shapes_of, texts_of
from yuzen.draw.text.fonts import box_of
from yuzen.page.layer import PATTERN_NAMES
from yuzen.page.plot import Plot
from yuzen.page.ring import Ring
from yuzen.page.scatter import Scatter
from yuzen.render.svg.document import svg_of
from yuzen.scene.primitives import Dots, Rectangles, Spots
from yuzen.scene.scene import Scene

SVG = "{http://www.w3.org/2000/svg}"
CHROMIUM = shutil.which("chromium") or shutil.which("chromium-browser")
UNLIKE = 32  # of 255, by which a pixel is another one
EDGES = 0.0015  # of the pixels away from letters, that edges may differ in
LETTERS = 0.06  # of all pixels, letters included

# Other renderers take seconds a chart: `make renderers` has them draw all.
BROWSED = CHARTS if "ALL_RENDERERS" in os.environ else ["busiest", "parts", "shares", "waves"]
RENDERED = CHARTS if "ALL_RENDERERS" in os.environ else [*BROWSED, "causes", "ledger", "quadrants"]


def tree_of(chart: yz.Chart, **said: Any) -> ET.Element:
    return ET.fromstring(chart.image("svg", **said))  # noqa: S314 - of our own making


def pixels_of(image: bytes) -> np.ndarray[Any, Any]:
    return np.asarray(Image.open(io.BytesIO(image)).convert("RGB")).astype(int)


def by_resvg(svg: bytes) -> bytes:
    fonts = Path(mpl.get_data_path()) / "fonts" / "ttf"
    return bytes(
        resvg_py.svg_to_bytes(
            svg_string=svg.decode(), font_dirs=[str(fonts)], skip_system_fonts=True
        )
    )


def by_chromium(svg: bytes, scene: Scene, folder: Path) -> bytes:
    source, target = folder / "picture.svg", folder / "picture.png"
    source.write_bytes(svg)
    flags = "--headless --no-sandbox --disable-gpu --disable-quic --no-first-run --hide-scrollbars"
    quiet = "--disable-background-networking --disable-component-update --disable-sync"
    size = f"--window-size={scene.width},{scene.height}"
    call = [str(CHROMIUM), *flags.split(), *quiet.split(), size, f"--user-data-dir={folder}/data"]
    call += [f"--screenshot={target}", "--force-device-scale-factor=1", source.as_uri()]
    subprocess.run(call, check=True, capture_output=True)
    return target.read_bytes()


def pointed_at(svg: bytes, places: Sequence[tuple[float, float]], folder: Path) -> list[str]:
    """The titles that a browser finds at places of a picture, '' for none."""
    page, script = (
        folder / "page.html",
        """
        const found = PLACES.map(([x, y]) => {
            const there = document.elementFromPoint(x, y);
            const title = there && there.querySelector(":scope > title");
            return title ? title.textContent : "";
        });
        document.body.textContent = JSON.stringify(found);""",
    )
    drawing = svg.decode().split("?>", 1)[1]
    script = script.replace("PLACES", json.dumps(places))
    page.write_text(
        f'<!DOCTYPE html><meta charset="utf-8"><body style="margin:0">{drawing}'
        f"<script>{script}</script></body>"
    )
    flags = "--headless --no-sandbox --disable-gpu --no-first-run --window-size=1400,1400"
    call = [str(CHROMIUM), *flags.split(), f"--user-data-dir={folder}/data", "--dump-dom"]
    done = subprocess.run([*call, page.as_uri()], check=True, capture_output=True, text=True)
    body = re.search(r"<body[^>]*>(.*?)</body>", done.stdout, re.DOTALL)
    assert body is not None
    return list(json.loads(unescape(body[1])))


@pytest.mark.skipif(CHROMIUM is None, reason="needs Chromium (Debian: chromium); make renderers")
@pytest.mark.parametrize("name", ["busiest", "plan", "waters", "quadrants"])
def test_pointing_at_a_mark_in_a_browser_says_why(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    scene, all_called = drawn(chart), chart.stages.judged.called
    places, names = [], []
    for group in scene.groups:
        for shape in group.shapes:
            numbers = group.of_chart.get(shape.layer)
            if numbers is None or not isinstance(shape, Rectangles | Dots | Spots):
                continue
            for mark, place in zip(
                shape.marks.tolist(), centers_of(shape), strict=bool(len(shape.marks))
            ):
                places.append(place)
                names.append(all_called[numbers[mark]])
    titles = pointed_at(chart.image("svg"), places, tmp_path)
    assert len(titles) >= len(scene.groups) > 0
    # Where points lie on one another, the upper one answers.
    pairs = zip(titles, names, strict=True)
    assert np.mean([title.startswith(f"{called}: ") for title, called in pairs]) > 0.8
    if name == "busiest":
        (loss,) = {title for title in titles if title.startswith("Brinewick: ")}
        assert "surplus −16,890 is negative" in loss


def centers_of(shape: Any) -> list[tuple[float, float]]:
    """The middles of rectangles and points."""
    if isinstance(shape, Rectangles):
        middles = (shape.corners[:, :2] + shape.corners[:, 2:]) / 2
    else:
        middles = shape.centers
    return [(float(x), float(y)) for x, y in middles]


def assert_alike(chart: yz.Chart, other: bytes) -> None:
    """The PNG and another renderer's picture of the SVG differ in edges of letters alone."""
    own, seen = pixels_of(chart.image("png")), pixels_of(other)
    assert own.shape == seen.shape
    unlike = np.abs(own - seen).max(axis=2) > UNLIKE
    assert unlike.mean() <= LETTERS
    for line in drawn(chart).texts:
        left, top, right, bottom = (round(end) for end in box_of(line).ends)
        unlike[max(0, top - 3) : bottom + 3, max(0, left - 3) : right + 4] = False
    assert unlike.mean() <= EDGES


@pytest.mark.parametrize("name", RENDERED)
def test_another_renderer_draws_what_the_png_shows(name: str) -> None:
    assert_alike(CHARTS[name], by_resvg(CHARTS[name].image("svg")))


@pytest.mark.skipif(CHROMIUM is None, reason="needs Chromium (Debian: chromium); make renderers")
@pytest.mark.parametrize("name", BROWSED)
def test_a_browser_draws_what_the_png_shows(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    assert_alike(chart, by_chromium(chart.image("svg"), drawn(chart), tmp_path))


@pytest.mark.parametrize("pattern", [name for name in PATTERN_NAMES if name])
def test_patterns_are_those_of_the_png(pattern: Any) -> None:
    rows = {"item": list("abc"), "v": [900.0, 850, 950]}
    chart = yz.chart(rows, category="item", value="v", kind="column", size={"width": 700})
    chart = chart.rule("highest", pattern=pattern, color="adverse").rule("lowest", color="ink")
    own, seen = pixels_of(chart.image("png")), pixels_of(by_resvg(chart.image("svg")))
    bars = next(s for s in shapes_of(drawn(chart), Rectangles) if s.role == "bars")
    left, top, right, bottom = bars.corners[2].round().astype(int).tolist()
    inside = np.s_[top + 2 : bottom - 2, left + 2 : right - 2]
    ink = np.array([0xC6, 0x3E, 0x2F])
    shares = [np.mean(np.abs(image[inside] - ink).max(axis=2) > 60) for image in (own, seen)]
    assert shares[0] > 0.05
    assert shares[1] == pytest.approx(shares[0], abs=0.02)
    unlike = np.abs(own[inside] - seen[inside]).max(axis=2) > 120
    assert unlike.mean() < 0.02, "lines lie where they lie in the PNG"


@pytest.mark.parametrize("name", CHARTS)
def test_every_mark_has_one_element_with_its_id(name: str) -> None:
    tree, page = tree_of(CHARTS[name]), CHARTS[name].stages.page
    ids = [place for element in tree.iter() if (place := element.get("id"))]
    assert len(ids) == len(set(ids))
    groups = [group for group in tree if group.get("class") == "plot"]
    plots = [plot for plot in page.plots if not plot.note]
    if any(layer.own_axis for plot in page.charts for layer in plot.layers):
        return  # such a layer is a plot of its own
    for plot, group in zip(plots, groups, strict=True):
        found = {
            (shape.get("data-layer", ""), int(str(mark.get("id")).rpartition("-")[2]))
            for shape in group
            for mark in shape
            if mark.get("id")
        }
        assert found >= marks_of(plot)


def marks_of(plot: Any) -> set[tuple[str, int]]:
    """The marks of a plot that are seen, each with its layer."""
    if isinstance(plot, Ring):
        return {("", mark) for mark in range(len(plot.shares))}
    if isinstance(plot, Scatter):
        return {("", mark) for mark in range(len(plot.places))}
    if not isinstance(plot, Plot):
        return set()
    return {
        (layer.name, mark)
        for layer in plot.layers
        for mark in np.flatnonzero(~np.isnan(layer.marks.heights)).tolist()
    }


@pytest.mark.parametrize("name", CHARTS)
def test_texts_are_texts_held_to_their_width(name: str) -> None:
    scene, tree = drawn(CHARTS[name]), tree_of(CHARTS[name])
    texts = list(tree.iter(f"{SVG}text"))
    assert [text.text for text in texts] == texts_of(scene)
    for text, line in zip(texts, scene.texts, strict=True):
        assert float(text.get("textLength", 0)) == pytest.approx(line.width, abs=0.006)
        assert float(text.get("x", 0)) == pytest.approx(line.left, abs=0.006)
    (group,) = [g for g in tree.iter(f"{SVG}g") if g.get("class") == "writing"]
    assert group.get("font-family", "").endswith("sans-serif")


def test_letters_can_be_outlines() -> None:
    rows = {"item": ["Åre & sons", "漢字", "عربى"], "v": [3.0, 2, 1]}
    chart = yz.chart(rows, category="item", value="v", size={"letters": "outlines"})
    tree = tree_of(chart)
    assert not list(tree.iter(f"{SVG}text"))
    labels = [path.get("aria-label") for path in tree.iter(f"{SVG}path") if path.get("aria-label")]
    assert set(labels) == {*texts_of(drawn(chart))}
    own = pixels_of(chart.image("png"))
    no_fonts = resvg_py.svg_to_bytes(svg_string=chart.image("svg").decode(), skip_system_fonts=True)
    unlike = np.abs(own - pixels_of(bytes(no_fonts))).max(axis=2) > 100
    assert unlike.mean() < 0.01
    for kind in ("svg", "png", "pdf"):
        told = any("letters is about SVG" in note for note in chart.stages.picture(kind).notes)
        assert told == (kind != "svg")
    with pytest.raises(yz.YuzenError, match="letters"):
        yz.chart(rows, category="item", value="v", size=cast(Any, {"letters": "bitmap"}))


@pytest.mark.parametrize(
    ("kind", "ids", "message"),
    [
        ("png", "a-", "Only an SVG has ids, and png has none."),
        ("svg", "two words", "a letter, then letters, digits, - and _"),
        ("svg", '"><script>', "a letter, then letters, digits, - and _"),
        ("svg", None, "a letter, then letters, digits, - and _"),
    ],
)
def test_ids_that_are_none_are_refused(kind: str, ids: Any, message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        CHARTS["fares"].image(kind, ids=ids)
    assert message in str(error.value)


def test_marks_and_the_patterns_over_them_are_cut_to_their_plot() -> None:
    rows = {"item": list("abc"), "v": [3.0, 2, 1]}
    chart = yz.chart(rows, category="item", value="v").rule("highest", pattern="grid")
    (plot,) = [group for group in tree_of(chart) if group.get("class") == "plot"]
    cut = {shape.get("class"): shape.get("clip-path") for shape in plot}
    assert cut["bars"] == cut["pattern"] == "url(#plot-0)"


def test_charts_in_one_notebook_have_ids_of_their_own() -> None:
    bundles = [CHARTS[name]._repr_mimebundle_({"image/svg+xml"})[0] for name in ("fares", "waves")]
    ids = [set(re.findall(r' id="([^"]+)"', made["image/svg+xml"])) for made in bundles]
    assert ids[0]
    assert not ids[0] & ids[1]


def test_ids_begin_with_what_is_told() -> None:
    chart = CHARTS["fares"]
    first, second = (tree_of(chart, ids=ids) for ids in ("one-", "two-"))
    ids = [{e.get("id") for e in tree.iter() if e.get("id")} for tree in (first, second)]
    assert not ids[0] & ids[1]
    assert len(ids[0]) == len(ids[1]) > 10
    text = chart.image("svg", ids="one-").decode()
    assert set(re.findall(r"url\(#([^)]+)\)", text)) <= ids[0], "what is referred to is there"


@given(
    st.text(max_size=30), st.text(max_size=30), st.sampled_from(["bar", "line", "ring", "table"])
)
@settings(max_examples=examples(30))
def test_whatever_is_written_an_svg_is_well_formed(name: str, title: str, kind: Any) -> None:
    rows = {"item": [f"a{name}", '"<&>]]>', "c"], "v": [3.0, 2, 1]}
    tree = tree_of(yz.chart(rows, category="item", value="v", title=f"T{title}", kind=kind))
    assert tree.tag == f"{SVG}svg"
    tree_of(yz.chart(rows, category="item", value="v", layer=[{"name": f"l{name}", "value": "v"}]))


@pytest.mark.parametrize("name", CHARTS)
def test_numbers_have_two_decimals_at_the_most(name: str) -> None:
    text = CHARTS[name].image("svg").decode()
    text = re.sub(
        r"<metadata>.*?</metadata>|>[^<]*<|aria-label=\"[^\"]*\"|data-layer=\"[^\"]*\"", "<", text
    )
    assert not re.findall(r"\d\.\d{3,}", text)
    assert "nan" not in text
    assert "e-" not in re.sub(r"[a-z]+=\"|shape-|stroke-", "", text.replace("-e", ""))


def test_twenty_bars_are_a_small_file() -> None:
    data = CHARTS["surplus"].image("svg")
    assert len(data) < 25_000
    assert len(re.sub(rb"<metadata>.*?</metadata>", b"", data, flags=re.DOTALL)) < 15_000
    assert len(svg_of(drawn(CHARTS["surplus"]))) < 15_000


LOADED = """
import json, sys
import yuzen as yz
chart = yz.load(sys.argv[1])
chart.image("svg")
print(json.dumps(sorted(name for name in sys.modules if name.startswith("matplotlib"))))
"""


@pytest.mark.parametrize("name", ["surplus", "waves", "ledger", "shares", "every_route"])
def test_an_svg_loads_the_reader_of_fonts_and_no_figures(name: str, folder: Path) -> None:
    call = [sys.executable, "-c", LOADED, str(folder / f"{name}.toml")]
    told = subprocess.run(call, check=True, capture_output=True).stdout
    loaded = {module.split(".")[1] for module in json.loads(told) if "." in module}
    assert "font_manager" in loaded
    drawing = {"figure", "axes", "collections", "patches", "lines", "text", "pyplot", "gridspec"}
    assert not loaded & drawing


CALLED = """
import json, sys
from yuzen.cli.main import run
sys.argv = ["yuzen", "draw", "surplus.toml", "-o", sys.argv[1]]
try:
    run()
finally:
    print(json.dumps("matplotlib" in sys.modules), file=sys.stderr)
"""


def drawn_by_a_call(folder: Path, name: str, **variables: str) -> tuple[bytes, bool]:
    """The SVG of a call of the command line in a process of its own, and whether it loaded Matplotlib."""
    environment = {**os.environ, "YUZEN_CACHE": str(folder / "kept"), **variables}
    call = [sys.executable, "-c", CALLED, name]
    told = subprocess.run(call, check=True, capture_output=True, cwd=folder, env=environment)
    return (folder / name).read_bytes(), json.loads(told.stderr.splitlines()[-1])


@pytest.mark.slow
def test_letters_are_measured_once_for_all_calls(folder: Path) -> None:
    first, loaded = drawn_by_a_call(folder, "first.svg")
    kept = folder / "kept" / "letters.json"
    assert loaded
    assert kept.exists()
    assert drawn_by_a_call(folder, "second.svg") == (first, False)
    # Another title has letters that nobody has measured yet.
    brief = (folder / "surplus.toml").read_text()
    (folder / "surplus.toml").write_text(re.sub(r"(?m)^title.*$", 'title = "Öß¿ÿŽ"', brief))
    known = kept.read_text()
    assert drawn_by_a_call(folder, "third.svg")[1]
    assert len(kept.read_text()) > len(known)
    assert not drawn_by_a_call(folder, "third.svg")[1]


@pytest.mark.slow
@pytest.mark.parametrize(
    "spoil",
    [
        lambda _: "",
        lambda text: json.dumps(json.loads(text) | {"release": "0"}),
        lambda text: json.dumps(json.loads(text) | {"fonts": [{"families": 3}]}),
        lambda text: re.sub(r"\[\d{9,},", "[1,", text, count=1),
    ],
)
def test_kept_letters_of_another_day_are_measured_again(
    folder: Path, spoil: Callable[[str], str]
) -> None:
    first, _ = drawn_by_a_call(folder, "first.svg")
    kept = folder / "kept" / "letters.json"
    known = kept.read_text()
    kept.write_text(spoil(known))
    assert kept.read_text() != known
    assert drawn_by_a_call(folder, "again.svg") == (first, True)
    assert kept.read_text() == known


@pytest.mark.slow
def test_letters_are_kept_only_where_they_hold_and_can_be(folder: Path) -> None:
    plain, _ = drawn_by_a_call(folder, "plain.svg")
    kept = folder / "kept" / "letters.json"
    known = kept.read_text()
    (folder / "matplotlibrc").write_text("text.hinting: none\n")
    unhinted, loaded = drawn_by_a_call(folder, "unhinted.svg")
    assert loaded
    assert unhinted != plain
    assert kept.read_text() == known
    (folder / "matplotlibrc").unlink()
    assert drawn_by_a_call(folder, "plain.svg", YUZEN_CACHE="") == (plain, True)
    # A file where the folder would be: the picture is drawn all the same.
    assert drawn_by_a_call(folder, "plain.svg", YUZEN_CACHE="surplus.toml") == (plain, True)


def test_scenes_are_equal_where_all_is_equal() -> None:
    rows = pd.DataFrame({"item": list("abc"), "v": [3.0, 2, 1]})
    chart = yz.chart(rows, category="item", value="v")
    again = yz.chart(rows.copy(), category="item", value="v")
    assert drawn(chart) == drawn(again)
    assert drawn(chart) != drawn(chart.rule("highest", color="adverse"))
    assert drawn(chart) != drawn(yz.chart(rows, category="item", value="v", title="Another"))
