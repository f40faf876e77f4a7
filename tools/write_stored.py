"""Writes what the command line shows of the language, the themes and the brief, src/yuzen/cli/stored/.

It is stored, as to make it anew would load NumPy and pydantic for a call that shows a page. --check
compares.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from yuzen.brief.toml.document import brief_schema
from yuzen.cli.language import sayings
from yuzen.color.themes import THEMES

FOLDER = Path(__file__).parents[1] / "src" / "yuzen" / "cli" / "stored"


def pages() -> dict[str, object]:
    """What is stored, by its name."""
    themes = {
        theme.name: {
            "roles": dict(theme.roles),
            "series": list(theme.series),
            "patterns": dict(theme.patterns),
        }
        for theme in THEMES.values()
    }
    words = {about: dict(told) for about, told in sayings().items()}
    return {"words": words, "themes": themes, "schema": brief_schema()}


def main() -> int:
    """Write the pages, or say that they are not as they would be written."""
    unlike = 0
    for name, page in pages().items():
        path, text = FOLDER / f"{name}.json", json.dumps(page, ensure_ascii=False, indent=2) + "\n"
        if "--check" in sys.argv:
            unlike += not path.is_file() or path.read_text(encoding="utf-8") != text
        else:
            path.write_text(text, encoding="utf-8")
    return int(unlike > 0)


if __name__ == "__main__":
    sys.exit(main())
