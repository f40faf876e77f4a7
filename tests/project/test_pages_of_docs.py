"""Every block of the documents runs in the demo's folder, and prints what the page shows."""

from __future__ import annotations

import logging
import re
import shlex
import subprocess
import sys
import tomllib
from pathlib import Path
from shutil import copytree
from typing import TYPE_CHECKING, Any

import pytest
from tools.pages.blocks import Block, blocks_of, is_printed, write_block

import yuzen as yz
from yuzen.demo.other_files import write_other_files
from yuzen.documents.report_file import is_report_file, load_report_file

if TYPE_CHECKING:
    from collections.abc import Callable

HOME = Path(__file__).parents[2]
DOCS = HOME / "docs"
PAGES = sorted([HOME / "README.md", *DOCS.rglob("*.md")])
RUN_ELSEWHERE = {"sh", "text", "diff", "json", "csv", ""}  # languages that are shown only
# What only other machines, or a user at the keyboard, can do.
NOT_HERE = ("--on tcp://", "--watch", "yuzen completion", "yuzen demo", "yuzen edit")


@pytest.fixture(scope="session")
def gallery(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo's folder with all files that the documents name."""
    folder = tmp_path_factory.mktemp("documents") / "gallery"
    folder.mkdir()
    own = Path(yz.__file__).parent / "demo"
    for name in ("data", "briefs"):
        copytree(own / name, folder, dirs_exist_ok=True)
    copytree(own / "reports", folder / "monthly")
    assert write_other_files(folder) == []
    return folder


@pytest.mark.parametrize(
    "page", PAGES, ids=lambda page: str(page.relative_to(HOME).with_suffix(""))
)
def test_every_block_of_a_page_runs(
    page: Path, gallery: Path, tmp_path: Path, call: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    blocks = [b for b in blocks_of(page.read_text("utf-8")) if b.language not in RUN_ELSEWHERE]
    if not blocks:
        return
    folder = copytree(gallery, tmp_path / "gallery")
    monkeypatch.chdir(folder)
    names: dict[str, Any] = {}
    level = logging.getLogger("yuzen").level
    for block in blocks:
        _run(block, folder, call, names)
    logging.getLogger("yuzen").setLevel(level)  # which a page shows how to set


def _run(block: Block, folder: Path, call: Any, names: dict[str, Any]) -> None:
    """Run a block; a failure says on which line of the page it begins."""
    runners: dict[str, Callable[[], None]] = {
        "toml": lambda: _run_toml(block, folder),
        "console": lambda: _run_calls(block, call),
        "python": lambda: exec(compile(block.text, f"line {block.line}", "exec"), names),  # noqa: S102 - ours
    }
    assert block.language in runners, f"line {block.line}: {block.language} does not run"
    try:
        runners[block.language]()
    except Exception as error:  # noqa: BLE001 - whatever a block raises is told with its line
        pytest.fail(f"line {block.line}: {error}", pytrace=False)


def _run_toml(block: Block, folder: Path) -> None:
    """A brief, or what is put into one, is drawn to the last place; other files are read."""
    path = write_block(block, folder)
    if path.parent.name in {"house", "paint"} or path.name == "yuzen.toml":
        return  # themes, rules and defaults, which the calls beside them use
    if is_report_file(path):
        load_report_file(path)
        return
    chart = yz.load(path)
    assert len(chart.flags())
    assert chart.stages.scene is not None


def _run_calls(block: Block, call: Any) -> None:
    for line, shown in block.calls():
        words = shlex.split(line)
        assert words[0] == "yuzen", f"a console calls yuzen, and this is {words[0]}"
        if any(away in line for away in NOT_HERE):
            continue
        told = call(*_expanded(words[1:]))
        printed = told.out + told.err
        assert "defect" not in told.err, printed
        assert told.code == 0 or shown, f"{line}: {printed}"
        assert is_printed(shown, told.out) or is_printed(shown, printed), (
            f"{line} printed:\n{printed}"
        )


def _expanded(words: list[str]) -> list[str]:
    """Words with the files that a shell would name for *.toml."""
    found: list[str] = []
    for word in words:
        files = sorted(str(path) for path in Path().glob(word)) if "*" in word else []
        found += files or [word]
    return found


LINK = re.compile(r"\]\((?!https?://|mailto:)([^)#\s]*)(#[\w-]+)?\)")


@pytest.mark.parametrize(
    "page", PAGES, ids=lambda page: str(page.relative_to(HOME).with_suffix(""))
)
def test_every_link_leads_somewhere(page: Path) -> None:
    text = re.sub(r"```.*?```", "", page.read_text("utf-8"), flags=re.DOTALL)
    for target, anchor in LINK.findall(text):
        place = (page.parent / target).resolve() if target else page
        if place.name in MADE_PAGES and place.parent.name in {"docs", "reference"}:
            continue
        assert place.exists(), f"{target} is linked, and is not there"
        if anchor and place.suffix == ".md":
            assert anchor[1:] in _anchors(place.read_text("utf-8")), f"{target}{anchor}"


MADE_PAGES = {"gallery.md", "keys.md", "errors.md"}  # which `make docs` writes


def _anchors(text: str) -> set[str]:
    """The anchors of a page's headings, as Python-Markdown makes them."""
    plain = re.sub(r"```.*?```", "", text, flags=re.DOTALL)
    headings = re.findall(r"^#+ (.*)$", plain, flags=re.MULTILINE)
    slugs = [re.sub(r"[^\w\s-]", "", heading).strip().lower() for heading in headings]
    return {re.sub(r"[-\s]+", "-", slug) for slug in slugs}


def test_every_public_name_and_every_member_of_a_chart_is_listed() -> None:
    page = (DOCS / "reference" / "names.md").read_text(encoding="utf-8")
    before, _, members = page.partition("## Members of a chart")
    listed = set(re.findall(r"`([A-Za-z_]+)`", before))
    assert set(yz.__all__) <= listed
    assert sorted(yz.__all__) == yz.__all__
    chart = yz.chart({"c": ["a"], "v": [1]}, category="c", value="v")
    public = {name for name in dir(chart) if not name.startswith("_")}
    assert public == set(re.findall(r"`([a-z_]+)`", members)) - {"marks", "verdict", "page"}
    assert len(public) == 31


def test_readme_is_short_and_shows_a_picture() -> None:
    text = (HOME / "README.md").read_text("utf-8")
    assert len(text.splitlines()) < 120
    assert re.search(r"!\[[^\]]+\]\([^)]+\.png\)", text)


def test_on_a_package_index_all_links_of_the_readme_are_absolute() -> None:
    told = subprocess.run(
        [sys.executable, "-m", "hatchling", "metadata", "readme"],
        cwd=HOME,
        capture_output=True,
        check=True,
    )
    text = told.stdout.decode()
    links = re.findall(r"\]\(([^)]+)\)", text)
    assert len(links) > 20
    assert all(link.startswith("https://yuzen.example/") for link in links)
    assert not any(link.endswith(".md") for link in links)
    assert "https://yuzen.example/screenshots/busiest.png" in links
    assert "https://yuzen.example/how-to/top-n.html" in links


# What pages propose to change: the page, the keys, and their new values; None leaves a key out.
PROPOSED: list[tuple[str, dict[str, Any]]] = [
    ("top-n", {"rule.0.when": "bottom n", "reference.0.after": "not bottom n"}),
    ("top-n", {"rule.0.when": "top 1 within waters"}),
    ("own-group", {"rule.0.when": "at least 150% of average within waters"}),
    ("plan-and-actual", {"layer.0.kind": "tick"}),
    ("plan-and-actual", {"layer.1.place": "beside"}),
    ("threshold", {"rule.0.when": "within 2% of goal"}),
    ("threshold", {"chart.kind": "area", "chart.base": "goal"}),
    ("best-and-worst", {"rule.0.ties": "ordinal"}),
    ("ranges", {"rule.0.bands.edges": [0, "overall"], "rule.0.bands.names": ["losing", "less", "strong"],
                "rule.0.bands.colors": ["adverse", "quiet", "favorable"]}),
    ("table-own-scales", {"rule.0.on": "label.surplus"}),
    ("heat-map", {"rule.0.shade.within": ["route"]}),
    ("heat-map", {"rule.0.shade.range": "5% to 95%", "rule.0.shade.steps": 5}),
    ("last-12-months", {"rule.0.when": "falls 3 times"}),
    ("fiscal-years", {"chart.category": "year of month"}),
    ("fiscal-years", {"data.keep": 'month = "2025/26"'}),
    ("pareto", {"chart.limit": 5, "chart.rest": "Other causes"}),
    ("bridge", {"chart.limit": None, "chart.rest": None}),
    ("histogram", {"chart.grain": None, "chart.bins": 12}),
    ("histogram", {"chart.grain": None, "chart.edges": [0, 0.5, 1, 2, 3]}),
    ("labels-in-pieces", {"label.0.where": "inside"}),
    ("labels-in-pieces", {"label.1.text": "{surplus:arrow ,.0f}"}),
    ("german-numbers", {"locale": "fr"}),
    ("databases", {"data.table": None, "data.query": "select route, service, month, passengers from routes"}),
    ("large-files", {"data.file": "sailings"}),
]  # fmt: skip


@pytest.mark.parametrize(("page", "changes"), PROPOSED)
def test_what_a_page_proposes_to_change_can_be_changed(
    page: str, changes: dict[str, Any], gallery: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(gallery)
    blocks = blocks_of((DOCS / "how-to" / f"{page}.md").read_text("utf-8"))
    values = tomllib.loads(next(block for block in blocks if block.is_whole_brief).text)
    for path, value in changes.items():
        *above, key = path.split(".")
        section: Any = values
        for step in above:
            section = section[int(step)] if step.isdigit() else section[step]
        section.pop(key, None) if value is None else section.update({key: value})
    chart = yz.chart(**_call(values))
    assert len(chart.flags())
    assert chart.stages.scene is not None
    assert not {finding.code for finding in chart.check()} & {"rule-always", "ratio-averaged"}


def _call(values: dict[str, Any]) -> dict[str, Any]:
    """The plain values of a brief as yz.chart takes them."""
    chart = values.pop("chart")
    chart = {"from_" if key == "from" else key: value for key, value in chart.items()}
    return {**values, **chart}


# Words of ours that a reader has to read twice.
TWICE = re.compile(
    r"\b(is told|are told|speaks? of|has no room for|goes by|is reckoned|is said|is asked)\b"
)
LONGEST = 32  # words of a sentence


@pytest.mark.parametrize(
    "page", PAGES, ids=lambda page: str(page.relative_to(HOME).with_suffix(""))
)
def test_sentences_are_short_and_plain(page: Path) -> None:
    text = re.sub(r"```.*?```", "", page.read_text("utf-8"), flags=re.DOTALL)
    prose = [
        line
        for line in text.splitlines()
        if not line.startswith(("|", "#", "!", "<!--", ":::", "    "))
    ]
    for part in re.split(r"\n\s*\n|\n(?=- )", "\n".join(prose)):
        for sentence in re.split(r"(?<=[.!?:;])\s+", " ".join(part.split())):
            assert len(sentence.split()) <= LONGEST, sentence
            assert not TWICE.search(sentence), sentence
            assert not sentence.startswith("What "), sentence


def test_every_extra_is_listed() -> None:
    extras = tomllib.loads((HOME / "pyproject.toml").read_text("utf-8"))["project"][
        "optional-dependencies"
    ]
    page = (DOCS / "reference" / "install.md").read_text("utf-8")
    listed = set(re.findall(r"^\| `(\w+)` \|", page, flags=re.MULTILINE))
    assert listed == set(extras) - {"checkers", "dev", "docs", "release"}
    (everything,) = extras["all"]
    assert set(re.findall(r"[a-z]+", everything)) - {"yuzen"} == listed - {"all"}
