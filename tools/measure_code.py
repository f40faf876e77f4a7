"""Measures the code: rooms, modules, functions, values, choices, names, members, comments.

Prints what is over a limit and ends with 1; `make test` runs it.
"""

from __future__ import annotations

import ast
import io
import re
import sys
import tokenize
from collections import Counter
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from collections.abc import Iterator

SOURCE: Final = Path(__file__).parent.parent / "src"
MAX_FILES: Final = 18  # of a room
MAX_LINES: Final = 300  # of code in a module
MAX_FUNCTION_LINES: Final = 40
MAX_FIELDS: Final = 16  # of a value
MAX_CHOICES: Final = 2.2  # conditional expressions in a hundred lines of code, none in another
MAX_CHART_MEMBERS: Final = 30  # that a user sees by pressing Tab
MAX_WIDTH: Final = 100
MIN_COMMENTS: Final = 3.9  # lines with a comment in a hundred lines of code
PRAGMA: Final = re.compile(r" *# (noqa|type:|fmt:)")
ROOT: Final = {
    "__init__",
    "__main__",
    "arrays",
    "call_limits",
    "errors",
    "locks",
    "paths",
    "regex",
    "release",
    "secrets",
    "stage_times",
    "threads",
    "value",
}

# The bases of frozen dataclasses.
VALUES: Final = {"Value", "PageColumns", "JudgedChart", "Primitive", "Filled"}

# What takes long to load, or may not be installed, and the modules of ours that load it.
HEAVY: Final = {
    "babel",
    "concurrent",
    "click.shell_completion",
    "distributed",
    "docx",
    "duckdb",
    "duckdb_engine",
    "importlib.metadata",
    "io",
    "jinja2",
    "markdown_it",
    "matplotlib",
    "logging",
    "lxml",
    "openpyxl",
    "PIL",
    "pandas",
    "pptx",
    "pyarrow",
    "pypdf",
    "rich",
    "shutil",
    "sqlalchemy",
    "sqlite3",
    "sys",
    "tempfile",
    "zipfile",
    "tomli_w",
    "watchfiles",
    "weasyprint",
    "xlsxwriter",
    "yuzen.cli.commands",
    "yuzen.cli.defects",
    "yuzen.cli.main",
    "yuzen.jobs.own_process",  # which pages of help do without
    # What only pictures need: flags and reasons do without, and each of these loads a room.
    "yuzen.compose.split_pages",
    "yuzen.files.picture",
    "yuzen.files.pictures",
    "yuzen.render.scenes",
}
LOADING: Final = {
    "distributed",
    "matplotlib",
    "pandas",
    "pptx",
    "pydantic",
    "sqlalchemy",
    "sqlite3",
    "watchfiles",
    "concurrent",
}
LOADING_FOR_HELP: Final = LOADING | {"numpy"}  # what the command line does not load before it must


def main() -> int:
    """Print every place that is over a limit."""
    modules = {
        path: ast.parse(path.read_text(encoding="utf-8")) for path in sorted(SOURCE.rglob("*.py"))
    }
    heavy = heavy_modules(modules, LOADING)
    heavy_for_help = heavy_modules(modules, LOADING_FOR_HELP)
    faults = [
        f"{path.relative_to(SOURCE)}: {what}"
        for path, tree in modules.items()
        for what in (
            *_lengths(path, tree),
            *_fields(tree),
            *_late_imports(tree, heavy_for_help if "cli" in path.parts else heavy),
            *_nested(tree),
        )
    ]
    faults += [*_rooms(modules), *_class_names(modules), *_chart_members()]
    lines = sum(map(_code_lines, modules.values()))
    faults += [*_choices(modules, lines), *_comments(modules, lines)]
    print("\n".join(faults) or f"{len(modules)} modules, {lines} lines of code: within all limits")
    return int(bool(faults))


def _rooms(modules: dict[Path, ast.Module]) -> Iterator[str]:
    """Rooms with too many files, and files at the root that are no ground."""
    for room, count in Counter(path.parent for path in modules).items():
        if count > MAX_FILES:
            yield f"{room.relative_to(SOURCE)}: {count} files, over {MAX_FILES}"
    for path in modules:
        if path.parent.parent == SOURCE and path.stem not in ROOT:
            yield f"{path.relative_to(SOURCE)} is at the root, and belongs into a room"


def _class_names(modules: dict[Path, ast.Module]) -> Iterator[str]:
    """Names that several public classes have."""
    names = Counter(
        node.name
        for tree in modules.values()
        for node in tree.body
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_")
    )
    for name, count in names.items():
        if count > 1:
            yield f"{count} public classes are called {name}"


def _chart_members() -> Iterator[str]:
    """Public members of a chart, if they are too many."""
    import yuzen  # noqa: PLC0415 - the other measures read the sources alone

    members = [name for name in dir(yuzen.Chart) if not name.startswith("_")]
    if len(members) > MAX_CHART_MEMBERS:
        yield f"Chart has {len(members)} public members, over {MAX_CHART_MEMBERS}"


def _choices(modules: dict[Path, ast.Module], lines: int) -> Iterator[str]:
    """Conditional expressions, if they are too many for the lines of code."""
    count = sum(len(_choices_in(tree)) for tree in modules.values())
    if count > lines * MAX_CHOICES / 100:
        yield f"{count} conditional expressions in {lines} lines, over {MAX_CHOICES} in 100"


