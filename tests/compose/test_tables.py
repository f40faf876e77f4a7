"""Tables: what stands in them beside pandas, and how they are drawn on any data."""

from __future__ import annotations

import io
import re
from html.parser import HTMLParser
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from PIL import Image

import yuzen as yz
from tests.support.sampling import examples, seeds
from tests.support.scenes import assert_tidy, boxes_of, drawn, only
from yuzen.charts.begin import load_picture
from yuzen.charts.comparison import compare
from yuzen.color.themes import TEXT_CONTRAST, THEMES
from yuzen.compose.split_pages import sheets
from yuzen.draw.plots.table_columns import decimal_place
from yuzen.draw.text.fonts import face_of
from yuzen.page.page import KeyRamp
from yuzen.page.table import HEADING

WORDS = (
    "Brinewick",
    "Cinderquay Upper Landing",
    "Eel",
    "Farrowness",
    "Gullhaven by the Sound",
    "Ö",
)


def random_rows(random: np.random.Generator) -> pd.DataFrame:
    """Rows with names of all lengths, numbers of all sizes, some missing, in groups."""
    count = int(random.choice([1, 2, 5, 12, 25]))
    months = int(random.choice([1, 2, 4, 12, 24]))
    names = [f"{random.choice(WORDS)} {place}" for place in range(count)]
    frame = pd.DataFrame(
        [(name, f"Group {place % 3}", f"2025-{m % 12 + 1:02d}" if m < 12 else f"2026-{m % 12 + 1:02d}")
         for place, name in enumerate(names) for m in range(months)],
        columns=["name", "group", "month"],
    )  # fmt: skip
    for column in ("a", "b", "c", "d", "e"):
        size = 10.0 ** random.integers(-3, 10)
        values = random.normal(random.choice([0, 1, 5]), 1, len(frame)) * size
        frame[column] = np.where(random.random(len(frame)) < 0.05, np.nan, values)
    return frame.round(int(random.choice([0, 2, 4])))


SHOWS = ["text", "text", "bar", "both", "trend"]
RULES: list[dict[str, Any]] = [
    {"when": "negative", "color": "adverse"},
    {"shade": {"colors": ["adverse", "paper", "favorable"]}},
    {"shade": {"range": "5% to 95%", "steps": 4}},
    {"bands": {"edges": [0], "names": ["down", "up"], "colors": ["notice", "favorable"]}},
    {"when": "highest within group", "badge": "cup", "outline": "ink"},
    {"when": "above average", "weight": "bold", "pattern": "stripes", "color": "#7A6AA0"},
    {"when": "lowest", "label": "the least of all"},
    {"when": "top 2", "opacity": 0.4, "color": "teal"},
]


def random_table(seed: int) -> yz.Chart:
    """A table of measures, or one with series, with rules of all sorts."""
    random = np.random.default_rng(seed)
    rows = random_rows(random)
    crossed = bool(random.random() < 0.4)
    said: dict[str, Any] = {
        "totals": [[], ["all"], ["group"], ["group", "all"]][int(random.integers(4))]
    }
    if crossed:
        said["series"] = "month"
    else:
        chosen = random.choice(list("abcde"), int(random.integers(1, 6)), replace=False).tolist()
        said["column"] = [{"value": name, "name": f"{name} column {place}", "show": str(random.choice(SHOWS))}
                          for place, name in enumerate(chosen)]  # fmt: skip
        for column in said["column"]:
            if column["show"] == "trend":
                column["over"] = "month"
            elif column["show"] != "bar" and random.random() < 0.3:
                column["format"] = str(
                    random.choice(["{,.1fM}", "€{,.0f}", "{paren ,.2f}", "{.1%}"])
                )
            if random.random() < 0.3:
                column["title"] = "A title of several words, in thousands"
    said["size"] = {"width": int(random.choice([400, 800, 1280]))}
    if random.random() < 0.2:
        said["size"]["height"] = int(random.choice([300, 700]))
    said["theme"] = str(random.choice(sorted(THEMES)))
    chart = yz.chart(rows, kind="table", category="name", value="a", title="A table", **said)
    picked = random.choice(len(RULES), int(random.integers(1, 5)), replace=False).tolist()
    for place, rule in enumerate(picked):
        targets = ["row", "axis name"]
        targets += (
            ["mark", "label"] if crossed else [f"column {c['name']}" for c in said["column"]] * 2
        )
        own = dict(RULES[rule])
        target = str(random.choice(targets))
        if target in {"row", "axis name", "label"}:
            own = {
                key: value
                for key, value in own.items()
                if key not in {"outline", "pattern", "label"}
            } | {"color": "adverse"}
            own = own if {"when", "shade", "bands"} & own.keys() else {"when": "negative", **own}
        if "bands" in own or "shade" in own:
            own.pop("color", None)
        chart = chart.rule(own.pop("when", "always"), on=target, name=f"r{place}", **own)
    return chart


