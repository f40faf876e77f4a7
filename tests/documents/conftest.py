"""The report of June that these tests write."""

from __future__ import annotations

from pathlib import Path

import pandas as pd
import pytest

from yuzen.documents import paper, report


@pytest.fixture
def june(folder: Path) -> Path:
    """The month's report of the ferry company, with the rows of May."""
    rows = pd.read_csv(folder / "routes.csv")
    (folder / "may").mkdir()
    rows[rows["month"] < "2026-06"].to_csv(folder / "may" / "routes.csv", index=False)
    text = (Path(report.__file__).parent.parent / "demo" / "reports" / "june.toml").read_text(
        "utf-8"
    )
    (folder / "june.toml").write_text(text.replace("../", ""), "utf-8")
    return folder / "june.toml"


@pytest.fixture
def small(june: Path) -> Path:
    """A report of two charts and a table."""
    path = june.with_name("small.toml")
    path.write_text(
        'title = "Ferries in {latest month}"\nsince = "may"\nnumbers = "busiest"\nintro = "*Small.*"\n'
        '[[section]]\nheading = "Routes"\nbriefs = ["busiest.toml", "complaints.toml"]\n'
        '[[section]]\nheading = "Waters"\nbriefs = ["within_waters.toml"]\n'
    )
    return path


@pytest.fixture
def untagged(monkeypatch: pytest.MonkeyPatch) -> None:
    """As where WeasyPrint is not installed."""
    monkeypatch.setattr(report, "can_tag", lambda: False)
    monkeypatch.setattr(paper, "can_tag", lambda: False)
