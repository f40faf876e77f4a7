"""What Python's own words, signs and threads do to conditions and charts, and pictures that are asked alone."""

from __future__ import annotations

import os
import pickle
import subprocess
import sys
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from matplotlib.backends.backend_agg import FigureCanvasAgg

import yuzen as yz
from tests.support.command_line import Called
from tests.support.ferries import CHARTS
from tests.support.processes import printed_by
from yuzen.render.svg.document import svg_of
from yuzen.rules.claims import CLAIMS, OPENING
from yuzen.rules.conditions import Test
from yuzen.rules.grammar.measure import Measure
from yuzen.rules.grammar.parser import parse
from yuzen.rules.language.words import is_bare
from yuzen.stages.stages import Stages

v, other = yz.measure("v"), yz.measure("other")


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: (v > 3) and (v < 7),
        lambda: (v > 3) or (v < 7),
        lambda: not (v > 3),
        lambda: 3 < v < 7,
        lambda: not v,
        lambda: yz.top(3) and v.negative,
        lambda: bool(~yz.top(3)),
        lambda: yz.always or yz.top(1),
    ],
)
def test_what_python_would_drop_in_silence_is_refused(wrong: Callable[[], object]) -> None:
    with pytest.raises(
        yz.YuzenError, match=r"Join conditions with &, \| and ~ .*between\(3, 7\)"
    ) as error:
        wrong()
    assert error.value.code == "rule-python"


@pytest.mark.parametrize(
    ("made", "text"),
    [
        (lambda: v == 3, "v = 3"),
        (lambda: v != other, "v != other"),
        (lambda: v == "Brinewick", 'v = "Brinewick"'),
        (lambda: v != "Kelpwick", 'v != "Kelpwick"'),
        (lambda: (v == 3) & ~(v >= other), "v = 3 and not v at least other"),
        (lambda: v.near, None),  # type: ignore[attr-defined]  # as in a notebook
    ],
)
def test_signs_make_conditions(made: Callable[[], Any], text: str | None) -> None:
    if text is None:
        with pytest.raises(AttributeError, match="a measure has no 'near'"):
            made()
        return
    assert str(made()) == text
    assert parse(text) == made()


def test_measures_are_hashed_by_what_they_are() -> None:
    assert hash(v) == hash(yz.measure("v")) != hash(other)
    assert {v: "mine"}[v] == "mine"


by_word: Any = vars(Measure)["__getattr__"]  # which checkers of types do not see


def test_every_claim_is_a_word_of_the_language_and_can_be_said_in_python() -> None:
    for claim in CLAIMS:
        test = parse(claim.example)
        assert isinstance(test, Test)
        assert isinstance(test.claim, claim)
        assert not any(is_bare(word) for word in (*claim.words, *claim.inner))
        assert {word for word in claim.words if word.isidentifier()} <= set(dir(v))
    for word, after in {
        "negative": (),
        "top": (3,),
        "between": ("10 and 20",),
        "one": ("of",),
    }.items():
        assert word in OPENING
        if word != "one":
            made = by_word(v, word)
            condition = made if isinstance(made, Test) else made(*after, within="waters")
            said = f"v {word} {' '.join(map(str, after))}".strip()
            assert str(condition) == said + (" within waters" if after else "")
    with pytest.raises(yz.YuzenError, match="the claim is complete before it"):
        by_word(v, "top")("3 negative")


def test_many_calls_are_read_once_each(monkeypatch: pytest.MonkeyPatch) -> None:
    from yuzen.rules.language import tokens

    read: list[str] = []
    plain = tokens.tokenize

    def counted(text: str) -> list[tokens.Token]:
        read.append(text)
        return plain(text)

    monkeypatch.setattr("yuzen.rules.language.reader.tokenize", counted)
    chart = yz.chart({"c": list("ab"), "v": [1, 2]}, category="c", value="v")
    for n in range(100):
        chart = chart.rule(f"v above {n}", color="adverse", name=f"rule {n}")
    assert len(read) <= 101
    read.clear()
    chart.flags()
    assert not [text for text in read if text.startswith("v above")]


def test_four_threads_draw_four_right_pictures() -> None:
    rows = {"c": [f"item {k}" for k in range(12)], "v": np.arange(12) * 7.0 - 20}
    chart = (
        yz.chart(rows, category="c", value="v")
        .rule("negative", color="adverse")
        .reference("average")
    )
    expected = chart.image()
    chart = yz.Chart(Stages(chart.stages.brief, rows))
    with ThreadPoolExecutor(4) as pool:
        images = list(pool.map(lambda _: chart.image(), range(16)))
    assert all(image == expected for image in images)