@pytest.mark.sampled(2)
@pytest.mark.parametrize("part", range(6))
def test_random_tables_are_tidy_and_legible(part: int) -> None:
    """No text on another, none cut by the page, all of it with enough contrast on what is behind it."""
    for seed in seeds(part * 30, part * 30 + 14):
        chart = random_table(seed)
        assert_tidy(drawn(chart))
        assert_legible(chart)


def assert_legible(chart: yz.Chart) -> None:
    table, theme = chart.stages.page.table, chart.stages.theme
    assert table is not None
    paper = np.array([int(theme.color("paper")[i : i + 2], 16) for i in (1, 3, 5)]) / 255
    rows = table.ground[:, 3:] * table.ground[:, :3] + (1 - table.ground[:, 3:]) * paper
    lettered = [(table.names, rows)]
    for column in table.columns:
        fill = column.ground.fill
        lettered += [
            (piece, fill[:, 3:] * fill[:, :3] + (1 - fill[:, 3:]) * rows) for piece in column.pieces
        ]
    for piece, ground in lettered:
        seen = [place for place, text in enumerate(piece.texts) if text]
        assert (ratio(piece.ink[seen, :3], ground[seen]) >= TEXT_CONTRAST - 1e-9).all()


def ratio(ink: Any, ground: Any) -> Any:
    """The contrast ratio by the formulas of WCAG 2.2, written down once more."""

    def light(color: Any) -> Any:
        parts = np.where(color <= 0.04045, color / 12.92, ((color + 0.055) / 1.055) ** 2.4)
        return 0.2126 * parts[:, 0] + 0.7152 * parts[:, 1] + 0.0722 * parts[:, 2]

    one, other = light(ink) + 0.05, light(ground) + 0.05
    return np.maximum(one, other) / np.minimum(one, other)


@pytest.mark.parametrize("theme", sorted(THEMES))
def test_ink_can_be_read_on_every_fill(theme: str) -> None:
    random = np.random.default_rng(5)
    count = examples(120)
    rows = {"item": [f"i{place}" for place in range(count)], "v": np.arange(float(count))}
    chart = yz.chart(rows, kind="table", category="item", value="v", theme=theme, order="as given")
    for place in range(count):
        color = "#" + "".join(f"{part:02X}" for part in random.integers(0, 256, 3))
        text = "#" + "".join(f"{part:02X}" for part in random.integers(0, 256, 3))
        chart = chart.rule(
            f"v = {place}", color=color, opacity=float(random.choice([1, 0.5])), name=f"c{place}"
        )
        if place < count * 2 / 3:
            chart = chart.rule(f"v = {place}", on="label", color=text, name=f"t{place}")
    assert_legible(chart)


def words_of(chart: yz.Chart) -> dict[str, list[str]]:
    """What stands in the table: for each name of a row the texts of its cells."""
    table = chart.stages.page.table
    assert table is not None
    return {
        name: [column.text(row) for column in table.columns]
        for row, name in enumerate(table.names.texts)
    }


def ledger(rows: pd.DataFrame) -> yz.Chart:
    chart = yz.chart(
        rows, kind="table", category="route", value="passengers", totals=["waters", "all"]
    )
    chart = chart.measure(margin="total of surplus / total of fares").column("passengers")
    return chart.column("margin", format="{.2%}").column("complaints")


