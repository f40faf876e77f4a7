"""What mkdocs calls while it builds the site: pages that are made, and a picture for each brief."""

from __future__ import annotations

import shutil
import sys
import tempfile
from html import escape
from importlib.resources import as_file, files
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

sys.path.insert(0, str(Path(__file__).parents[2]))  # mkdocs loads this file by its path

from mkdocs.structure.files import File, Files

import yuzen as yz
from tools.pages import blocks, reference
from yuzen.cli.stored_pages import page as stored
from yuzen.demo.gallery import demo_charts
from yuzen.demo.other_files import write_other_files

if TYPE_CHECKING:
    from mkdocs.config.defaults import MkDocsConfig
    from mkdocs.structure.pages import Page

HOME: Final = Path(__file__).parents[2]
PICTURES: Final[dict[str, list[tuple[str, str, str]]]] = {}  # of a page: block, file, alternative


def on_files(found: Files, config: MkDocsConfig) -> Files:
    """Add the pages and the pictures that are made."""
    for name, make in reference.PAGES.items():
        found.append(File.generated(config, name, content=make()))
    for name, source in {
        "contributing.md": "CONTRIBUTING.md",
        "changes.md": "CHANGELOG.md",
        "security.md": "SECURITY.md",
    }.items():
        text = (HOME / source).read_text("utf-8").replace("](docs/", "](")
        found.append(File.generated(config, name, content=text))
    for name, schema in {"brief": "schema", "report": "report-schema"}.items():
        found.append(File.generated(config, f"schema/{name}.json", content=stored(schema)))
    found.append(File.generated(config, "gallery.md", content=_gallery(found, config)))
    with tempfile.TemporaryDirectory() as made:
        desk = _desk(Path(made))
        for file in found.documentation_pages():
            if file.content_string and "```toml" in file.content_string:
                _draw(file, desk, found, config)
    return found


def on_page_markdown(markdown: str, page: Page, **_: Any) -> str:  # noqa: ANN401 - as mkdocs calls
    """A page with its tables, and under each brief its picture."""
    markdown = reference.filled(markdown)
    for text, picture, alternative in PICTURES.get(page.file.src_uri, []):
        up = "../" * page.file.src_uri.count("/")
        shown = f"\n![{escape(alternative)}]({up}{picture}){{ loading=lazy }}\n"
        block = f"```toml\n{text}```\n"
        markdown = markdown.replace(block, block + shown, 1)
    return markdown


def _desk(folder: Path) -> Path:
    """The demo's folder, in which briefs of pages are drawn."""
    desk = folder / "gallery"
    for name in ("data", "briefs"):
        with as_file(files("yuzen.demo") / name) as own:
            shutil.copytree(own, desk, dirs_exist_ok=True)
    write_other_files(desk)
    return desk


def _draw(file: File, desk: Path, found: Files, config: MkDocsConfig) -> None:
    """Draw the whole briefs of a page."""
    stem = file.src_uri.removesuffix(".md").replace("/", "-")
    for number, block in enumerate(blocks.blocks_of(file.content_string)):
        if not block.is_whole_brief:
            continue
        chart = yz.load(blocks.write_block(block, desk))
        name = f"pictures/{stem}-{number}.svg"
        found.append(File.generated(config, name, content=chart.image("svg")))
        PICTURES.setdefault(file.src_uri, []).append((block.text, name, chart.alt()))


def _gallery(found: Files, config: MkDocsConfig) -> str:
    """Every brief of the demo beside its picture."""
    head = "These charts come from `yuzen demo gallery`. Open a brief below its chart to copy it."
    parts = [f"# Gallery\n\n{head}\n"]
    for name, chart in demo_charts():
        picture = f"pictures/gallery-{name}.svg"
        found.append(File.generated(config, picture, content=chart.image("svg")))
        text = (files("yuzen.demo") / "briefs" / f"{name}.toml").read_text("utf-8")
        inner = "\n".join(f"    {line}" if line else "" for line in text.splitlines())
        parts.append(
            f"## {name.replace('_', ' ').capitalize()}\n\n"
            f"![{escape(chart.alt())}]({picture}){{ loading=lazy }}\n\n"
            f'??? note "{name}.toml"\n\n    ```{{ .toml .demo }}\n{inner}\n    ```\n'
        )
    return "\n".join(parts)
