"""A wrong argument is told by a YuzenError with what would be right, in every entrance."""

from __future__ import annotations

import warnings
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

import pytest

import yuzen as yz

ROWS = {"route": ["a", "b", "c"], "v": [1.0, -2, 3], "w": [3, 4, 5]}
LOSS = yz.rule("negative", color="adverse", name="loss")
KEYS: dict[str, Any] = {"category": "route", "value": "v"}
WRONG = [
    3,
    None,
    [],
    {},
    object(),
    "",
    "nope",
    b"x",
    1.5,
    float("nan"),
    (1, 2),
    True,
    [7],
    lambda: 1,
]


def chart(**keys: Any) -> yz.Chart:
    return yz.chart(ROWS, **{**KEYS, **keys}).rule(LOSS)


def keyed(key: str, value: Any) -> object:
    return yz.chart(ROWS, **{**KEYS, key: value}).flags()


ENTRANCES: dict[str, Callable[[Any], object]] = {
    "load": yz.load,
    "loads": yz.loads,
    "loads rows": lambda x: yz.loads('chart = { category = "route", value = "v" }', x).flags(),
    "loads folder": lambda x: yz.loads('chart = { category = "a", value = "v" }', folder=x).flags(),
    "load_picture": yz.load_picture,
    "load_report": yz.load_report,
    "load_report since": lambda x: yz.load_report("nope.toml", since=x),
    **{f"chart {key}": partial(keyed, key) for key in
       ("category", "value", "kind", "theme", "size", "layer", "rules", "table", "query", "parameters", "series", "order", "limit", "panels", "key_place",
        "point_size", "measures", "formats", "data", "calendar", "locale", "scale", "totals", "grain", "ignore")},
    "chart rows": lambda x: yz.chart(x, **KEYS).flags(),
    "save": lambda x: chart().save(x),
    "save kind": lambda x: chart().save("zz.png", x),
    "save template": lambda x: chart().save("zz.pptx", template=x),
    "image": lambda x: chart().image(x),
    "image ids": lambda x: chart().image("svg", ids=x),
    "draw": lambda x: chart().draw(x),
    "write": lambda x: chart().write(x),
    "why": lambda x: chart().why(x),
    "each": lambda x: chart().each(x),
    "panelled": lambda x: chart().panelled(x).flags(),
    "given": lambda x: chart().given(n=x).flags(),
    "keep": lambda x: chart().keep(x).flags(),
    "showing": lambda x: chart().showing(x).flags(),
    "themed": lambda x: chart().themed(x).image(),
    "with_rows": lambda x: chart().with_rows(x).flags(),
    "summary": lambda x: chart().summary(x),
    "measure": lambda x: chart().measure(m=x).flags(),
    "rule": lambda x: chart().rule(x, color="adverse").flags(),
    "rule color": lambda x: chart().rule("positive", color=x).flags(),
    "reference": lambda x: chart().reference(x).image(),
    "label": lambda x: chart().label(x).image(),
    "column": lambda x: chart().column(x).flags(),
    "layer": lambda x: chart().layer(x, value="w").flags(),
    "layer value": lambda x: chart().layer("n", value=x).flags(),
    "note": lambda x: chart().note("x", at=x).image(),
    "on": lambda x: chart().on(x).flags(),
    "compare": lambda x: yz.compare(chart(), x),
    "compare old": lambda x: yz.compare(x, chart()),
    "report": lambda x: yz.report(x).save("zz.html"),
    "report one": lambda x: yz.report([x]).save("zz.html"),
    "report since": lambda x: yz.report([chart()], since=x).save("zz.html"),
    "report page": lambda x: yz.report([chart()], page=x).save("zz.pdf"),
    "report save": lambda x: yz.report([chart()]).save(x),
    "save_all": lambda x: yz.save_all(x, "zz"),
    "save_all one": lambda x: yz.save_all({"a": x}, "zz"),
    "save_all folder": lambda x: yz.save_all({"a": chart()}, x),
    "save_all executor": lambda x: yz.save_all({"a": chart()}, "zz", executor=x),
    "colors": lambda x: yz.colors(x, LOSS),
    "colors rule": lambda x: yz.colors([1, 2], x),
    "colors data": lambda x: yz.colors([1, 2], LOSS, data=x),
    "colors theme": lambda x: yz.colors([1, 2], theme=x),
    "ink": yz.ink,
    "ink theme": lambda x: yz.ink(["#112233"], theme=x),
    "judge": lambda x: yz.judge(x, **KEYS),
    "judge rule": lambda x: yz.judge(ROWS, x, **KEYS),
    "judge theme": lambda x: yz.judge(ROWS, **KEYS, theme=x).flags(),
    "winners": lambda x: yz.judge(ROWS, **KEYS).winners(x),
    "colors of": lambda x: yz.judge(ROWS, **KEYS).colors(x),
    "paint": lambda x: yz.paint(x, LOSS),
    "start": yz.start,
    "start category": lambda x: yz.start(ROWS, category=x),
    "start kind": lambda x: yz.start(ROWS, kind=x),
    "limits": lambda x: yz.limits(rows=x).__enter__(),
    "database": lambda x: yz.chart(yz.Database(x, table="r"), **KEYS).flags(),
    "database table": lambda x: yz.chart(yz.Database("sqlite://", table=x), **KEYS).flags(),
    **{name: getattr(yz, name) for name in
       ("top", "bottom", "rank", "every", "falls", "rises", "above", "outlier", "position", "percent", "measure", "last", "first", "rule", "reference")},
    "between": lambda x: yz.between(x, 3),
    "within": lambda x: yz.top(3, within=x),
    "and": lambda x: yz.top(3) & x,
}  # fmt: skip