def test_totals_ratios_and_ranks_are_those_of_pandas(last_year: pd.DataFrame) -> None:
    chart = ledger(last_year).rule(
        "rank 2 within waters", on="column margin", color="notice", name="second"
    )
    table = chart.stages.page.table
    assert table is not None
    sums = last_year.groupby(["waters", "route"])[
        ["passengers", "surplus", "fares", "complaints"]
    ].sum()
    groups, whole = sums.groupby("waters").sum(), sums.sum()
    order = sums.groupby("waters")["passengers"].max().sort_values(ascending=False).index
    expected = []
    for waters in order:
        own = sums.loc[waters].sort_values("passengers", ascending=False)
        expected += [(waters, None), *own.iterrows(), (f"{waters} total", groups.loc[waters])]
    expected.append(("Total", whole))
    told = words_of(chart)
    assert list(told) == [name for name, _ in expected]
    for name, numbers in expected:
        if numbers is None:
            assert told[name] == ["", "", ""]
            continue
        margin = numbers["surplus"] / numbers["fares"]
        assert told[name][0] == f"{numbers['passengers']:,.0f}"
        assert told[name][1] == f"{margin:.2%}".replace("-", "−")
        assert told[name][2] == f"{numbers['complaints']:,.0f}"
    ranked = (sums["surplus"] / sums["fares"]).groupby("waters").rank(ascending=False, method="min")
    filled = {
        n
        for n, alpha in zip(table.names.texts, table.columns[1].ground.fill[:, 3], strict=True)
        if alpha
    }
    assert filled == {place[1] for place in ranked[ranked == 2].index}
    reached = (
        ledger(last_year)
        .rule("above 0.1", on="column margin", totals="only", color="favorable", name="t")
        .stages.page.table
    )
    assert reached is not None
    sound = {f"{w} total" for w in groups.index[groups["surplus"] / groups["fares"] > 0.1]}
    filled = {
        n
        for n, alpha in zip(reached.names.texts, reached.columns[1].ground.fill[:, 3], strict=True)
        if alpha
    }
    assert filled == sound | ({"Total"} if whole["surplus"] / whole["fares"] > 0.1 else set())


@pytest.mark.parametrize("category", ["route", "month"])
def test_a_table_with_series_is_a_pivot_table(last_year: pd.DataFrame, category: str) -> None:
    """Cells, totals across and down, and cells that no row has, which stay empty."""
    series = "month" if category == "route" else "route"
    rows = last_year[~((last_year["route"] == "Kelpwick") & (last_year["month"] < "2025-10"))]
    chart = yz.chart(
        rows, kind="table", category=category, series=series, value="fares", totals=["all"]
    )
    chart = chart.rule("always", shade={"colors": ["paper", "favorable"]}, name="s")
    pivot = rows.pivot_table("fares", category, series, "sum", margins=True, margins_name="Total")
    if series == "route":
        pivot = pivot[[*dict.fromkeys(rows["route"]), "Total"]]
    table = chart.stages.page.table
    assert table is not None
    assert len(table.columns) == len(pivot.columns)
    assert set(table.names.texts) == set(pivot.index)
    for row, name in enumerate(table.names.texts):
        for column, number in zip(table.columns, pivot.loc[name], strict=True):
            assert column.text(row) == ("" if np.isnan(number) else f"{number:,.0f}")
            colored = column.ground.fill[row, 3] > 0
            assert colored == (name != "Total" and column.title != "Total" and not np.isnan(number))


def test_peers_are_rows_columns_or_all_and_totals_are_none(last_year: pd.DataFrame) -> None:
    chart = yz.chart(
        last_year,
        kind="table",
        category="route",
        series="month",
        value="fares",
        totals=["waters", "all"],
    )
    chart = chart.rule("highest within month", badge="up", name="column").rule(
        "highest within route", badge="down", name="row"
    )
    flags = chart.rule("highest", outline="ink", name="all").flags().query("target == 'mark'")
    cells = last_year.groupby(["route", "month"])["fares"].sum()
    for name, by in (("column", "month"), ("row", "route"), ("all", None)):
        held = flags[
            (flags["rule"] == name)
            | flags["also"].str.split("; ").map(lambda names, name=name: name in names)
        ]
        best = cells.groupby(by).transform("max") if by else cells.max()
        month = pd.to_datetime(held["month"]).dt.strftime("%Y-%m")
        assert set(zip(held["route"], month, strict=True)) == set(cells[cells == best].index), name


