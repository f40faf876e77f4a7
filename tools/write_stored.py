"""Writes the pages that commands show, src/yuzen/cli/stored/; --check only compares."""

from __future__ import annotations

import sys
from pathlib import Path

from yuzen.cli.commands import COMMANDS
from yuzen.cli.stored import help_pages
from yuzen.cli.stored_pages import DIGESTS, MADE_OF, as_json, digest, made, stored_at


def main() -> int:
    """Write the pages, or say that they are not as they would be written."""
    wanted = {stored_at(name): as_json(made(name)) for name in MADE_OF}
    for command in ("", *COMMANDS):
        wanted[Path(help_pages.stored_at(command))] = help_pages.made_page(command)
    wanted[DIGESTS] = as_json({name: digest(name) for name in MADE_OF})
    if "--check" in sys.argv:
        return int(any(not p.is_file() or p.read_text("utf-8") != t for p, t in wanted.items()))
    for path, text in wanted.items():
        path.parent.mkdir(exist_ok=True)
        path.write_text(text, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