SAVED = """
import sys, yuzen as yz
chart = yz.load(sys.argv[1])
for kind in ("png", "svg", "pdf"):
    sys.stdout.buffer.write(chart.image(kind))
"""


@pytest.mark.parametrize("name", ["waters", "quadrants"])
def test_equal_charts_are_equal_files_in_every_process(name: str, folder: Path) -> None:
    call = [sys.executable, "-c", SAVED, str(folder / f"{name}.toml")]
    other = {**os.environ, "PYTHONHASHSEED": "1"}  # this process has another one
    made = subprocess.run(call, env=other, capture_output=True, check=True).stdout
    chart = yz.load(folder / f"{name}.toml")
    assert made == b"".join(map(chart.image, ("png", "svg", "pdf")))
    assert chart.figure() is not chart.figure()


STORED = """
import pickle, sys
from yuzen.render.figure import figure_of
from yuzen.render.scenes import scene_of
from yuzen.render.svg.document import svg_of
stored = pickle.load(open(sys.argv[1], "rb"))
scene = scene_of(stored) if hasattr(stored, "plots") else stored
figure_of(scene).savefig(sys.argv[2], dpi=100)
sys.stdout.write(svg_of(scene))
known = [name for name in sys.modules if name.startswith(("yuzen.rules", "yuzen.brief", "yuzen.shape"))]
assert not known, known
assert "pandas" not in sys.modules and "matplotlib.pyplot" not in sys.modules
"""


@pytest.mark.parametrize("stage", ["page", "scene"])
@pytest.mark.parametrize("name", ["leaders", "every_route"])
def test_pages_and_scenes_are_drawn_another_day_without_rules_or_rows(
    name: str, stage: str, tmp_path: Path
) -> None:
    chart = CHARTS[name]
    stored = pickle.dumps(getattr(chart.stages, stage))
    (tmp_path / "stored").write_bytes(stored)
    call = [sys.executable, "-c", STORED, str(tmp_path / "stored"), str(tmp_path / "again.png")]
    told = subprocess.run(call, check=True, capture_output=True).stdout
    assert told.decode() == svg_of(chart.stages.scene)
    if stage == "scene":
        assert pickle.loads(stored) == chart.stages.scene  # noqa: S301 - made above
    figure = chart.figure()
    FigureCanvasAgg(figure)
    figure.savefig(tmp_path / "first.png", dpi=100)
    assert (tmp_path / "again.png").read_bytes() == (tmp_path / "first.png").read_bytes()


def test_panels_are_slices_of_one_page() -> None:
    rows = {"c": list("abcdef"), "v": [3.0, -1, 2, 5, 4, 0], "g": list("xxyyyx")}
    chart = yz.chart(rows, category="c", value="v", panels="g", kind="column").rule(
        "negative", color="adverse", badge="down"
    )
    whole = yz.chart(rows, category="c", value="v", kind="column", order="as given")
    plots = {plot.name: plot.layers[0] for plot in chart.stages.page.charts}
    assert {name: sorted(layer.marks.values) for name, layer in plots.items()} == {
        "x": [-1, 0, 3],
        "y": [2, 4, 5],
    }
    layer = whole.stages.page.charts[0].layers[0]
    kept = np.array([4, 1])
    taken = layer.take(kept)
    assert taken.marks.heights.tolist() == [4, -1]
    assert list(taken.labels[0].pieces[0].texts) == ["4", "−1"]


@pytest.mark.parametrize("name", sorted(CHARTS)[::2])
def test_a_picture_answers_as_its_brief_does(name: str, folder: Path) -> None:
    chart = yz.load(folder / f"{name}.toml")
    kind = ("png", "svg", "pdf")[len(name) % 3]
    alone = yz.load_picture(chart.save(folder / f"alone.{kind}"))
    assert str(alone.why()) == str(chart.why())
    pd.testing.assert_frame_equal(alone.flags(), chart.flags())
    assert [(f.code, f.message) for f in alone.check()] == [
        (f.code, f.message) for f in chart.check()
    ]
    assert alone.stages.scene == chart.stages.scene