def test_every_column_has_a_scale_of_its_own_or_shares_one() -> None:
    rows = {"item": list("abcd"), "small": [1.0, 2, 3, 4], "large": [100.0, 900, 500, 300]}
    chart = (
        yz.chart(rows, kind="table", category="item", value="small", order="as given")
        .column("small")
        .column("large")
    )
    shade: Any = {"colors": ["#FFFFFF", "#000000"]}
    own = chart.rule("always", columns=["small", "large"], shade=shade).stages.page
    shared = chart.rule("always", columns=["small", "large"], shade=shade | {"scale": "shared"})
    assert own.table is not None
    assert (page := shared.stages.page.table) is not None
    for column in own.table.columns:
        red = column.ground.fill[:, 0]
        assert (red.max(), red.min()) == (pytest.approx(1), pytest.approx(0))
    assert page.columns[0].ground.fill[0, 0] == pytest.approx(1)
    assert page.columns[0].ground.fill[:, 0].min() > 0.9
    assert page.columns[1].ground.fill[:, 0].min() == pytest.approx(0)
    assert [getattr(ramp, "text", "") for ramp in own.key.entries] == ["Small", "Large"]
    ramps = [ramp for ramp in shared.stages.page.key.entries if isinstance(ramp, KeyRamp)]
    assert [(ramp.text, ramp.low, ramp.high) for ramp in ramps] == [("Small, Large", "1", "900")]
    assert "large 900, on a shade from 1 to 900" in str(shared.why("b"))


def test_numbers_stand_on_their_decimal_sign() -> None:
    rows = {"item": list("abcdef"), "v": [1234.5, -0.25, 17.125, np.nan, 3.0, 250_000.75]}
    chart = yz.chart(
        rows, kind="table", category="item", value="v", title=" ", order="as given"
    ).column("v", format="{,.3f}")
    chart = chart.rule("v < 0", label="{v:.1f} m", name="short").rule(
        "v above 1000", on="label", color="adverse", name="bold"
    )
    numbers = [
        line for line in drawn(chart).texts if line.text[-1:].isdigit() or line.text.endswith(" m")
    ]
    assert len(numbers) == 5
    places = [
        line.left + sum(face_of(line.font).steps(line.text)[: decimal_place(line.text)])
        for line in numbers
    ]
    assert np.ptp(places) < 1e-6
    for one, other in pairwise(numbers):
        assert other.foot - one.foot == pytest.approx(30 * round((other.foot - one.foot) / 30))


def test_bars_in_cells_begin_at_one_zero() -> None:
    values = [4.0, -2, 0, 1, np.nan, np.inf]
    rows = {"item": list("abcdef"), "v": values, "g": ["x"] * 6}
    chart = yz.chart(rows, kind="table", category="item", value="v", order="as given").column(
        "v", show="both"
    )
    chart = chart.rule("negative", color="adverse")
    bars = only(drawn(chart), "bars", "v").shape
    left, _, right, _ = bars.corners.T
    zero = left[0]
    assert right[1] == pytest.approx(zero)
    assert left[2] == pytest.approx(zero)
    lengths = (right - left) / (right[0] - left[0])
    assert lengths.tolist() == pytest.approx([1, 0.5, 0.25, 1])
    assert bars.fill[1, :3] == pytest.approx(np.array([0xC6, 0x3E, 0x2F]) / 255)


def pulses(rows: pd.DataFrame) -> yz.Chart:
    chart = yz.chart(
        rows, kind="table", category="route", value="fares", totals=["all"], limit=12
    ).column("fares")
    chart = chart.column("passengers", name="travel", show="trend", over="month")
    chart = chart.rule("highest", on="column travel", color="favorable", name="peak")
    return chart.rule("above average", on="column travel", color="notice", name="busy")


def test_small_lines_are_judged_among_the_points_of_their_row(last_year: pd.DataFrame) -> None:
    chart = pulses(last_year)
    flags = chart.flags().query("target == 'column travel'")
    points = last_year.groupby(["route", "month"])["passengers"].sum()
    drawn_rows = last_year.groupby("route")["fares"].sum().nlargest(12).index
    points = points[points.index.get_level_values("route").isin(drawn_rows)]
    best = points[points == points.groupby("route").transform("max")]
    peaks = flags[flags["rule"] == "peak"]
    month = pd.to_datetime(peaks["month"]).dt.strftime("%Y-%m")
    assert set(zip(peaks["route"], month, strict=True)) == set(best.index)
    busy = points[points > points.groupby("route").transform("mean")]
    assert len(flags[(flags["rule"] == "busy") | flags["also"].str.contains("busy")]) == len(busy)
    table = chart.stages.page.table
    assert table is not None
    assert [plot is not None for plot in table.columns[1].trends] == [True] * 12 + [False]
    figure = drawn(chart)
    assert len(only(figure, "trend points").shape) == len(best)
    told = str(chart.why("Cinderquay"))
    assert 'column travel  favorable (#0A4A80)  rule 1 "peak"' in told
    assert "is the highest of 12 marks within route" in told