@pytest.mark.parametrize("entrance", ENTRANCES)
def test_whatever_is_given_ends_in_a_result_or_a_yuzen_error(
    entrance: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    refused = 0
    for wrong in WRONG:
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore", DeprecationWarning)
                ENTRANCES[entrance](wrong)
        except yz.YuzenError as error:
            refused += bool(str(error) and error.code)
    assert refused >= 3, "most of these are no arguments of any call"


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (lambda: yz.compare(3, 4), "An int is given. Compare two charts, as yz.chart and yz.load make them."),  # type: ignore[arg-type]
        (lambda: yz.save_all({"a": 3}, "zz"), "An int is given. 'a' takes a chart, as yz.chart and yz.load make them."),  # type: ignore[arg-type]
        (lambda: yz.save_all("ab", "zz"), "A str is given. Give a mapping of names to charts, or pairs of both."),  # type: ignore[arg-type]
        (lambda: yz.judge(ROWS, **KEYS).winners(3), 'An int is given. Name a target by a text, such as "mark" or "label".'),  # type: ignore[arg-type]
        (lambda: yz.loads(3), "An int is given. Give the text of a brief, in TOML; yz.load takes its file."),  # type: ignore[arg-type]
        (lambda: yz.start(ROWS, kind=3), "An int is given. Name columns, kinds and tables by texts."),  # type: ignore[arg-type]
    ],
)  # fmt: skip
def test_the_message_says_what_would_be_right(call: Callable[[], object], message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        call()
    assert str(error.value) == message


def test_former_names_of_keywords_work_and_warn() -> None:
    with pytest.warns(DeprecationWarning, match="key= of yz.chart is called key_place= now"):
        assert chart(key="none").stages.page.key.entries == ()
    with pytest.warns(DeprecationWarning, match="size= of yz.chart is called point_size= now"):
        sized = yz.chart(ROWS, **KEYS, kind="scatter", across="w", size="w")  # type: ignore[arg-type]
    assert sized.stages.brief.chart.point_size == "w"
    with pytest.warns(DeprecationWarning, match="takes rules one after the other"):
        former = yz.judge(ROWS, **KEYS, rules=[LOSS])
    assert (
        former.winners().tolist() == yz.judge(ROWS, LOSS, **KEYS).winners().tolist() == [-1, 0, -1]
    )


def test_a_text_of_a_brief_may_name_no_file_unless_a_folder_is_given(tmp_path: Path) -> None:
    (tmp_path / "rows.csv").write_text("route,v\na,1\n")
    text = 'data = { file = "rows.csv" }\nchart = { category = "route", value = "v" }\n'
    with pytest.raises(
        yz.YuzenError, match=r"the brief, line 1: data\.file names a file or a database"
    ):
        yz.loads(text, ROWS)
    assert yz.loads(text, folder=tmp_path).flags()["route"].tolist() == ["a"]
    assert set(yz.loads(text, ROWS, folder=tmp_path).flags()["route"]) == {"a", "b", "c"}
    with pytest.raises(yz.YuzenError, match="no brief is as long"):
        yz.loads("#" * 1_000_001)
