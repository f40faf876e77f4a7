"""Charts that use every key in every kind where it is supported: what is recorded of them is in tests/recorded."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, TypeAlias

import numpy as np
import pandas as pd

import yuzen as yz
from tests.support.ferries import DEMO

Maker: TypeAlias = Callable[[], yz.Chart]

ROUTES = pd.read_csv(DEMO / "data" / "routes.csv")
FERRIES = ROUTES[(ROUTES["service"] == "ferry") & (ROUTES["month"] > "2025-06")]
WAVES = pd.read_csv(DEMO / "data" / "waves.csv", parse_dates=["day"])
NORTH = ROUTES[ROUTES["waters"] == "North Reach"]
ONE = ROUTES[ROUTES["route"] == "Brinewick"]
LETTERS = pd.DataFrame(
    {
        "item": list("abcdefgh"),
        "v": [5.0, -3, np.nan, 4, 4, -1, 0, 12],
        "w": [4.0, 5, 3, np.nan, 3, 5, 2, 9],
        "group": list("xxxyyyzz"),
        "t": np.arange(8.0),
    }
)
LOSS = {"when": "surplus negative", "name": "loss", "key": "Runs at a loss", "color": "adverse"}
TOP = {"when": "top 3", "name": "best", "color": "favorable"}
LETTER_RULES = (
    {"when": "v negative", "color": "adverse", "badge": "down"},
    {"when": "highest", "color": "favorable", "outline": "ink", "badge": "cup"},
    {"when": "v missing", "pattern": "dots", "color": "notice"},
    {"when": "v = 4", "opacity": 0.5, "color": "notice", "pattern": "stripes"},
    {"on": "label", "when": "above 4", "color": "favorable", "weight": "bold"},
    {"on": "label", "when": "v zero", "label": "none", "badge": "flag"},
    {"on": "axis name", "when": "v positive", "weight": "bold", "color": "slate"},
)


def made(rows: Any, *rules: dict[str, Any], category: str, value: str, **keys: Any) -> yz.Chart:
    references = keys.pop("reference", ())
    labels = keys.pop("label", ())
    chart = yz.chart(rows, category=category, value=value, **keys)
    for rule in rules:
        chart = chart.rule(**rule)
    for reference in references:
        chart = chart.reference(**reference)
    for label in labels:
        chart = chart.label(**label) if isinstance(label, dict) else chart.label(label)
    return chart


def of_letters(kind: Any, **keys: Any) -> Maker:
    across = {"across": "w"} if kind == "scatter" else {}
    return partial(
        made, LETTERS, *LETTER_RULES, category="item", value="v", kind=kind, **across, **keys
    )


def by_route(*rules: dict[str, Any], **keys: Any) -> Maker:
    keys = {"kind": "bar", "value": "passengers", "order": "largest first", **keys}
    return partial(made, FERRIES, *rules, category="route", **keys)


def in_time(*rules: dict[str, Any], **keys: Any) -> Maker:
    keys = {"kind": "line", "value": "surplus", **keys}
    return partial(made, keys.pop("rows", ONE), *rules, category="month", **keys)


def tables() -> dict[str, Maker]:
    columns = [
        {"value": "passengers", "title": "Passengers, all piers"},
        {"value": "surplus", "show": "both", "format": "{sign ,.0f}"},
        {"value": "margin", "show": "bar", "width": 160},
        {"value": "on_time", "name": "punctual"},
        {"value": "surplus", "name": "course", "show": "trend", "over": "month"},
    ]
    keys: dict[str, Any] = {
        "kind": "table",
        "measures": {
            "margin": "total of surplus / total of fares",
            "on_time": "average of on_time",
        },
        "formats": {"margin": "{.1%}", "on_time": "{.1%}"},
        "column": columns,
    }
    rules: list[dict[str, Any]] = [
        {"on": "column margin", "shade": {"of": "margin", "colors": ["adverse", "paper", "favorable"], "center": 0}},
        {"on": "label.passengers", "when": "passengers in top 3", "color": "favorable", "weight": "bold"},
        {"on": "row", "when": "surplus lowest", "color": "notice"},
        {"on": "axis name", "when": "passengers highest within waters", "badge": "cup"},
        {"on": "column punctual", "bands": {"of": "on_time", "edges": [0.88, 0.9], "names": ["late", "fair", "good"], "colors": ["adverse", "notice", "favorable"]}},
        {"on": "column course", "when": "highest", "color": "favorable"},
        {"on": "column surplus", "when": "surplus negative", "color": "adverse", "pattern": "stripes", "outline": "adverse"},
    ]  # fmt: skip
    heat = {"on": "mark", "shade": {"of": "passengers", "colors": ["paper", "favorable"]}}
    ranks = {"shade": {"of": "rank of passengers", "colors": ["favorable", "paper"], "steps": 4}}
    return {
        "table_full": by_route(*rules, **keys),
        "table_groups": by_route(*rules[:4], **keys, totals=["waters", "all"], group_order="largest first"),
        "table_totals": by_route({**rules[2], "totals": "only", "when": "surplus positive"}, **keys, totals=["all"]),
        "table_cross": partial(made, NORTH, heat, category="route", value="passengers", series="month", kind="table", data={"keep": 'month after "2025-12"'}),
        "table_cross_rank": partial(made, FERRIES, ranks, {"on": "label", "when": "lowest within waters", "color": "adverse"}, category="route", value="passengers", series="waters", kind="table", totals=["all"], limit=6, rest="others"),
        "table_dusk": by_route(*rules[:5], **keys, theme="dusk", limit=5, size={"width": 900, "row_height": 44}),
    }  # fmt: skip


def bars() -> dict[str, Maker]:
    average = {"at": "average", "label": "average {average:,.0f}"}
    groups = {"at": "average", "within": ["waters"]}
    band = {"low": "20% of highest", "high": "median", "label": "the middle"}
    divider = {"after": "top 3", "label": "first three"}
    numbers = {"text": "{passengers:,.0f}"}
    inside = {"text": "{passengers / average - 1:arrow .0%}", "where": "inside", "show": "all"}
    part = {"part": "above 30k", "color": "favorable", "name": "busy"}
    shade = {
        "shade": {
            "of": "surplus",
            "colors": ["adverse", "paper", "favorable"],
            "range": "5% to 95%",
        }
    }
    plan = [
        {"name": "carried", "value": "passengers", "width": 0.8},
        {"name": "goal", "value": "target_passengers", "kind": "tick"},
    ]
    beside = [
        {"name": "carried", "value": "passengers"},
        {
            "name": "goal",
            "value": "target_passengers",
            "place": "beside",
            "width": 0.5,
            "color": "notice",
        },
    ]
    punctual = [
        {"name": "carried", "value": "passengers"},
        {"name": "on time", "value": "punctual", "kind": "line", "axis": "own"},
    ]
    rate = {"measures": {"punctual": "average of on_time"}, "formats": {"punctual": "{.0%}"}}
    series: dict[str, Any] = {
        "category": "quarter of month",
        "value": "passengers",
        "series": "waters",
    }
    return {
        "bar_references": by_route(LOSS, TOP, reference=[average, groups, band, divider], label=[numbers], order="largest first"),
        "bar_long_reference": by_route(LOSS, limit=5, label=[numbers], reference=[{"at": "average", "label": "the average of all routes of the company in the twelve months"}, {"at": "median", "label": "and the median of the same routes in the same months {median:,.0f}"}]),
        "column_rest_months": in_time(LOSS, kind="column", value="passengers", limit=6, rest="before", label=["{passengers:,.0f}"]),
        "column_rest_panels": partial(made, NORTH, LOSS, category="quarter of month", value="surplus", kind="column", panels="route", limit=4, rest="before", panel_scale="own"),
        "column_bins_rest": partial(made, WAVES, TOP, category="wave_height", value="days", measures={"days": "count of rows"}, kind="column", grain=0.5, limit=3, rest="higher waves"),
        "bar_inside": by_route(LOSS, label=[inside], limit=8, rest="All other routes", title='{count "loss"} of {count}', subtitle="Passengers in {latest month}"),
        "bar_parts": by_route(part, reference=[{"at": "30k", "label": "30k"}], label=[numbers], limit=10, order="by name"),
        "bar_shade": by_route(shade, value="surplus", order="smallest first", scale={"low": -30000, "high": 90000, "title": "crowns"}),
        "bar_shade_steps": by_route({"shade": {"of": "passengers", "colors": ["paper", "favorable"], "steps": 3}}, limit=9),
        "bar_shade_within": by_route({"shade": {"of": "passengers", "colors": ["notice", "favorable"], "within": ["waters"]}}, panels="waters", panel_scale="own"),
        "bar_bands": by_route({"bands": {"of": "surplus", "edges": [0, 20000], "names": ["losing", "thin", "sound"], "colors": ["adverse", "notice", "favorable"]}}),
        "bar_totals": by_route(LOSS, totals=["waters", "all"], label=[numbers], group_order="by name"),
        "bar_panels": by_route(LOSS, {"when": "highest", "color": "favorable"}, panels="waters", panel_peers="chart", reference=[average], label=[numbers]),
        "bar_ticks": by_route({"when": "passengers below target_passengers", "color": "adverse"}, layer=plan, limit=8),
        "bar_tick_labels": by_route({"on": "layer goal", "when": "always", "label": "{target_passengers:,.0f}", "color": "adverse"}, layer=plan, limit=10, label=[numbers]),
        "column_tick_labels": by_route({"on": "layer goal", "when": "always", "label": "{target_passengers:,.0fk}", "color": "adverse"}, layer=plan, kind="column", limit=12, label=["{passengers:,.0fk}"]),
        "bar_beside": by_route({"on": "layer goal", "when": "target_passengers above 40k", "color": "adverse", "outline": "ink"}, layer=beside, limit=6),
        "bar_two_axes": by_route({"on": "layer on time", "when": "punctual lowest", "color": "adverse"}, layer=punctual, kind="column", limit=7, **rate),
        "bar_base": partial(made, LETTERS, *LETTER_RULES[:2], category="item", value="v", base="w", kind="bar", label=["{v:.1f}"]),
        "bar_small": by_route(LOSS, TOP, label=[numbers], size={"width": 420, "row_height": 18}),
        "bar_wide_names": partial(made, FERRIES.assign(route=FERRIES["route"] + " and the piers beyond it"), LOSS, category="route", value="passengers", kind="bar", limit=5, label=[numbers]),
        "bar_press": by_route(LOSS, TOP, theme="press", key_place="beside subtitle", subtitle="Passengers", footer="Source: monthly accounts"),
        "bar_german": by_route(LOSS, TOP, locale="de", label=["{passengers:,.1fk}"], limit=5, rest="Übrige", reference=[{"at": "median", "label": "Median"}]),
        "bar_no_key": by_route(LOSS, key_place="none", limit=4, label=["{route}", {"text": " {surplus:paren ,.0f}", "name": "gain"}], words={"rest": "all other routes"}),
        "bar_ties": partial(made, LETTERS, {"when": "top 3", "color": "favorable", "ties": "dense"}, {"when": "rank 2", "color": "notice"}, {"when": "bottom 25%", "badge": "alert"}, category="item", value="v", kind="bar"),
        "column_stacked": partial(made, ROUTES, {"when": "highest within waters", "color": "adverse"}, kind="column", arrange="stacked", label=["{passengers:,.0fk}"], **series),
        "column_grouped": partial(made, FERRIES, {"when": "lowest within waters", "color": "adverse", "badge": "down"}, kind="column", label=["{passengers:,.0fk}"], **series),
        "column_months": in_time({"when": "falls on a year before", "color": "adverse"}, kind="column", rows=ONE, show="month in last 12 months", value="passengers", label=[{"text": "{passengers}", "show": "flagged"}]),
        "column_bins": partial(made, WAVES, {"when": "wave_height at least 3", "color": "adverse"}, category="wave_height", value="days", measures={"days": "count of rows"}, kind="column", grain=0.5, label=["{days}"]),
        "column_edges": partial(made, WAVES, {"when": "top 1", "color": "notice"}, category="wave_height", value="count of rows", kind="column", edges=[0, 1, 2, 4]),
        "column_weekdays": partial(made, WAVES, {"when": "highest", "color": "adverse"}, category="weekday of day", value="average of wave_height", kind="column", calendar={"week_starts": "Sunday"}, reference=[average | {"label": "{average:.2f}"}]),
        "column_notes": in_time({"when": "surplus lowest", "color": "adverse", "label": "{surplus:,.0f}"}, kind="column", note=[{"at": "2025-01", "text": "Pier closed"}, {"when": "highest", "text": "best: {surplus:,.0f}"}]),
    }  # fmt: skip


def lines() -> dict[str, Maker]:
    zero = {"part": "below 0", "color": "adverse", "name": "loss"}
    new_high = {"on": "marker", "when": "new high", "color": "favorable", "size": 10}
    average = {"at": "average", "label": "average"}
    several = {"category": "month", "value": "passengers", "series": "route", "kind": "line"}
    moving = {"measures": {"trend": "moving average of surplus over 3"}}
    layers = [
        {"name": "surplus", "value": "surplus"},
        {"name": "trend", "value": "trend", "kind": "line", "color": "notice"},
    ]
    return {
        "line_parts": in_time(zero, new_high, reference=[average, {"low": "0", "high": "2000", "label": "thin"}]),
        "line_smooth": in_time(zero, smooth=True, label=[{"text": "{surplus:,.0f}", "show": "flagged"}]),
        "line_series": partial(made, NORTH, {"on": "line", "when": "passengers lowest within route", "color": "adverse"}, {"on": "marker", "when": "highest within route", "color": "favorable"}, **several),
        "line_series_rises": partial(made, NORTH, {"when": "rises by 20%", "color": "favorable"}, {"when": "falls 3 times", "color": "adverse", "pattern": "stripes"}, **several, show="month in last 12 months"),
        "line_panels": partial(made, NORTH, zero, category="month", value="surplus", kind="line", panels="route", panel_scale="own"),
        "line_days": partial(made, WAVES, {"part": "above 3", "color": "adverse"}, {"on": "marker", "when": "highest within month", "color": "notice"}, category="day", value="wave_height", kind="line", scale={"low": 0, "title": "metres"}, note=[{"at": "2025-12-01", "text": "Buoy changed"}]),
        "line_weeks": partial(made, WAVES, {"when": "above average", "color": "adverse"}, category="day", value="average of wave_height", kind="line", grain="week"),
        "line_years": in_time({"when": "turns negative", "color": "adverse", "label": "{surplus:,.0f}"}, grain="quarter", calendar={"year_starts": "April"}),
        "line_layers": in_time(zero, {"on": "layer trend", "when": "trend negative", "color": "adverse"}, layer=layers, **moving),
        "line_numbers": partial(made, LETTERS, {"when": "v negative", "color": "adverse"}, {"when": "highest", "color": "favorable", "badge": "star"}, category="t", value="v", kind="line", label=["{v}"]),
        "line_slope": partial(made, ROUTES[ROUTES["month"].isin(["2024-06", "2026-06"])], {"on": "line", "when": "passengers falls", "color": "adverse"}, category="month", value="passengers", series="route", kind="line"),
        "line_change": in_time({"when": "change of surplus below 0", "color": "adverse"}, value="change of surplus"),
        "area_parts": in_time(zero, {"part": "above 2000", "color": "favorable"}, kind="area", reference=[average]),
        "area_stacked": partial(made, FERRIES, {"when": "highest within waters", "color": "adverse"}, category="month", value="passengers", series="waters", kind="area", arrange="stacked"),
        "area_base": in_time(kind="area", value="passengers", base="target_passengers"),
        "area_shade": in_time({"shade": {"of": "surplus", "colors": ["adverse", "paper", "favorable"]}}, kind="area", theme="dusk"),
    }  # fmt: skip


def points() -> dict[str, Maker]:
    cross = [
        {"at": "average", "label": "average"},
        {"across": "median of fares", "label": "median"},
    ]
    region = {
        "when": "surplus negative and fares above 300k",
        "color": "adverse",
        "name": "costly",
        "region": True,
    }
    big = {"when": "top 3", "size": 20, "label": "{route}", "color": "favorable", "outline": "ink"}
    two = {"category": "route", "value": "passengers", "series": "year of month", "kind": "dots"}
    years = ROUTES[ROUTES["month"].str[:4].isin(["2024", "2025"]) & (ROUTES["service"] == "ferry")]
    steps = {
        "from_": 'month before "2025-07"',
        "to": 'month after "2025-06"',
        "opening": "last year",
        "closing": "this year",
    }
    return {
        "scatter_quadrants": by_route(region, big, kind="scatter", value="surplus", across="fares", point_size="passengers", reference=cross, scale={"title": "surplus", "across": {"title": "fares", "low": 0}}),
        "scatter_long_reference": by_route(LOSS, kind="scatter", value="cost", across="fares", reference=[{"at": "average", "label": "the average cost of all routes in the twelve months"}, {"across": "median of fares", "label": "the median of fares"}]),
        "scatter_labels": by_route({"when": "outlier", "color": "adverse", "label": "{route}"}, kind="scatter", value="cost", across="fares", label=["{route}"]),
        "scatter_shade": by_route({"shade": {"of": "on_time", "colors": ["adverse", "favorable"]}}, kind="scatter", value="surplus", across="fares", measures={"on_time": "average of on_time"}, theme="dusk"),
        "scatter_panels": by_route(region, kind="scatter", value="surplus", across="fares", panels="waters"),
        "dots_plain": by_route(LOSS, TOP, kind="dots", reference=[{"at": "average", "label": "average"}], label=["{passengers:,.0f}"]),
        "dots_no_rules": by_route(kind="dots", label=["{passengers:,.0f}"], limit=6),
        "slope_crowded": partial(made, ROUTES[ROUTES["month"].isin(["2024-06", "2026-06"])], category="month", value="passengers", series="route", kind="line", size={"height": 360}),
        "slope_wide": partial(made, ROUTES[ROUTES["month"].isin(["2024-06", "2025-06", "2026-06"])], {"on": "line", "when": "passengers falls", "color": "adverse"}, category="month", value="on_time", measures={"on_time": "average of on_time"}, series="route", kind="line", size={"height": 520, "width": 700}),
        "dots_two": partial(made, years, {"when": "passengers falls", "color": "adverse"}, {"on": "line", "when": "rises by 5%", "color": "favorable"}, **two),
        "dots_names": by_route(LOSS, kind="dots", order="by name", limit=10),
        "dots_series": partial(made, FERRIES, {"when": "highest within waters", "badge": "star", "color": "notice"}, category="quarter of month", value="passengers", series="waters", kind="dots", label=[{"text": "{passengers:,.0fk}", "show": "flagged"}]),
        "ring_shares": by_route({"when": "share of passengers at least 8%", "color": "favorable"}, LOSS, kind="ring", limit=7, rest="other routes", label=["{route}: {share of passengers:.0%}"]),
        "ring_few": partial(made, FERRIES, {"when": "lowest", "color": "adverse", "badge": "down"}, category="waters", value="fares", kind="ring", title="{total:,.0f} fares", theme="dusk"),
        "ring_panels": partial(made, FERRIES, {"when": "highest", "color": "adverse"}, category="service", value="fares", kind="ring", panels="waters"),
        "bridge_steps": by_route({"when": "negative", "color": "adverse"}, {"when": "positive", "color": "favorable"}, kind="bridge", value="surplus", order="as given", closing="all routes", label=["{surplus:sign ,.0f}"]),
        "bridge_years": partial(made, ROUTES, {"when": "negative", "color": "adverse"}, category="waters", value="surplus", kind="bridge", label=["{surplus:sign ,.0fk}"], **steps),
        "bridge_subtotals": partial(made, LETTERS, {"when": "negative", "color": "adverse"}, category="item", value="w", kind="bridge", closing="end"),
    }  # fmt: skip


def letters() -> dict[str, Maker]:
    made_charts = {f"letters_{kind}": of_letters(kind) for kind in ("bar", "column", "dots", "scatter", "line", "table", "bridge")}  # fmt: skip
    for width in (
        520,
        460,
        400,
        360,
    ):  # at which tables write their texts in smaller and smaller letters
        made_charts[f"table_{width}"] = partial(made, LETTERS.assign(v=LETTERS["v"] * 1e6), category="item", value="v", kind="table", size={"width": width},
            column=[{"value": "v", "title": "Number one"}, {"value": "w", "format": "{,.3f} m"}, {"value": "t", "format": "{,.2f} of all"}, {"value": "v", "name": "again", "show": "both"}])  # fmt: skip
    for width in range(360, 560, 25):  # at which the ramp of a key has less and less room
        shade = {
            "on": "mark",
            "key": "How much is left of the fares",
            "shade": {"of": "surplus", "colors": ["adverse", "paper", "favorable"]},
        }
        made_charts[f"shade_{width}"] = by_route(
            shade, value="surplus", limit=4, size={"width": width}
        )
    numbers = pd.DataFrame(
        {
            "n": np.arange(70.0),
            "x": np.arange(70) % 7 * 1e-3,
            "y": np.arange(70) // 7 * 1e-3,
            "day": pd.date_range("2026-01-01", periods=70),
        }
    )
    for name in (
        "n",
        "day",
    ):  # of which most have no room for their numbers, and are named in the note
        made_charts[f"crowded_{name}"] = partial(
            made,
            numbers,
            category=name,
            value="y",
            kind="scatter",
            across="x",
            label=["{y:.4f} and {x:.4f}"],
            size={"width": 420},
        )
    made_charts["line_low"] = partial(
        made, LETTERS, category="t", value="v", kind="line", scale={"low": -1_000_000, "high": 1000}
    )
    made_charts["letters_press"] = of_letters("column", theme="press", label=["{v}"], locale="fr")
    made_charts["letters_panels"] = of_letters("bar", panels="group", label=["{v:.1f}"])
    made_charts["letters_low"] = of_letters(
        "column", size={"width": 500, "height": 400}, label=["{v:.2f}"]
    )
    return made_charts


MANY = {**bars(), **tables(), **lines(), **points(), **letters()}