@pytest.mark.parametrize("kind", ["png", "svg", "pdf", "html"])
def test_a_table_can_be_asked_alone(last_year: pd.DataFrame, tmp_path: Path, kind: Any) -> None:
    chart = pulses(last_year)
    path = chart.save(tmp_path / f"table.{kind}")
    again = load_picture(path)
    pd.testing.assert_frame_equal(again.flags(), chart.flags())
    assert str(again.why()) == str(chart.why())
    assert again.image() == chart.image()


class Cells(HTMLParser):
    """The cells of a table in HTML: of each row the scope of its head and the texts; and every tag."""

    def __init__(self) -> None:
        super().__init__()
        self.tags: list[str] = []
        self.scopes: list[str | None] = []
        self.rows: list[list[str]] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.append(tag)
        assert not any(name.startswith("on") or name in {"src", "href"} for name, _ in attrs)
        if tag == "tr":
            self.rows.append([])
        if tag == "th":
            self.scopes.append(dict(attrs).get("scope"))
        if tag in {"th", "td"}:
            self.rows[-1].append("")

    def handle_data(self, data: str) -> None:
        if self.rows and self.rows[-1]:
            self.rows[-1][-1] += data.strip("\n")


def test_html_is_the_same_table_as_text(last_year: pd.DataFrame) -> None:
    odd = '<script>alert("x")</script> & </td>'
    rows = last_year.replace({"route": {"Kelpwick": odd}})
    chart = ledger(rows).rule(
        "negative", on="column margin", color="adverse", key=odd.replace("{", ""), name=odd
    )
    text = chart.image("html").decode()
    read = Cells()
    read.feed(text[: text.index("</table>")])
    assert {"script", "img", "iframe", "link"}.isdisjoint(read.tags)
    assert read.rows[0] == ["Route", "Passengers", "Margin", "Complaints"]
    told = words_of(chart)
    assert odd in told
    plain = {row[0]: row[1:] for row in read.rows[1:] if len(row) > 1}
    assert plain == {name: cells for name, cells in told.items() if any(cells)}
    assert read.scopes[:4] == ["col"] * 4
    assert read.scopes.count("rowgroup") == 4
    assert read.scopes.count("row") == len(plain)
    assert text.count("background:#C63E2F") >= 4
    shown = chart._repr_mimebundle_()[0]
    assert set(shown) == {"text/html", "text/plain"}
    assert shown["text/html"] in text
    with pytest.raises(yz.YuzenError, match="html is for tables"):
        yz.chart(rows, category="route", value="fares").image("html")


def test_long_tables_go_on_on_pages_with_their_headings(tmp_path: Path) -> None:
    count = 640
    rows = pd.DataFrame(
        {
            "item": [f"item {i}" for i in range(count)],
            "v": np.arange(count),
            "g": [f"g{i // 200}" for i in range(count)],
        }
    )
    chart = yz.chart(
        rows, kind="table", category="item", value="v", order="as given", totals=["g", "all"]
    )
    pages = sheets(chart.stages.page)
    text = chart.save(tmp_path / "long.pdf").read_bytes()
    assert len(re.findall(rb"/Type /Page\b", text)) == len(pages) == 13
    shown = [
        name
        for page in pages
        if page.table
        for name, level in zip(page.table.names.texts, page.table.roles, strict=True)
        if level != HEADING
    ]
    assert shown == list(chart.stages.marks.names())
    assert all(page.table and page.table.roles[0] == HEADING for page in pages)
    assert "page 13 of 13" in pages[-1].words.footer
    notes = chart.stages.picture("png").notes
    assert any(
        "and 344 more; one picture has 300 at most, a PDF has them all" in note for note in notes
    )
    texts = [text for text, _ in boxes_of(drawn(chart))]
    assert "347 more rows not shown" in texts
    assert chart.stages.picture("pdf").notes == ()
    alone = yz.chart(rows[:290], kind="table", category="item", value="v")
    assert (alone.notes(), len(sheets(alone.stages.page))) == ([], 1)


