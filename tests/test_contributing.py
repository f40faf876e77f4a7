"""The diffs of CONTRIBUTING.md: applied to a copy of the sources, and what they add is used."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path
from shutil import copytree, ignore_patterns

HERE = Path(__file__).parent.parent

USED = """
import json
from yuzen.brief.toml.document import brief_schema
from yuzen.cli.language import sayings
from yuzen.rules.grammar.parser import parse
from yuzen.rules.language.words import is_bare
import yuzen as yz

rows = {"c": list("abcd"), "v": [2, 3, 4, None]}
assert str(parse("V EVEN within w")) == "V even within w"
assert not is_bare("even") and "even" in str(sayings())
assert str(yz.measure("v").even & yz.top(2)) == "v even and top 2"
chart = yz.chart(rows, category="c", value="v").rule("even", color="adverse", name="pairs")
chart = chart.rule("highest", on="label", underline=True, name="line")
assert chart.flags().query("target == 'mark'")["rule"].tolist().count("pairs") == 2
assert "v 4 is even" in str(chart.why("c")) and "v 3 is not even" in str(chart.why("b"))
lined = chart.page().charts[0].layers[0].labels[0].pieces[0].underlined
assert lined.tolist().count(True) == 1
assert len(chart.image()) != len(yz.chart(rows, category="c", value="v").image())
try:
    chart.rule("even", on="axis name", underline=True, name="x")
except yz.YuzenError as error:
    assert "axis name has no underline; what has one is label" in str(error)
else:
    raise AssertionError
needle = yz.chart(rows, category="c", value="v", kind="needle").rule("even", color="adverse", size=9)
assert "needles show no size on mark" in needle.notes()[0]
assert needle.figure().get_size_inches()[1] < chart.figure().get_size_inches()[1]
schema = json.dumps(brief_schema())
assert "underline" in schema and "needle" in schema
assert [f.code for f in yz.chart({"c": ["a"], "v": [1]}, category="c", value="v").check()] == ["mark-alone"]
open("rows.ndjson", "w").write('{"c": "a", "v": 2}\\n{"c": "b", "v": 3}\\n')
assert len(yz.chart("rows.ndjson", category="c", value="v").keep("v even").marks) == 1
import sqlite3
base = sqlite3.connect("rows.db")
base.execute("create table t (c text, v int)")
base.executemany("insert into t values (?, ?)", [("a", 2), ("b", 3), ("c", 8)])
base.commit()
stored = yz.chart(yz.Database("sqlite:///rows.db", "t"), category="c", value="v").keep("v even")
assert sorted(stored.marks.names()) == ["a", "c"]
"""


def test_every_diff_applies_and_what_it_adds_works(tmp_path: Path) -> None:
    copytree(HERE / "src", tmp_path / "src", ignore=ignore_patterns("__pycache__"))
    diffs = re.findall(
        r"```diff\n(.*?)```", (HERE / "CONTRIBUTING.md").read_text(encoding="utf-8"), re.DOTALL
    )
    assert len(diffs) == 5
    for diff in diffs:
        apply = ["git", "apply", "--whitespace=error", "-"]
        subprocess.run(apply, input=diff.encode(), cwd=tmp_path, check=True)
    environment = {"PYTHONPATH": str(tmp_path / "src"), "PATH": "", "HOME": str(tmp_path)}
    subprocess.run(
        [sys.executable, "-W", "error", "-c", USED], cwd=tmp_path, env=environment, check=True
    )
