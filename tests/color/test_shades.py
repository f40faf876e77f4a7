"""Shades, bands and colours: scales by their definition, mixing by published values."""

from __future__ import annotations

from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from yuzen.color.gradient import Gradient, from_oklab, hexes, to_oklab
from yuzen.color.named import rgb_of
from yuzen.color.themes import THEMES
from yuzen.rules.peers.codes import ALONE, Peers
from yuzen.rules.quantities.fields import Field
from yuzen.rules.shades import ScaleEnd, Shade, fit

V = Field("v")
values = st.lists(st.integers(-20, 20).map(float) | st.just(np.nan), min_size=1, max_size=30)


def places(numbers: list[float], peers: Peers = ALONE, **shade: Any) -> list[float]:
    array = np.array(numbers)
    said = Shade(V, **shade)
    scale = fit(said, array, peers, np.ones(len(array), dtype=bool))
    found: list[float] = scale.place(array, peers, said.steps).tolist()
    return found


PLACES: list[tuple[list[float], dict[str, Any], list[float]]] = [
    ([0, 5, 10], {}, [0, 0.5, 1]),
    ([3, 3, 3], {}, [0.5, 0.5, 0.5]),
    ([-3, -3], {"center": 0.0}, [0, 0]),
    ([-10, 0, 5], {}, [0, 0.5, 0.75]),
    ([-10, 0, 5], {"arms": "each"}, [0, 0.5, 1]),
    ([-10, 0, 5], {"diverges": False}, [0, 2 / 3, 1]),
    ([10, 20, 30], {"center": 20.0}, [0, 0.5, 1]),
    ([10, 20, 60], {"center": 20.0}, [0.375, 0.5, 1]),
    ([10, 20, 60], {"center": 20.0, "arms": "each"}, [0, 0.5, 1]),
    ([0, 1, 2, 1000], {"range": (ScaleEnd(0), ScaleEnd(2))}, [0, 0.5, 1, 1]),
    ([0, 1, 2, 3, 1000], {"range": (ScaleEnd(0, percentile=True), ScaleEnd(75, percentile=True))}, [0, 1 / 3, 2 / 3, 1, 1]),
    ([-9, -1, 0, 2], {"steps": 2}, [0, 0, 1, 1]),
    ([0, 1, 2, 3, 4], {"steps": 3}, [0, 0, 0.5, 1, 1]),
    ([0, np.inf, 4, -np.inf], {"diverges": False}, [0, 1, 1, 0]),
]  # fmt: skip


@pytest.mark.parametrize(("numbers", "shade", "expected"), PLACES)
def test_places_on_a_shade(
    numbers: list[float], shade: dict[str, Any], expected: list[float]
) -> None:
    assert places(numbers, **shade) == pytest.approx(expected)


@given(values, st.sampled_from([None, 0.0, 5.0]), st.sampled_from(["alike", "each"]))
def test_larger_numbers_never_lie_lower(
    numbers: list[float], center: float | None, arms: Any
) -> None:
    found = np.array(places(numbers, center=center, arms=arms))
    told = ~np.isnan(numbers)
    assert np.array_equal(np.isnan(found), ~told)
    assert ((found[told] >= 0) & (found[told] <= 1)).all()
    order = np.argsort(np.array(numbers)[told])
    assert (np.diff(found[told][order]) >= 0).all()


@given(values, values)
def test_each_group_has_its_own_scale(one: list[float], other: list[float]) -> None:
    codes = np.repeat([0, 1], [len(one), len(other)])
    together = places([*one, *other], Peers(codes, 2))
    np.testing.assert_array_equal(together, [*places(one), *places(other)])


# The values of the CSS Color Module Level 4 for the primaries.
PRIMARIES = {
    "#FFFFFF": (1.0, 0.0, 0.0),
    "#FF0000": (0.62796, 0.22486, 0.12585),
    "#00FF00": (0.86644, -0.23389, 0.17950),
    "#0000FF": (0.45201, -0.03246, -0.31153),
}


@pytest.mark.parametrize(("color", "lab"), PRIMARIES.items())
def test_oklab_as_published(color: str, lab: tuple[float, ...]) -> None:
    np.testing.assert_allclose(to_oklab(rgb_of(color)), lab, atol=2e-4)


@given(st.lists(st.tuples(*[st.integers(0, 255)] * 3), min_size=1, max_size=20))
def test_colors_come_back_from_oklab(colors: list[tuple[int, int, int]]) -> None:
    rgb = np.array(colors) / 255
    assert hexes(from_oklab(to_oklab(rgb))) == hexes(rgb)