def test_letters_drawn_once_look_as_texts_that_are_laid_out_whole(
    monkeypatch: pytest.MonkeyPatch, last_year: pd.DataFrame
) -> None:
    chart = ledger(last_year)

    def seen() -> Any:
        return np.asarray(Image.open(io.BytesIO(chart.image())).convert("L"), dtype=float)

    quick = seen()
    monkeypatch.setattr("yuzen.render.letters.is_plain", lambda _: False)
    whole = seen()
    assert np.abs(quick - whole).mean() < 1.0
    assert (255 - quick).sum() == pytest.approx((255 - whole).sum(), rel=0.02)


def order_of(chart: yz.Chart) -> list[str]:
    return [name for name, cells in words_of(chart).items() if any(cells)]


def test_rows_are_ordered_by_any_column(last_year: pd.DataFrame) -> None:
    chart = yz.chart(
        last_year, kind="table", category="route", value="fares", order="complaints, smallest first"
    )
    sums = last_year.groupby("route", sort=False)["complaints"].sum()
    assert order_of(chart) == sums.sort_values(kind="stable").index.tolist()
    bars = yz.chart(
        last_year, category="route", value="fares", order="average of on_time, largest first"
    )
    mean = last_year.groupby("route", sort=False)["on_time"].mean()
    assert bars.stages.marks.names()[0] == mean.idxmax()
    months = last_year.assign(month=last_year["month"].astype(str) + " ")
    crossed = yz.chart(
        months,
        kind="table",
        category="route",
        series="month",
        value="fares",
        order="2026-01 , largest first",
    )
    january = last_year[last_year["month"] == "2026-01"].set_index("route")["fares"]
    assert order_of(crossed) == january.sort_values(ascending=False).index.tolist()


def test_tables_of_hours_dates_and_numbers_have_totals() -> None:
    random = np.random.default_rng(3)
    days = ["Mon", "Tue", "Wed", "Thu", "Fri"]
    rows = pd.DataFrame(
        [
            (day, hour, random.integers(1, 50))
            for day in days
            for hour in range(6, 22)
            if random.random() > 0.1
        ],
        columns=["day", "hour", "trips"],
    )
    chart = yz.chart(
        rows,
        kind="table",
        category="hour",
        series="day",
        value="trips",
        totals=["all"],
        order="in time",
    )
    pivot = rows.pivot_table("trips", "hour", "day", "sum", margins=True, margins_name="Total")[
        [*days, "Total"]
    ]
    assert list(words_of(chart)) == [str(hour) for hour in pivot.index]
    assert words_of(chart)["Total"] == [f"{number:,.0f}" for number in pivot.loc["Total"]]
    assert [column.title for column in chart.stages.page.table.columns] == [*days, "Total"]  # type: ignore[union-attr]
    dated = yz.chart(
        {"month": ["2026-01", "2026-02"], "v": [1, 2]},
        kind="table",
        category="month",
        value="v",
        totals=["all"],
    )
    assert words_of(dated) == {"2026-01": ["1"], "2026-02": ["2"], "Total": ["3"]}


@pytest.mark.parametrize(
    ("grain", "form"), [("month", "%Y-%m"), ("quarter", None), ("week", "%Y-%m-%d"), ("year", "%Y")]
)
def test_days_that_are_the_columns_are_taken_by_the_grain(grain: str, form: str | None) -> None:
    days = pd.date_range("2025-11-03", periods=120)
    rows = pd.DataFrame({"pier": ["a", "b"] * 60, "day": days.astype(str), "trips": np.arange(120)})
    chart = yz.chart(
        rows,
        kind="table",
        category="pier",
        series="day",
        value="trips",
        grain=grain,  # type: ignore[arg-type]
        totals=["all"],
    )
    period = days.to_period({"month": "M", "quarter": "Q", "week": "W", "year": "Y"}[grain])
    pivot = rows.assign(day=period).pivot_table(
        "trips", "pier", "day", "sum", margins=True, margins_name="Total"
    )
    table = chart.stages.page.table
    assert table is not None
    for name in pivot.index:
        expected = ["" if np.isnan(number) else f"{number:,.0f}" for number in pivot.loc[name]]
        assert words_of(chart)[name] == expected
    periods: list[Any] = pivot.columns[:-1].tolist()
    called = [p.start_time.strftime(form) if form else f"{p.year}-Q{p.quarter}" for p in periods]
    assert [column.called for column in table.columns] == [*called, "Total"]
    assert f"b · {called[0]}" in chart.stages.marks.names()


