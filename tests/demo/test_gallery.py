"""The gallery that the demo draws."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from tests.support.command_line import Called

Call = Callable[..., Called]


def test_demo_draws_the_gallery_and_says_what_it_flagged(call: Call, tmp_path: Path) -> None:
    told = call("demo", tmp_path / "gallery")
    assert told.code == 0
    pictures = sorted((tmp_path / "gallery").glob("*.png"))
    assert [picture.stem for picture in pictures] == [
        brief.stem
        for brief in sorted((tmp_path / "gallery").glob("*.toml"))
        if brief.stem != "routes"  # which the documents draw, of one month or another
    ]
    for picture in pictures:
        assert f"{picture}: " in told.out
    assert 'rule 1 "loss": surplus negative: 4 flagged (Brinewick, Hollowmere, ' in told.out
