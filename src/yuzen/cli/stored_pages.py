"""Pages that are stored, as making them loads NumPy and pydantic for a call that shows a page.

A page is stored with a digest of the sources that it is made of. Where those are other ones, as on
a branch that adds a claim, the page is made anew.
"""

import json
from collections.abc import Mapping
from hashlib import sha256
from pathlib import Path
from typing import Final

SOURCE: Final = Path(__file__).parents[1]
FOLDER: Final = Path(__file__).parent / "stored"
DIGESTS: Final = FOLDER / "digests.json"
MADE_OF: Final[Mapping[str, tuple[str, ...]]] = {
    "words": ("rules/claims/*.py", "rules/grammar/sayings.py"),
    "themes": ("color/themes.py",),
    "schema": ("brief/*.py", "brief/*/*.py", "page/shapes.py"),
    "answers": ("cli/printing/answer_shapes.py",),
    "report-schema": ("brief/*.py", "brief/*/*.py", "documents/report_file.py"),
}


def page(name: str) -> str:
    """A page as JSON."""
    if json.loads(DIGESTS.read_text(encoding="utf-8")).get(name) == digest(name):
        return stored_at(name).read_text(encoding="utf-8")
    return as_json(made(name))


def made(name: str) -> object:
    """A page as plain values for JSON, made anew."""
    makers = {
        "words": _words,
        "themes": _themes,
        "schema": _schema,
        "answers": _answers,
        "report-schema": _report_schema,
    }
    return makers[name]()


def _words() -> object:
    from yuzen.rules.grammar.sayings import sayings

    return {about: dict(pairs) for about, pairs in sayings().items()}


def _themes() -> object:
    from yuzen.color.themes import THEMES

    return {
        theme.name: {
            "roles": dict(theme.roles),
            "series": list(theme.series),
            "patterns": dict(theme.patterns),
        }
        for theme in THEMES.values()
    }


def _schema() -> object:
    from yuzen.brief.toml.document import brief_schema

    return brief_schema()


def _answers() -> object:
    from yuzen.cli.printing.answer_shapes import answer_schemas

    return answer_schemas()


def _report_schema() -> object:
    from yuzen.documents.report_file import report_schema

    return report_schema()


def as_json(plain: object) -> str:
    """Plain values as the text of a page."""
    return json.dumps(plain, ensure_ascii=False, indent=2) + "\n"


def stored_at(name: str) -> Path:
    """The file that a page is stored in."""
    return FOLDER / f"{name}.json"


def digest(name: str) -> str:
    """A digest of the sources that a page is made of, the same on every system."""
    hasher = sha256()
    for path in sorted(path for of in MADE_OF[name] for path in SOURCE.glob(of)):
        # Line ends differ by how the sources were fetched, and are no change.
        hasher.update(path.read_bytes().replace(b"\r\n", b"\n"))
    return hasher.hexdigest()