@pytest.mark.sampled(2)
@pytest.mark.parametrize("kind", ["table", "bar"])
def test_sequences_of_months_side_by_side_go_along_the_months(
    last_year: pd.DataFrame, kind: Any
) -> None:
    rows = last_year[~((last_year["route"] == "Larkholm") & (last_year["month"] == "2025-11"))]
    mixed = rows.sample(frac=1, random_state=4)
    chart = yz.chart(
        mixed, kind=kind, category="route", series="month", value="fares", grain="month"
    )
    chart = chart.rule("falls", color="adverse", name="fall").rule(
        "last", outline="ink", name="latest"
    )
    flags = chart.flags().query("target == 'mark'")
    steps = rows.pivot_table("fares", "route", "month", "sum").diff(
        axis=1
    )  # no row is no number here
    fell = {
        (route, month) for route, own in steps.iterrows() for month, step in own.items() if step < 0
    }
    month = pd.to_datetime(flags["month"]).dt.strftime("%Y-%m")
    told = set(
        zip(flags["route"][flags["rule"] == "fall"], month[flags["rule"] == "fall"], strict=True)
    )
    assert told == fell
    assert ("Larkholm", "2025-12") not in told
    held = flags["rule"].eq("latest") | flags["also"].str.contains("latest")
    assert set(month[held]) == {"2026-06"}
    assert held.sum() == rows["route"].nunique()
    assert not [finding for finding in chart.check() if finding.code == "sequence-order"]


def test_a_brief_of_layers_is_a_table_of_their_columns() -> None:
    rows = {"item": list("abc"), "v": [3.0, 2, 1], "plan": [2.0, 3, 1]}
    layers = [{"name": "planned", "value": "plan"}, {"name": "done", "value": "v"}]
    bars = yz.chart(rows, category="item", value="v", layer=layers).rule(  # type: ignore[arg-type]
        "below plan", color="adverse", name="short"
    )
    bars = bars.rule("highest", on="layer planned", color="notice", name="most")
    table = yz.chart(rows, kind="table", category="item", value="v", layer=layers).rule(  # type: ignore[arg-type]
        "below plan", color="adverse", name="short"
    )
    table = table.rule("highest", on="layer planned", color="notice", name="most")
    assert table.stages.verdict.whole.truths.tolist() == bars.stages.verdict.whole.truths.tolist()
    assert table.flags()["target"].tolist() == bars.flags()["target"].tolist()
    assert [column.called for column in table.stages.page.table.columns] == ["v", "planned"]  # type: ignore[union-attr]
    assert table.notes() == []


@pytest.mark.parametrize(
    ("said", "message"),
    [
        ({"panels": "g"}, 'kind = "table" has no panels; make groups of its rows'),
        ({"column": [{"value": "v"}, {"value": "v"}]}, 'two columns are called "v"; give one of them a name.'),
        ({"column": [{"value": "v", "show": "trend"}]}, "a trend runs along a second column"),
        ({"column": [{"value": "v", "over": "g"}]}, "over is for trends"),
        ({"column": [{"value": "v", "show": "bar", "format": "{.1f}"}]}, "a bar writes no numbers, so it has no format"),
        ({"column": [{"value": "v", "format": ",.1f"}]}, "A format is a text with one number in it"),
        ({"column": [{"value": "v", "format": "{v!r}"}]}, "I cannot read this number format."),
        ({"column": [{"value": "v", "show": "trend", "over": "n"}], "grain": "month"}, "rows that a grain makes have no trends"),
        ({"column": [{"value": "v"}], "series": "g"}, "the columns of a table with series are its values"),
        ({"rule": [{"on": "column w", "when": "above 1", "color": "ink"}], "column": [{"value": "v"}]}, "There is no 'column w' to act on."),
        ({"rule": [{"columns": ["v", "w"], "on": "mark", "when": "top 1"}]}, "a rule acts on something or on columns"),
        ({"rule": [{"columns": ["v"], "shade": {"scale": "shared"}}]}, "a scale is shared by several columns"),
        ({"rule": [{"on": "row", "part": "above 1", "color": "ink"}]}, "row has no part; what has one is mark"),
        ({"order": "largest"}, "'largest' is no order. Did you mean largest first?"),
        ({"order": "vv, largest first"}, "There is no column 'vv' for the order. Did you mean v?"),
        ({"order": "z, largest first", "series": "g"}, "There is no measure and no g 'z' to order by."),
        ({"kind": "bar", "series": "g", "totals": ["all"]}, "a chart with series has no totals besides"),
        ({"totals": ["g"], "category": "n"}, "Totals of g need a category of words"),
    ],
)  # fmt: skip
def test_what_no_table_can_be_is_told(said: dict[str, Any], message: str) -> None:
    rows = {
        "item": list("abc"),
        "g": list("xxy"),
        "n": [1, 2, 3],
        "v": [1.0, 2, 3],
        "w": [1.0, 2, 3],
    }
    with pytest.raises(yz.YuzenError) as error:
        yz.chart(rows, **{"kind": "table", "category": "item", "value": "v", **said}).image()
    assert message in str(error.value)


