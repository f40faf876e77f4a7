"""Ten slips of the pen, one a line: a checker of types finds each, or it says that its comment is not needed."""

from __future__ import annotations

import yuzen as yz

rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
chart = yz.chart(rows, category="route", value="surplus")
yz.chart(rows, category="route", value="surplus", kind="bars")  # type: ignore
yz.chart(rows, category="route", values="surplus")  # type: ignore
chart.rule("negative", colour="adverse")  # type: ignore
chart.rule("negative", badge="arrow")  # type: ignore
chart.rule("negative", opacity="half")  # type: ignore
chart.rule(shade={"off": "surplus"})  # type: ignore
chart.reference("average", lable="average")  # type: ignore
chart.layer("plan", kind="tick")  # type: ignore
chart.column("surplus", show="line")  # type: ignore
yz.measure("surplus").negativ  # type: ignore
