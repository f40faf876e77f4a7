"""The reference is made of the models and registers that it describes, and leaves nothing out."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from tools.pages import reference
from tools.pages.blocks import is_printed
from tools.pages.docstrings import as_markdown
from tools.pages.reference import SHAPES, filled

from yuzen.brief.keys.key_help import keys_of
from yuzen.brief.kinds import KINDS
from yuzen.brief.sections.effects import EFFECT_TABLE
from yuzen.brief.toml.document import brief_schema
from yuzen.cli.show import codes
from yuzen.documents.report_file import report_schema
from yuzen.page.shapes import TICK
from yuzen.rules.claims import CLAIMS
from yuzen.rules.grammar.parser import parse

HOME = Path(__file__).parents[2]
DOCS = HOME / "docs"


def _rows(table: str) -> list[list[str]]:
    """The cells of the rows of all tables in a text, without their heads."""
    lines = [line for line in table.splitlines() if line.startswith("| ")]
    cells = [[cell.strip() for cell in re.split(r"(?<!\\)\|", line)[1:-1]] for line in lines]
    return [
        row
        for row, after in zip(cells, [*cells[1:], []], strict=True)
        if "---" not in {*row, *after}
    ]


def test_the_page_of_keys_has_every_key_with_its_example() -> None:
    page = reference.keys()
    for of_file in (keys_of(brief_schema()), keys_of(report_schema())):
        for key in of_file.values():
            assert f"`{key.name}`" in page or key.heading in page
            assert key.about in page
    assert len(_rows(page)) >= len(keys_of(brief_schema()))


def test_the_matrix_of_effects_is_what_the_table_of_effects_says() -> None:
    page = reference.effects()
    parts = dict(re.findall(r"^### `([^`]+)`\n\n((?:\|.*\n)+)", page, flags=re.MULTILINE))
    shapes = {plural: shape for shape, plural in SHAPES.items()}
    told: set[tuple[str, str, str]] = set()
    for target, matrix in parts.items():
        head = [cell.strip() for cell in matrix.splitlines()[0].split("|")[2:-1]]
        for names, *dots in _rows(matrix):
            for name in re.findall(r"`(\w+)`", names):
                told |= {
                    (name, target, shape)
                    for shape, dot in zip(head, dots, strict=True)
                    if dot == "●"
                }
    wanted = {
        (effect.name, target, plural)
        for effect in EFFECT_TABLE
        for target, traits in effect.shown.items()
        for plural, shape in shapes.items()
        if shape.traits & traits
        if (shape.drawn or plural == "small lines")
        and (shape is not TICK or target == "layer NAME")
    }
    assert told == wanted


def test_conditions_kinds_and_codes_are_listed_with_examples_that_read() -> None:
    conditions = reference.conditions()
    for claim in CLAIMS:
        assert claim.listing.replace("|", "\\|") in conditions
        assert f"`{claim.example}`" in conditions
        assert len(claim.holds_for) > 10
        assert claim.holds_for in conditions
        parse(claim.example)
    kinds = _rows(reference.kinds())
    assert [row[0].strip("`") for row in kinds] == list(KINDS)
    listed = {row[0].strip("`") for row in _rows(reference.errors()) + _rows(reference.findings())}
    assert listed == set(codes())


@pytest.mark.parametrize("page", sorted(DOCS.rglob("*.md")), ids=lambda path: path.stem)
def test_every_mark_for_a_table_is_filled(page: Path) -> None:
    assert "<!-- made:" not in filled(page.read_text("utf-8"))


def test_the_site_leads_to_every_page() -> None:
    listed = re.findall(
        r": ([\w/-]+\.md)$", (HOME / "mkdocs.yml").read_text("utf-8"), flags=re.MULTILINE
    )
    pages = {str(page.relative_to(DOCS)) for page in DOCS.rglob("*.md")}
    made = {*reference.PAGES, "gallery.md", "contributing.md", "changes.md", "security.md"}
    assert len(listed) == len(set(listed))
    assert set(listed) == pages | made
    text = (HOME / "mkdocs.yml").read_text("utf-8")
    assert "http" not in text, "nothing is fetched from anywhere"


def test_docstrings_become_markdown() -> None:
    assert as_markdown("One.\n\nrows, of: what.\nkind: how.\n\n>>> 1 + 1\n2") == (
        "One.\n\n- `rows, of`: what.\n- `kind`: how.\n\n```pycon\n>>> 1 + 1\n2\n```"
    )


@pytest.mark.parametrize(
    ("shown", "printed", "alike"),
    [
        ("", "anything", True),
        ("a\n...", "a\nb\nc", True),
        ("...\nc", "a\nb\nc", True),
        ("a", "a\nb", False),
        ("a\n...\nd\n...", "a\nd", True),
        ("  a", "a", False),
        ("a.c", "abc", False),
    ],
)
def test_three_dots_stand_for_any_lines(shown: str, printed: str, *, alike: bool) -> None:
    assert is_printed(shown, printed) == alike
