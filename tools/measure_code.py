"""Measures the code: how long modules and functions are, how many fields values have, what is imported late.

Prints what is over a limit and ends with 1; `make test` runs it.
"""

from __future__ import annotations

import ast
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from collections.abc import Iterator

SOURCE: Final = Path(__file__).parent.parent / "src"
MOST_LINES: Final = 330  # of a module
LONGEST: Final = 40  # lines of a function
MOST_FIELDS: Final = 16  # of a value
MOST_CHOICES: Final = (
    1.6  # conditional expressions for each hundred lines of code, none inside another
)

# What takes long to load, or may not be installed, and the modules of ours that load it.
HEAVY: Final = {
    "babel", "click.shell_completion", "distributed", "duckdb", "importlib.metadata", "io", "matplotlib",
    "openpyxl", "PIL", "pandas", "pyarrow", "rich", "shutil", "sqlalchemy", "sqlite3", "sys", "tomli_w",
    "watchfiles", "yuzen.cli.defects", "yuzen.cli.main",
}  # fmt: skip
LOADING: Final = {
    "distributed",
    "matplotlib",
    "pandas",
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
    heavy, heavy_for_help = (
        heavy_modules(modules, LOADING),
        heavy_modules(modules, LOADING_FOR_HELP),
    )
    found = [
        f"{path.relative_to(SOURCE)}: {what}"
        for path, tree in modules.items()
        for what in (
            *_lengths(path, tree),
            *_fields(tree),
            *_late_imports(tree, heavy_for_help if path.parent.name == "cli" else heavy),
            *_nested(tree),
        )
    ]
    choices = sum(
        isinstance(node, ast.IfExp) for tree in modules.values() for node in ast.walk(tree)
    )
    lines = sum(_code_lines(path) for path in modules)
    if choices > lines * MOST_CHOICES / 100:
        found.append(
            f"{choices} conditional expressions in {lines} lines, over {MOST_CHOICES} in 100"
        )
    print("\n".join(found) or f"{len(modules)} modules, {lines} lines of code: within all limits")
    return int(bool(found))


def heavy_modules(modules: dict[Path, ast.Module], loading: set[str]) -> set[str]:
    """Our modules that load one of some packages when they are imported, themselves or through others."""
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
    lines = len(path.read_text(encoding="utf-8").splitlines())
    if lines > MOST_LINES:
        yield f"{lines} lines, over {MOST_LINES}"
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef) and node.end_lineno is not None:
            length = node.end_lineno - node.lineno + 1
            if length > LONGEST:
                yield f"{node.name} has {length} lines, over {LONGEST}"


def _fields(tree: ast.Module) -> Iterator[str]:
    for node in ast.walk(tree):
        if not isinstance(node, ast.ClassDef):
            continue
        if not any("dataclass" in ast.unparse(decorator) for decorator in node.decorator_list):
            continue
        fields = [step for step in node.body if isinstance(step, ast.AnnAssign)]
        count = sum("ClassVar" not in ast.unparse(field.annotation) for field in fields)
        if count > MOST_FIELDS:
            yield f"{node.name} has {count} fields, over {MOST_FIELDS}"


def _late_imports(tree: ast.Module, heavy: set[str]) -> Iterator[str]:
    """Imports inside functions of what is neither heavy nor loads something that is."""
    for function in (node for node in ast.walk(tree) if isinstance(node, ast.FunctionDef)):
        for node in ast.walk(function):
            if not isinstance(node, ast.ImportFrom) or node.module is None:
                continue
            names = {node.module, *(f"{node.module}.{name.name}" for name in node.names)}
            if not (names & heavy or node.module in HEAVY or node.module.split(".")[0] in HEAVY):
                yield f"{function.name} imports {node.module}, which is quick to load"


def _nested(tree: ast.Module) -> Iterator[str]:
    for node in ast.walk(tree):
        if isinstance(node, ast.IfExp) and any(
            isinstance(part, ast.IfExp) for part in ast.iter_child_nodes(node)
        ):
            yield f"line {node.lineno} has a conditional expression inside another"


def _code_lines(path: Path) -> int:
    """Lines that hold something."""
    return sum(bool(line.strip()) for line in path.read_text(encoding="utf-8").splitlines())


if __name__ == "__main__":
    sys.exit(main())
