"""What editors and type checkers know: keys in signatures, a user's script, and mistakes in one."""

from __future__ import annotations

import inspect
import json
import subprocess
import sys
import tomllib
from pathlib import Path
from typing import Any

import pytest

import yuzen as yz
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.labels import LabelSection, NoteSection
from yuzen.brief.sections.layers import LayerSection
from yuzen.brief.sections.references import ReferenceSection
from yuzen.brief.sections.rule import RuleSection

HERE = Path(__file__).parent
RIGHT, WRONG = HERE / "typed" / "right.py", HERE / "typed" / "wrong.py"
SLIPS = {
    number
    for number, line in enumerate(WRONG.read_text().splitlines(), start=1)
    if line and not line.startswith(('"""', "from", "import", "rows", "chart ="))
}


def pyright(script: Path, folder: Path) -> set[int]:
    (folder / script.name).write_text(script.read_text())
    settings = {
        "typeCheckingMode": "strict",
        "pythonVersion": "3.11",
        "reportMissingTypeStubs": False,
        "enableTypeIgnoreComments": False,
    }
    (folder / "pyrightconfig.json").write_text(json.dumps(settings))
    checker = Path(sys.executable).parent / "basedpyright"
    if not checker.exists():
        pytest.skip('no pyright is installed; pip install ".[checkers]" brings one')
    said = subprocess.run(
        [checker, "--outputjson", "--pythonpath", sys.executable, script.name],
        capture_output=True, text=True, check=False, cwd=folder,
    )  # fmt: skip
    told = json.loads(said.stdout)["generalDiagnostics"]
    return {one["range"]["start"]["line"] + 1 for one in told if one["severity"] == "error"}


def test_ten_slips_are_found() -> None:
    """By mypy as it checks all of our code: a comment to ignore what is no error is an error there."""
    lines = WRONG.read_text().splitlines()
    assert len(SLIPS) == 10
    assert {
        number for number, line in enumerate(lines, start=1) if line.endswith("# type: ignore")
    } == SLIPS
    project = tomllib.loads((HERE.parents[1] / "pyproject.toml").read_text())["tool"]["mypy"]
    assert project["strict"]
    assert "tests" in project["files"]
    assert "exclude" not in project


@pytest.mark.slow
def test_pyright_finds_them_too(tmp_path: Path) -> None:
    assert pyright(RIGHT, tmp_path) == set()
    assert pyright(WRONG, tmp_path) == SLIPS


def test_the_script_runs_and_each_slip_is_told_by_it_too() -> None:
    namespace: dict[str, Any] = {}
    exec(
        compile(
            RIGHT.read_text().replace('"a", "b", "c"', '"red", "blue", "ink"'), "right.py", "exec"
        ),
        namespace,
    )
    assert namespace["told"]["rule"].tolist().count("loss") == 1
    assert namespace["words"] == ["#C63E2F", "#C9CCD0", "#C9CCD0"]
    lines = WRONG.read_text().splitlines()
    start = "\n".join(line for number, line in enumerate(lines, start=1) if number not in SLIPS)
    for number in SLIPS:
        with pytest.raises((yz.YuzenError, TypeError, AttributeError)):
            exec(f"{start}\n{lines[number - 1]}", {})


@pytest.mark.parametrize(
    ("call", "section"),
    [
        (yz.rule, RuleSection),
        (yz.reference, ReferenceSection),
        (yz.Chart.rule, RuleSection),
        (yz.Chart.first_rule, RuleSection),
        (yz.Chart.reference, ReferenceSection),
        (yz.Chart.label, LabelSection),
        (yz.Chart.layer, LayerSection),
        (yz.Chart.column, ColumnSection),
        (yz.Chart.note, NoteSection),
    ],
)
def test_calls_say_every_key_of_their_section(call: Any, section: Any) -> None:
    told = inspect.signature(call).parameters
    assert set(told) - {"self"} == set(section.model_fields)
    for name, parameter in told.items():
        if parameter.kind is inspect.Parameter.KEYWORD_ONLY:
            assert parameter.annotation, name
    assert "color: str | None = None" in str(inspect.signature(yz.rule))


@pytest.mark.parametrize("tool", ["write_keywords", "write_stored"])
def test_what_is_written_from_the_model_is_as_it_would_be_written(tool: str) -> None:
    said = [sys.executable, "-m", f"tools.{tool}", "--check"]
    assert subprocess.run(said, check=False, cwd=HERE.parents[1]).returncode == 0


def test_no_public_signature_says_any_but_for_data() -> None:
    for name in yz.__all__:
        public = getattr(yz, name)
        calls = (
            [public]
            if not inspect.isclass(public)
            else [m for n, m in vars(public).items() if not n.startswith("_")]
        )
        for call in calls:
            if inspect.isfunction(call):
                told = str(inspect.signature(call))
                assert "Any" not in told.replace("Mapping[str, Any]", ""), (name, told)


def public_calls() -> list[Any]:
    """Every public function, class and method, but those of classes that only hold values."""
    found = [(name, getattr(yz, name)) for name in yz.__all__]
    for name, public in list(found):
        if name in {"Chart", "Verdicts", "Painted"}:
            own = {part for part in dir(public) if not part.startswith("_")}
            found += [(f"{name}.{part}", getattr(public, part)) for part in sorted(own)]
    return [
        pytest.param(call, id=name)
        for name, call in found
        if inspect.isclass(call) or inspect.isfunction(call) or inspect.ismethod(call)
    ]


@pytest.mark.parametrize("call", public_calls())
def test_every_public_call_has_an_example_that_is_run(call: Any) -> None:
    assert ">>> " in (inspect.getdoc(call) or "")
