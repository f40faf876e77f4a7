"""Names and texts as SQL writes them."""


def quoted(name: str) -> str:
    """A name, as `"name"`."""
    return '"' + name.replace('"', '""') + '"'


def literal(word: str) -> str:
    """A text, as `'text'`."""
    return "'" + word.replace("'", "''") + "'"