OVERALL = """
theme = "house.toml"
title = "{overall of margin:.1%} in all"
[data]
file = "routes.csv"
[measures]
margin = "total of surplus / total of fares"
[chart]
category = "route"
value = "margin"
panels = "waters"
[[rule]]
when = "below overall within waters"
color = "adverse"
[[reference]]
at = "overall"
[[label]]
text = "{margin:.1%} of {overall:.1%}"
within = ["waters"]
"""


def test_overall_is_kept_in_pictures(folder: Path, routes: pd.DataFrame) -> None:
    (folder / "house.toml").write_text('[roles]\nadverse = "#AA0000"\n')
    (folder / "overall.toml").write_text(OVERALL)
    chart = yz.load(folder / "overall.toml")
    alone = yz.load_picture(chart.save(folder / "overall.svg"))
    sums = routes.groupby("waters")[["surplus", "fares"]].sum()
    pooled = (sums["surplus"] / sums["fares"]).to_dict()
    for page in (chart.stages.page, alone.stages.page):
        lines = {plot.name: plot.references.lines[0].value for plot in page.charts}
        assert lines == pytest.approx(pooled)
        assert page.words.title == f"{routes['surplus'].sum() / routes['fares'].sum():.1%} in all"
    (folder / "house.toml").unlink()
    alone = yz.load_picture(folder / "overall.svg")
    assert str(alone.why()) == str(chart.why())
    assert "#AA0000" in set(alone.flags()["color"])
    with pytest.raises(yz.YuzenError, match="overall of margin needs the rows"):
        alone.rule("below overall within route", color="notice").flags()


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["why", "busiest.png", "--keep", 'route = "Brinewick"'], "a condition on rows"),
        (["flags", "busiest.png", "--keep", "passengers above 3"], "a condition on rows"),
        (["check", "busiest.png", "--data", "routes.csv"], "A picture has its own marks"),
        (["draw", "busiest.png", "--panels", "waters"], "This is a picture, which has no rows to draw"),
        (["draw", "busiest.png", "--each", "waters"], "ask it: yuzen why busiest.png"),
    ],
)  # fmt: skip
def test_pictures_are_asked_for_nothing_that_they_lack(
    words: list[str], message: str, folder: Path, call: Callable[..., Called]
) -> None:
    yz.load(folder / "busiest.toml").save(folder / "busiest.png")
    told = call(*words)
    assert told.code == 2
    assert message in told.err
    assert call("why", "busiest.png", "Brinewick", "--set", "n=1").code == 0


def test_charts_of_pictures_refuse_what_needs_rows(folder: Path) -> None:
    text = (
        (folder / "busiest.toml")
        .read_text()
        .replace("month in last 12 months", "passengers above smallest")
    )
    (folder / "busiest.toml").write_text(text.replace("n = 3", "n = 3\nsmallest = 5"))
    alone = yz.load_picture(yz.load(folder / "busiest.toml").save(folder / "busiest.png"))
    for ask in (
        lambda: alone.keep("surplus negative"),
        lambda: alone.also_keep("surplus negative"),
        lambda: alone.panelled("waters"),
        lambda: alone.each("waters"),
        lambda: alone.measure(x="total of fares"),
        lambda: alone.given(smallest=7),
    ):
        with pytest.raises(yz.YuzenError, match="A picture has marks and no rows") as error:
            ask()
        assert error.value.code == "call-picture"
    assert "top n (1)" in str(alone.given(n=1).why("Cinderquay"))


FORKING = """
import os, threading, time
import yuzen as yz

rows = {"k": [f"r{place}" for place in range(60)], "v": list(range(60))}


def draw(kind, title):
    yz.chart(rows, kind="bar", category="k", value="v", title=title).image(kind)


def without_end(kind):
    for place in range(10**9):
        draw(kind, f"{place} Ж 中")  # letters that Matplotlib lays out


for kind in ("png", "svg"):
    draw(kind, "first")
    threading.Thread(target=without_end, args=(kind,), daemon=True).start()
children = []
for _ in range(6):
    time.sleep(0.3)
    children.append(os.fork())
    if not children[-1]:
        draw("png", "中")
        draw("svg", "中")
        os._exit(0)
print([os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]) for child in children], flush=True)
os._exit(0)
"""


@pytest.mark.slow
@pytest.mark.skipif(not hasattr(os, "fork"), reason="nothing forks on this system")
def test_a_child_that_was_forked_while_threads_draw_can_draw() -> None:
    assert printed_by(FORKING) == str([0] * 6)
