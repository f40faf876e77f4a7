"""Ten slips of the pen, one a line, which every checker of types finds."""

from __future__ import annotations

import yuzen as yz

rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
chart = yz.chart(rows, category="route", value="surplus")
yz.chart(rows, category="route", value="surplus", kind="bars")
yz.chart(rows, category="route", values="surplus")
chart.rule("negative", colour="adverse")
chart.rule("negative", badge="arrow")
chart.rule("negative", opacity="half")
chart.rule(shade={"off": "surplus"})
chart.reference("average", lable="average")
chart.layer("plan", kind="tick")
chart.column("surplus", show="line")
yz.measure("surplus").negativ
