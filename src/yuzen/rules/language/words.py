"""The words of the language: a column with such a name is written in backticks."""

import re

NAME = r"[^\W\d]\w*"  # what can be a name without backticks; Python's own identifiers hold other signs too

SUMMARIES = ("average", "median", "total", "highest", "lowest", "deviation", "count", "overall")
COMPARES = {
    "<": "<",
    "<=": "<=",
    "=": "=",
    "!=": "!=",
    ">=": ">=",
    ">": ">",
    "below": "<",
    "at most": "<=",
    "at least": ">=",
    "above": ">",
}


def is_bare(name: str) -> bool:
    """Whether a name can be written without backticks."""
    return re.fullmatch(NAME, name) is not None and name.casefold() not in RESERVED


RESERVED = frozenset(
    [
        "or",
        "and",
        "not",
        "always",
        "is",
        "within",
        "between",
        "highest",
        "lowest",
        "in",
        "top",
        "bottom",
        "rank",
        "to",
        "from",
        "positive",
        "negative",
        "zero",
        "missing",
        "outlier",
        "above",
        "below",
        "rises",
        "falls",
        "by",
        "times",
        "turns",
        "changes",
        "sign",
        "new",
        "high",
        "low",
        "first",
        "last",
        "position",
        "before",
        "after",
        "starts",
        "with",
        "contains",
        "one",
        "of",
        "at",
        "most",
        "least",
        "average",
        "median",
        "total",
        "deviation",
        "count",
        "overall",
        "share",
        "running",
        "change",
        "previous",
        "distinct",
    ]
)
