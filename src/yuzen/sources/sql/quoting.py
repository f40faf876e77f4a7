"""Names, texts and files as SQL writes them."""

import re
from collections.abc import Sequence
from pathlib import Path


def quoted(name: str) -> str:
    """A name, as `"name"`."""
    return '"' + name.replace('"', '""') + '"'


def literal(word: str) -> str:
    """A text, as `'text'`."""
    return "'" + word.replace("'", "''") + "'"


def file_list(paths: Sequence[Path]) -> str:
    """Files as DuckDB's readers take them, which read [, * and ? in a name as a pattern."""
    return ", ".join(literal(re.sub(r"[\[*?]", r"[\g<0>]", str(path))) for path in paths)