def test_gradients_meet_their_colors_and_missing_is_apart() -> None:
    gradient = Gradient(("#C63E2F", "#EDEFF1", "#0A4A80"))
    shown = hexes(gradient.at(np.array([0.0, 0.5, 1.0, np.nan, -3.0]), "#EFE3C8"))
    assert shown == ["#C63E2F", "#EDEFF1", "#0A4A80", "#EFE3C8", "#C63E2F"]
    lightness = to_oklab(gradient.at(np.linspace(0, 0.5, 50), "#EFE3C8"))[:, 0]
    assert (np.diff(lightness) > 0).all()


def test_every_theme_has_every_role_readable() -> None:
    for theme in THEMES.values():
        assert {
            "favorable",
            "adverse",
            "notice",
            "quiet",
            "ink",
            "slate",
            "paper",
            "pale",
            "missing",
        } <= set(theme.roles)


def shaded(rows: dict[str, Any], **keys: Any) -> pd.DataFrame:
    chart = yz.chart(rows, category="item", value="v", order="as given")
    shade: Any = {"of": "v", **keys}
    flags: pd.DataFrame = chart.rule("always", shade=shade).flags()
    return flags


def test_a_shade_colours_charts() -> None:
    flags = shaded({"item": list("abcd"), "v": [-4, 0, 4, None]})
    assert flags["color"].tolist() == ["#C63E2F", "#EDEFF1", "#0A4A80", "#EFE3C8"]
    assert flags["role"].tolist() == [""] * 4
    plain = shaded({"item": list("abc"), "v": [1, 2, 3]}, colors=["white", "black"], steps=2)
    assert plain["color"].tolist() == ["#FFFFFF", "#000000", "#000000"]
    ranked = yz.chart(
        {"item": list("abc"), "v": [1, 2, 900]}, category="item", value="v", order="as given"
    ).rule("always", shade={"of": "rank of v", "colors": ["#000000", "#FFFFFF"]})
    assert ranked.flags()["color"].tolist() == ["#000000", "#636363", "#FFFFFF"]
    assert "on a shade from 3 to 1" in str(ranked.why("b"))


def test_a_shade_only_where_its_rule_holds() -> None:
    rows = {"item": list("abcd"), "v": [-4, -2, 5, 9]}
    chart = yz.chart(rows, category="item", value="v", order="as given")
    chart = chart.rule("negative", shade={"of": "v", "colors": ["#000000", "#FFFFFF"]})
    assert chart.flags()["color"].tolist() == ["#000000", "#FFFFFF", "#C9CCD0", "#C9CCD0"]


@given(st.lists(st.integers(-10, 40), min_size=1, max_size=12))
def test_bands_as_pandas_cut(numbers: list[int]) -> None:
    rows = {"item": [f"i{k}" for k in range(len(numbers))], "v": numbers}
    bands: Any = {
        "of": "v",
        "edges": [0, 10, 20],
        "names": list("abcd"),
        "colors": ["red", "green", "blue", "gray"],
    }
    flags = (
        yz.chart(rows, category="item", value="v", order="as given")
        .rule("always", bands=bands)
        .flags()
    )
    expected = pd.cut(
        pd.Series(numbers), [-np.inf, 0, 10, 20, np.inf], right=False, labels=list("abcd")
    )
    assert flags["rule"].tolist() == expected.astype(str).tolist()


WRONG = [
    ({"shade": {"of": "v", "range": "5 - 95"}}, "is no range"),
    ({"shade": {"of": "v", "range": "a to b"}}, "neither a number nor a percentile"),
    (
        {"shade": {"of": "v", "colors": ["adverse", "bleu"]}},
        "colors: I know no color 'bleu'. Did you mean blue?",
    ),
    ({"shade": {"of": "w"}}, "I know no measure or column 'w'"),
    ({"shade": {"of": "v", "within": ["item", "n"]}}, "I know no measure or column 'n'"),
    (
        {"bands": {"of": "v", "edges": [0], "names": ["a"], "colors": ["red", "blue"]}},
        "there are 1 names and 2 colors",
    ),
]


@pytest.mark.parametrize(("rule", "message"), WRONG)
def test_faults_of_shades_and_bands(rule: dict[str, Any], message: str) -> None:
    with pytest.raises(yz.YuzenError, match=message):
        yz.chart({"item": ["a"], "v": [1]}, category="item", value="v").rule(
            "always", **rule
        ).flags()
