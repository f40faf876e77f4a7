"""The pages that `words`, `themes` and `schema` show, made anew."""

from yuzen.brief.toml.document import brief_schema
from yuzen.cli.language import sayings
from yuzen.color.themes import THEMES


def made(name: str) -> object:
    """A page as plain values for JSON."""
    return {"words": _words, "themes": _themes, "schema": brief_schema}[name]()


def _words() -> object:
    return {about: dict(pairs) for about, pairs in sayings().items()}


def _themes() -> object:
    return {
        theme.name: {
            "roles": dict(theme.roles),
            "series": list(theme.series),
            "patterns": dict(theme.patterns),
        }
        for theme in THEMES.values()
    }