@cache
def _choices_in(tree: ast.Module) -> list[ast.IfExp]:
    """All conditional expressions of a module: every node is looked at, and that only once."""
    return [node for node in ast.walk(tree) if isinstance(node, ast.IfExp)]


def _comments(modules: dict[Path, ast.Module], lines: int) -> Iterator[str]:
    """Comments, if they are too few for the lines of code; what linters read is none."""
    count = sum(map(_comment_lines, modules))
    if count < lines * MIN_COMMENTS / 100:
        yield f"{count} comments in {lines} lines, under {MIN_COMMENTS} in 100"


def _comment_lines(path: Path) -> int:
    tokens = tokenize.generate_tokens(io.StringIO(path.read_text(encoding="utf-8")).readline)
    texts = [token.string for token in tokens if token.type == tokenize.COMMENT]
    return sum(not text.startswith(("# noqa", "# type:", "# fmt:")) for text in texts)


def heavy_modules(modules: dict[Path, ast.Module], loading: set[str]) -> set[str]:
    """Our modules that load one of some packages when imported, directly or through others."""
    names = {path: _name(path) for path in modules}
    imports = {names[path]: set(_imported(tree)) for path, tree in modules.items()}
    found = {
        name for name, of in imports.items() if any(one.split(".")[0] in loading for one in of)
    }
    while more := {name for name, of in imports.items() if name not in found and of & found}:
        found |= more
    return found


def _name(path: Path) -> str:
    parts = path.relative_to(SOURCE).with_suffix("").parts
    return ".".join(part for part in parts if part != "__init__")


def _imported(tree: ast.Module) -> Iterator[str]:
    """What a module imports when it is loaded: not for types alone, not inside functions."""
    for node in tree.body:
        if isinstance(node, ast.ImportFrom) and node.module:
            yield node.module
            yield from (f"{node.module}.{name.name}" for name in node.names)
        elif isinstance(node, ast.Import):
            yield from (name.name for name in node.names)


def _lengths(path: Path, tree: ast.Module) -> Iterator[str]:
    """What is too long, counted on code alone; a line without what it tells linters."""
    if (lines := _code_lines(tree)) > MAX_LINES:
        yield f"{lines} lines of code, over {MAX_LINES}"
    for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), start=1):
        width = len(PRAGMA.split(line)[0])
        if width > MAX_WIDTH:
            yield f"line {number} has {width} characters, over {MAX_WIDTH}"
    for node in _statements(tree):
        if isinstance(node, ast.FunctionDef):
            length = _code_lines(node)
            if length > MAX_FUNCTION_LINES:
                yield f"{node.name} has {length} lines of code, over {MAX_FUNCTION_LINES}"


def _fields(tree: ast.Module) -> Iterator[str]:
    for node in _statements(tree):
        if not isinstance(node, ast.ClassDef):
            continue
        made_by = [ast.unparse(part) for part in (*node.decorator_list, *node.bases)]
        if not any("dataclass" in part or part in VALUES for part in made_by):
            continue
        fields = [step for step in node.body if isinstance(step, ast.AnnAssign)]
        count = sum("ClassVar" not in ast.unparse(field.annotation) for field in fields)
        if count > MAX_FIELDS:
            yield f"{node.name} has {count} fields, over {MAX_FIELDS}"


def _late_imports(tree: ast.Module, heavy: set[str]) -> Iterator[str]:
    """Imports inside functions of what is neither heavy nor loads something that is."""
    for function in (node for node in _statements(tree) if isinstance(node, ast.FunctionDef)):
        for node in _statements(function):
            if not isinstance(node, ast.ImportFrom) or node.module is None:
                continue
            names = {node.module, *(f"{node.module}.{name.name}" for name in node.names)}
            if not (names & heavy or node.module in HEAVY or node.module.split(".")[0] in HEAVY):
                yield f"{function.name} imports {node.module}, which is quick to load"


def _nested(tree: ast.Module) -> Iterator[str]:
    """Conditional expressions inside another, at any depth."""
    for node in _choices_in(tree):
        if any(isinstance(part, ast.IfExp) for part in ast.walk(node) if part is not node):
            yield f"line {node.lineno} has a conditional expression inside another"


def _code_lines(tree: ast.AST) -> int:
    """Lines of statements, without docstrings, blank lines and comments."""
    held: set[int] = set()
    for node in _statements(tree):
        if not _is_text(node):
            held.update(range(node.lineno, _last_line(node) + 1))
    return len(held)


def _statements(tree: ast.AST) -> Iterator[ast.stmt]:
    """All statements inside, at any depth."""
    waiting = [tree]
    while waiting:
        node = waiting.pop()
        if isinstance(node, ast.stmt):
            yield node
        for inside in ("body", "orelse", "finalbody", "handlers", "cases"):
            waiting += getattr(node, inside, ())


def _last_line(node: ast.stmt) -> int:
    """The last line of a statement; of one with others inside, the last of what comes before."""
    if not isinstance(getattr(node, "body", None), list):
        return node.end_lineno or node.lineno
    heads = (part for part in ast.iter_child_nodes(node) if not isinstance(part, ast.stmt))
    return max((getattr(part, "end_lineno", node.lineno) for part in heads), default=node.lineno)


def _is_text(node: ast.stmt) -> bool:
    return isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)


if __name__ == "__main__":
    sys.exit(main())
