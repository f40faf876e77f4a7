"""Themes: the distances that are promised, measured by a colour library; theme files."""

from __future__ import annotations

import warnings
from itertools import combinations
from pathlib import Path

import numpy as np
import pytest

import yuzen as yz
from yuzen.color.gradient import encoded
from yuzen.color.named import contrast, linear, rgb_of
from yuzen.color.themes import THEMES, Theme
from yuzen.page.layer import PATTERN_NAMES

# The library warns about packages that it could use, and changes how NumPy prints.
with warnings.catch_warnings(), np.printoptions():
    warnings.simplefilter("ignore")
    import colour
    from colour.blindness import matrix_cvd_Machado2009

    DEFICIENCIES = {
        name: matrix_cvd_Machado2009(name, 1.0)
        for name in ("Protanomaly", "Deuteranomaly", "Tritanomaly")
    }


def seen(color: str, eye: str) -> np.ndarray:
    """A colour in CIELAB as one kind of eye, or a grey printer, has it."""
    light = linear(rgb_of(color))
    if eye == "grey":
        light = np.full(3, light @ [0.2126, 0.7152, 0.0722])
    elif eye != "full":
        light = DEFICIENCIES[eye] @ light
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return np.asarray(colour.XYZ_to_Lab(colour.sRGB_to_XYZ(encoded(light))))


@pytest.mark.parametrize("theme", THEMES.values(), ids=THEMES)
@pytest.mark.parametrize("eye", ["full", "grey", *DEFICIENCIES])
def test_roles_can_be_told_apart_by_every_eye(theme: Theme, eye: str) -> None:
    least = 10 if eye == "grey" else 18
    for one, other in combinations(("favorable", "adverse", "notice", "quiet"), 2):
        pair = seen(theme.color(one), eye), seen(theme.color(other), eye)
        assert colour.delta_E(*pair, method="CIE 2000") >= least, f"{one} and {other}"


@pytest.mark.parametrize("theme", THEMES.values(), ids=THEMES)
@pytest.mark.parametrize("eye", ["full", *DEFICIENCIES])
def test_series_stay_clear_of_the_roles_and_of_one_another(theme: Theme, eye: str) -> None:
    grey = theme.name == "press"  # which has room for fewer
    for one, other in combinations(theme.series, 2):
        assert colour.delta_E(seen(one, eye), seen(other, eye), method="CIE 2000") >= (
            9 if grey else 15
        )
    for one in theme.series:
        assert contrast(one, theme.color("paper")) >= 1.45
        for role in ("favorable", "adverse", "notice", "quiet"):
            apart = colour.delta_E(seen(one, eye), seen(theme.color(role), eye), method="CIE 2000")
            assert apart >= (6 if grey else 8), f"{one} and {role}"


@pytest.mark.parametrize("theme", THEMES.values(), ids=THEMES)
def test_texts_can_be_read(theme: Theme) -> None:
    for role in ("ink", "slate"):
        assert contrast(theme.color(role), theme.color("paper")) >= 4.5


def test_a_house_theme_changes_every_chart_that_names_it(folder: Path) -> None:
    (folder / "house.toml").write_text(
        'base = "dusk"\nseries = ["navy", "#ABC"]\nfonts = ["No Such Font", "DejaVu Serif"]\n[roles]\nadverse = "#AA0011"\nbrand = "teal"\n'
        '[patterns]\nbrand = "dots"\n[sizes]\ntitle = 24\n'
    )
    for name in ("busiest", "surplus"):
        text = (folder / f"{name}.toml").read_text()
        (folder / f"{name}.toml").write_text(
            'theme = "house.toml"\n' + text.replace('"favorable"', '"brand"')
        )
        chart = yz.load(folder / f"{name}.toml")
        assert {"#AA0011", "#008080", "#54595E"} == set(chart.flags()["color"])
        page = chart.stages.page
        assert page.theme.sizes["title"] == 24
        assert PATTERN_NAMES.index("dots") in page.charts[0].layers[0].styles.patterns
        series = chart.rule("bottom 1", on="axis name", color="series 2", name="last")
        assert series.flags().query("target == 'axis name' and rule != ''")["color"].tolist() == [
            "#AABBCC"
        ]
        assert chart.save("out.png").is_file()


@pytest.mark.parametrize(
    ("text", "message"),
    [
        (
            '[roles]\nadverse = "rde"',
            "house.toml, roles, adverse: I know no color 'rde'. Did you mean red?",
        ),
        ('[role]\nadverse = "red"', "I know no key 'role' in a theme. Did you mean roles?"),
        ('base = "lines"', "I know no theme 'lines' to begin from"),
        ("[sizes]\ntitel = 3", "I know no size 'titel'. Did you mean title?"),
        ("[sizes]\ntitle = 300", "A size is from 5 to 40 points."),
        ('[patterns]\nadverse = "zigzag"', "There is no pattern 'zigzag'"),
        ("fonts = 3", "fonts is a list of names"),
        ("series = []", "series is a list of 1 to 20 colors"),
        (
            'series = ["blue", "grean"]',
            "roles, series 2: I know no color 'grean'. Did you mean green?",
        ),
        ("roles = 3", r"\[roles\] is a table"),
        ("[", "This is no TOML"),
    ],
)
def test_faults_of_a_theme(folder: Path, text: str, message: str) -> None:
    (folder / "house.toml").write_text(text)
    brief = (folder / "busiest.toml").read_text()
    (folder / "busiest.toml").write_text('theme = "house.toml"\n' + brief)
    with pytest.raises(yz.YuzenError, match=message):
        yz.load(folder / "busiest.toml").flags()
