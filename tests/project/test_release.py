"""What a release and a forge are told stands in one place, and leads somewhere."""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tomllib
from collections.abc import Callable
from pathlib import Path
from shutil import which

import pytest
import yaml

from tests.support.command_line import Called
from yuzen.release import VERSION

HOME = Path(__file__).parents[2]
TARGETS = set(re.findall(r"^([a-z]+):", (HOME / "Makefile").read_text("utf-8"), re.MULTILINE))
FORGE = sorted([*HOME.glob(".github/**/*.yml"), HOME / ".pre-commit-config.yaml", HOME / ".pre-commit-hooks.yaml", HOME / "CITATION.cff"])  # fmt: skip


def test_the_version_is_said_once_and_shown_everywhere() -> None:
    project = tomllib.loads((HOME / "pyproject.toml").read_text("utf-8"))["project"]
    assert "version" not in project
    told = subprocess.run(
        [sys.executable, "-m", "hatchling", "metadata"], cwd=HOME, capture_output=True, check=True
    )
    metadata = json.loads(told.stdout)
    assert metadata["version"] == VERSION
    assert {"Source", "Issues", "Changelog", "Documentation", "Security"} == set(metadata["urls"])
    assert yaml.safe_load((HOME / "CITATION.cff").read_text("utf-8"))["version"] == VERSION
    changes = (HOME / "CHANGELOG.md").read_text("utf-8")
    headings = re.findall(r"^## ([\d.]+)", changes, re.MULTILINE)
    assert headings[0] == VERSION
    classifiers = metadata["classifiers"]
    workflow = yaml.safe_load((HOME / ".github/workflows/test.yml").read_text("utf-8"))
    for python in workflow["jobs"]["test"]["strategy"]["matrix"]["python"]:
        assert f"Programming Language :: Python :: {python}" in classifiers


@pytest.mark.parametrize("path", FORGE, ids=lambda path: path.name)
def test_files_for_a_forge_are_valid_and_call_targets_that_exist(path: Path) -> None:
    text = path.read_text("utf-8")
    assert yaml.safe_load(text)
    assert set(re.findall(r"run: make (\w+)", text)) <= TARGETS
    for used in re.findall(r"uses: (\S+)", text):
        assert re.fullmatch(r"[\w-]+/[\w-]+@(v\d+|release/v\d+)", used), used


def test_the_hook_refuses_a_brief_of_which_something_is_found(
    call: Callable[..., Called], folder: Path
) -> None:
    (hook,) = yaml.safe_load((HOME / ".pre-commit-hooks.yaml").read_text("utf-8"))
    command = hook["entry"].split()[1:]
    assert call(*command, "busiest.toml", "surplus.toml").code == 0
    brief = (folder / "busiest.toml").read_text("utf-8")
    (folder / "b.toml").write_text(brief.replace("surplus negative", "surplus below -9M"))
    assert call(*command, "busiest.toml", "b.toml").code == 1
    assert re.search(hook["files"], "briefs/b.toml")
    assert re.search(hook["exclude"], "briefs/yuzen.toml")


@pytest.mark.parametrize(
    "script", sorted(HOME.glob("examples/**/*.sh")), ids=lambda path: path.name
)
def test_scripts_of_shells_can_be_read(script: Path) -> None:
    shell = which("sh")
    assert shell is not None
    assert subprocess.run([shell, "-n", script], check=False).returncode == 0


def test_container_files_copy_what_is_there_and_run_as_nobody() -> None:
    for path in (HOME / "Containerfile", HOME / "examples/scheduled/Containerfile"):
        text = path.read_text("utf-8")
        assert "USER 65532" in text
        for source in re.findall(r"^COPY (?!--from)(\S+)", text, re.MULTILINE):
            assert (path.parent / source).exists()
        extras = re.findall(r"\[([\w,]+)\]", text)
        known = tomllib.loads((HOME / "pyproject.toml").read_text("utf-8"))["project"][
            "optional-dependencies"
        ]
        assert set(",".join(extras).split(",")) <= set(known)
