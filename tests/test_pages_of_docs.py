"""What the documents show in Python runs as it stands."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest

DOCS = Path(__file__).parents[1] / "docs"
BLOCK = re.compile(r"```python\n(.*?)```", re.DOTALL)


def test_the_page_on_python_runs_from_its_first_line_to_its_last(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    names: dict[str, Any] = {}
    blocks = BLOCK.findall((DOCS / "python.md").read_text(encoding="utf-8"))
    assert len(blocks) == 6
    for block in blocks:
        exec(compile(block, "python.md", "exec"), names)  # noqa: S102 - ours
    assert names["fills"].tolist() == ["#C63E2F", "#0A4A80", "#C9CCD0", "#0A4A80", "#0A4A80"]
    assert names["within"].tolist() == ["#C9CCD0", "#0A4A80", "#C9CCD0", "#0A4A80", "#0A4A80"]
    assert names["outcome"].winners().tolist() == [0, 1, -1, 1, 1]
    assert names["inset"].notes == ()
    assert names["painted"].notes() == []
    assert sorted(path.name for path in (tmp_path / "pictures").iterdir()) == sorted(
        edition.path.name for edition in names["made"]
    )
