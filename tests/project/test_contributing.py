"""The diffs of CONTRIBUTING.md: applied to a copy of the sources, and what they add is used."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path
from shutil import copytree, ignore_patterns

HERE = Path(__file__).parents[2]

USED = """
import io
import json
import subprocess
import sys
from pathlib import Path
from PIL import Image
from yuzen.artists.painted import SHOWN_EFFECTS
from yuzen.brief.toml.document import brief_schema
from yuzen.cli.stored_pages import page
from yuzen.rules.grammar.parser import parse
from yuzen.rules.language.words import is_bare
import yuzen as yz
from yuzen.draw.text.fonts import box_of

rows = {"c": list("abcd"), "v": [2, 3, 9, None]}

# The claim: read, worded, typed, explained, listed without any file being written anew.
assert str(parse("V NEAR 3 BY 1 within w")) == "V near 3 by 1 within w"
assert not is_bare("near") and "near A by B" in page("words")
assert str(yz.measure("v").near(3, by=1) & yz.top(2)) == "v near 3 by 1 and top 2"
chart = yz.chart(rows, category="c", value="v").rule("near 2 by 1", color="adverse", name="close")
assert chart.flags()["rule"].tolist().count("close") == 2
assert "v 2 is near 2 by 1" in str(chart.why("a")) and "v 9 is not near" in str(chart.why("c"))

# The effect: on marks and in the key; refused where it never is, told where its outline is lacking.
edged = chart.rule("highest", outline="adverse", dashed=True, name="edge")
(bars,) = [shape for shape in edged.stages.scene.shapes if shape.role == "bars"]
assert sorted(bars.strokes) == ["", "", "", "dashed"], bars.strokes
(bars,) = [a for a in edged.figure().axes[0].collections if (a.get_gid() or "") == "bars"]
assert len({str(style) for style in bars.get_linestyle()}) == 2
assert "stroke-dasharray" in edged.image("svg").decode()
assert [entry.stroke for entry in edged.stages.page.key.entries] == ["", "dashed", ""]
assert any("dashed is about the outline" in note for note in chart.rule("lowest", dashed=True).notes())
assert "dashed" in SHOWN_EFFECTS["bars"]["mark"] and "dashed" not in SHOWN_EFFECTS["lines"]["mark"]
try:
    chart.rule("highest", on="axis name", dashed=True, outline="adverse", name="x")
except yz.YuzenError as error:
    assert "axis name has no" in str(error)
else:
    raise AssertionError

# The shape: its number stands clear of its dot.
pins = yz.chart(rows, category="c", value="v", kind="pin").rule("highest", color="adverse")
scene = pins.stages.scene
(dots,) = [shape for shape in scene.shapes if type(shape).__name__ == "Dots"]
numbers = [box_of(line) for line in scene.texts if line.text in {"2", "3", "9"}]
assert len(numbers) == len(dots.centers) == 3
tops = dict(zip(dots.centers[:, 0].round().tolist(), dots.centers[:, 1] - 8, strict=True))
assert all(box.bottom <= tops[round((box.left + box.right) / 2)] for box in numbers)
assert "pin" in json.dumps(brief_schema()) and "pin" in page("schema") and "dashed" in page("schema")

# The type of picture: written, read back, in messages.
image = pins.image("webp")
assert Image.open(io.BytesIO(image)).format == "WEBP"
Path("pins.webp").write_bytes(image)
assert 'rule 1 "highest"' in str(yz.load_picture("pins.webp").why("c"))
try:
    pins.save("pins.gif")
except yz.YuzenError as error:
    assert ".pdf or .webp" in str(error)
else:
    raise AssertionError

# The command, the check, the type of data file.
call = [sys.executable, "-m", "yuzen", "summary", "pins.webp"]
assert subprocess.run(call, capture_output=True, text=True, check=True).stdout == "highest flags 1 (c).\\n"
assert [f.code for f in yz.chart({"c": ["a"], "v": [1]}, category="c", value="v").check()] == ["mark-alone"]
Path("rows.ndjson").write_text('{"c": "a", "v": 2}\\n{"c": "b", "v": 3}\\n')
assert len(yz.chart("rows.ndjson", category="c", value="v").keep("v near 2 by 0").stages.marks) == 1
import sqlite3
base = sqlite3.connect("rows.db")
base.execute("create table t (c text, v int)")
base.executemany("insert into t values (?, ?)", [("a", 2), ("b", 3), ("c", 8)])
base.commit()
base.close()
stored = yz.chart(yz.Database("sqlite:///rows.db", "t"), category="c", value="v").keep("v near 2 by 1")
assert sorted(stored.stages.marks.names()) == ["a", "b"]
"""


def test_every_diff_applies_and_what_it_adds_works(tmp_path: Path) -> None:
    copytree(HERE / "src", tmp_path / "src", ignore=ignore_patterns("__pycache__"))
    diffs = re.findall(
        r"```diff\n(.*?)```", (HERE / "CONTRIBUTING.md").read_text(encoding="utf-8"), re.DOTALL
    )
    assert len(diffs) == 7
    for diff in diffs:
        apply = ["git", "apply", "--whitespace=error", "-"]
        subprocess.run(apply, input=diff.encode(), cwd=tmp_path, check=True)
    environment = {"PYTHONPATH": str(tmp_path / "src"), "PATH": "", "HOME": str(tmp_path)}
    (tmp_path / "used.py").write_text(USED)
    call = [sys.executable, "-W", "error", "used.py"]
    subprocess.run(call, cwd=tmp_path, env=environment, check=True)
