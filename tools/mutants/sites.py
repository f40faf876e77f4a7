"""The places where code can be broken: comparisons, operators, constants, conditions."""

from __future__ import annotations

import ast
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final
from zlib import crc32

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

OPPOSITES: Final[dict[type[ast.cmpop], type[ast.cmpop]]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
}
EXCHANGED: Final[dict[type[ast.operator], type[ast.operator]]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.BitAnd: ast.BitOr,
    ast.BitOr: ast.BitAnd,
    ast.FloorDiv: ast.Mult,
    ast.Mod: ast.Mult,
}
# Where these are given, another value changes how fast or how strictly, and not what comes out.
WITHOUT_MEANING: Final = {"strict", "copy", "maxsize", "cache", "slots", "frozen", "eq", "kw_only"}
SMALL: Final = 2  # integers up to this are steps and places; from there on they are sizes


@dataclass(frozen=True)
class Mutant:
    """One place of a file, and what stands there instead.

    start, end: bytes of the file.   line: from 1.
    """

    path: str
    line: int
    start: int
    end: int
    before: str
    after: str
    code: str

    @property
    def name(self) -> str:
        """What tells it from all others, also when lines above it come or go."""
        return f"{self.path}: {self.code}: {self.before} -> {self.after}"

    def applied(self, source: bytes) -> bytes:
        """The file with the place broken."""
        return source[: self.start] + self.after.encode() + source[self.end :]


def chosen(mutants: list[Mutant], count: int, seed: int) -> list[Mutant]:
    """A sample that is the same for one seed, and hardly another when code is added elsewhere."""
    return sorted(mutants, key=lambda one: crc32(f"{seed} {one.name}".encode()))[:count]


def mutants_of(path: Path, name: str) -> list[Mutant]:
    """All mutants of one file; two that are alike on lines that are alike count once."""
    source = path.read_bytes()
    tree = ast.parse(source)
    starts = [0]
    for line in source.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    lines = source.decode().splitlines()
    found: dict[str, Mutant] = {}
    for node, other in _broken(tree):
        start = starts[node.lineno - 1] + node.col_offset
        end = starts[(node.end_lineno or node.lineno) - 1] + (node.end_col_offset or 0)
        mutant = Mutant(
            path=name,
            line=node.lineno,
            start=start,
            end=end,
            before=" ".join(source[start:end].decode().split()),
            after=other,
            code=lines[node.lineno - 1].strip(),
        )
        found.setdefault(mutant.name, mutant)
    return list(found.values())


def _broken(tree: ast.AST) -> Iterator[tuple[ast.expr, str]]:
    """Every expression that can be broken, with what stands there instead."""
    for node in _code(tree):
        if isinstance(node, (ast.If, ast.IfExp)):
            yield node.test, f"(not ({ast.unparse(node.test)}))"
        elif isinstance(node, ast.comprehension):
            for condition in node.ifs:
                yield condition, f"(not ({ast.unparse(condition)}))"
        elif isinstance(node, ast.expr):
            yield from ((node, f"({ast.unparse(other)})") for other in _others(node))


def _others(node: ast.expr) -> Iterator[ast.expr]:
    """The same expression with one comparison, operator or constant exchanged."""
    match node:
        case ast.Compare(left, ops, comparators):
            for place, operator in enumerate(ops):
                changed = [*ops[:place], OPPOSITES[type(operator)](), *ops[place + 1 :]]
                yield ast.Compare(left, changed, comparators)
        case ast.BoolOp(operator, values):
            yield ast.BoolOp(ast.Or() if isinstance(operator, ast.And) else ast.And(), values)
        case ast.BinOp(left, operator, right) if type(operator) in EXCHANGED and not _is_type(
            right
        ):
            yield ast.BinOp(left, EXCHANGED[type(operator)](), right)
        case ast.Constant(bool() as truth):
            yield ast.Constant(not truth)
        case ast.Constant(int() | float() as number):
            yield ast.Constant(number + 1 if abs(number) <= SMALL else number * 2)


def _is_type(node: ast.expr) -> bool:
    """Whether an operand is a type, as in a union, for which no other operator is."""
    return isinstance(node, ast.Name) and node.id[0].isupper() and not node.id.isupper()


def _code(node: ast.AST) -> Iterator[ast.AST]:
    """All nodes but those of types, decorators, messages and f-strings."""
    yield node
    for name, value in ast.iter_fields(node):
        if name in {"annotation", "returns", "decorator_list", "type_params"}:
            continue
        for child in value if isinstance(value, list) else [value]:
            if isinstance(child, ast.AST) and not _is_left_alone(child):
                yield from _code(child)


def _is_left_alone(node: ast.AST) -> bool:
    match node:
        case ast.JoinedStr() | ast.Raise() | ast.Assert():
            return True
        case ast.keyword(arg=name):
            return name in WITHOUT_MEANING
        case ast.If(test=ast.Name(id="TYPE_CHECKING")):
            return True
        case ast.Assign(targets=[ast.Name(id=name)]):
            return name == "__all__"
    return False