@pytest.mark.parametrize(
    ("said", "note"),
    [
        ({"kind": "bar", "column": [{"value": "v"}]}, "Columns are for tables, so this bar chart does not show them."),
        ({"reference": [{"at": "average"}]}, "A table has no axis, so it does not show references."),
        ({"scale": {"low": 0}}, "A table has no axis, so it does not show the ends of a scale."),
        ({"smooth": True}, "smooth is for lines and areas"),
        ({"column": [{"value": "w"}], "rule": [{"when": "top 1", "color": "ink", "name": "r"}]}, "no column here shows v, so there is no color on mark"),
        ({"size": {"height": 300}, "rows": 40}, "30 more; leave out the height"),
        ({"size": {"width": 400}, "column": [{"value": "v", "name": f"a column {i}"} for i in range(12)]}, "columns left out for want of room: a column"),
        ({"size": {"width": 800}, "series": "g", "rows": 60, "rule": [{"shade": {"of": "v"}}]}, "are filled without their numbers"),
    ],
)  # fmt: skip
def test_what_a_table_does_not_show_is_told(said: dict[str, Any], note: str) -> None:
    count = said.pop("rows", 3)
    rows = {
        "item": [f"i{k}" for k in range(count)],
        "g": [f"g{k}" for k in range(count)],
        "v": np.arange(count) + 1e6,
        "w": [1.0] * count,
    }
    chart = yz.chart(rows, **{"kind": "table", "category": "item", "value": "v", **said})
    assert any(note in told for told in chart.notes()), chart.notes()
    figure = drawn(chart)
    assert_tidy(figure)
    if "left out" in note:  # which the page itself says too
        assert any(text.endswith("not shown") for text, _ in boxes_of(figure))


def test_a_picture_for_each_value_is_a_table(folder: Path, call: Any) -> None:
    done = call("draw", "ledger.toml", "--each", "waters", "-o", "out/ledger.html")
    assert done.code == 0, done.err
    files = sorted(path.name for path in (folder / "out").iterdir())
    assert len(files) == 4
    assert "Otterby" in (folder / "out" / "ledger-North-Reach.html").read_text(encoding="utf-8")
    assert "Cinderquay" in call("why", "out/ledger-Kestrel-Sound.html", "Cinderquay").out


def test_a_comparison_tells_and_outlines_what_changed_in_cells_and_lines(
    folder: Path, call: Any
) -> None:
    rows = pd.read_csv("routes.csv")
    rows[rows["month"] < "2026-06"].to_csv("may.csv", index=False)
    for name in ("ledger", "pulse"):  # the same first month for both files
        path = folder / f"{name}.toml"
        text = path.read_text().replace("in last 12 months", 'after "2025-06"')
        path.write_text(text.replace("in last 24 months", 'after "2024-06"'))
    old, new = (
        yz.load(folder / "ledger.toml").with_rows(name) for name in ("may.csv", "routes.csv")
    )
    compared = compare(old, new)
    outlined = compared.pictured("may.csv").stages.page.table
    assert outlined is not None
    margin = next(column for column in outlined.columns if column.called == "margin")
    edged = {
        n
        for n, alpha in zip(outlined.names.texts, margin.ground.outline[:, 3], strict=True)
        if alpha
    }
    assert edged == {change.mark for change in compared.changes if change.target == "column margin"}
    assert edged
    told = call("compare", "pulse.toml", "may.csv", "routes.csv").out
    assert "2026-06 · Brinewick on column travel: latest" in told
