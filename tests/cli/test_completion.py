"""Completion, asked through the shells themselves: bash, and zsh and fish where they are."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from tests.support.sampling import a_sample_of

BIN = Path(sys.executable).parent
BASH = """
source <(yuzen completion bash)
COMP_WORDS=("$@")
COMP_CWORD=$(($# - 1))
compopt() { :; }
_yuzen_completion yuzen
printf '%s\\n' "${COMPREPLY[@]}"
"""
ZSH = """
zmodload zsh/zpty
zpty shell zsh -f -i
zpty -w shell 'autoload -Uz compinit; compinit -u; PS1=; eval "$(yuzen completion zsh)"; echo read''y'
zpty -r -m shell line '*ready*'
zpty -w -n shell $1$'\\t'
zpty -r -m shell line "*$2*"
print -r -- $line
"""


def shell(name: str, *words: str) -> str:
    path = shutil.which(name)
    if path is None:
        pytest.skip(f"needs {name} (Debian: {name})")
    environment = {**os.environ, "PATH": f"{BIN}{os.pathsep}{os.environ['PATH']}", "TERM": "dumb"}
    return subprocess.run(
        [path, *words], env=environment, capture_output=True, text=True, check=True, timeout=120
    ).stdout


def in_bash(*words: str) -> list[str]:
    return sorted(shell("bash", "-c", BASH, "bash", *words).split("\n")[:-1])


@pytest.mark.sampled(3)
@pytest.mark.usefixtures("folder")
@pytest.mark.parametrize(
    ("words", "completed"),
    a_sample_of([
        (["yuzen", "dr"], ["draw"]),
        (["yuzen", "draw", "busiest.toml", "--pan"], ["--panels"]),
        (["yuzen", "draw", "busiest.toml", "--panels", "wa"], ["waters"]),
        (["yuzen", "draw", "busiest.toml", "--each", "ser"], ["service"]),
        (["yuzen", "draw", "routes.csv", "--category", "ro"], ["route"]),
        (["yuzen", "draw", "routes.csv", "--kind", "d"], ["dots"]),
        (["yuzen", "draw", "routes.csv", "--rule", "'top 3'", "favo"], ["favorable"]),
        (["yuzen", "start", "routes.csv", "--value", "surp"], ["surplus"]),
        (["yuzen", "draw", "busiest.toml", "--theme", "pr"], ["press"]),
        (["yuzen", "draw", "busiest.toml", "--set", ""], ["n="]),
        (["yuzen", "why", "busiest.toml", "brine"], ["Brinewick"]),
        (["yuzen", "flags", "busiest.toml", "--format", "p"], ["parquet"]),
        (["yuzen", "check", "--ignore", "tie-"], ["tie-at-cut", "tie-no-place"]),
        (["yuzen", "help", "rule.sha"], ["rule.shade", *(f"rule.shade.{key}" for key in ("arms", "center", "colors", "of", "range", "scale", "steps", "within"))]),
        (["yuzen", "schema", "--answer", "wh"], ["where", "why"]),
        (["yuzen", "draw", "none.toml", "--set", ""], []),
    ]),
)  # fmt: skip
def test_bash_completes(words: list[str], completed: list[str]) -> None:
    assert [word for word in in_bash(*words) if word] == completed


@pytest.mark.sampled(3)
@pytest.mark.usefixtures("folder")
@pytest.mark.parametrize(
    ("line", "completed"),
    [("yuzen dr", "draw"), ("yuzen draw busiest.toml --panels wa", "waters"), ("yuzen why busiest.toml Brine", "Brinewick")],
)  # fmt: skip
def test_fish_and_zsh_complete(line: str, completed: str) -> None:
    told = shell("fish", "-c", f"yuzen completion fish | source; complete -C '{line}'")
    assert completed in told.split()
    assert completed in shell("zsh", "-c", ZSH, "zsh", line, completed)
