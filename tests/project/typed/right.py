"""A script as an analyst writes it, which every checker of types takes."""

from __future__ import annotations

from datetime import date

import numpy as np
import pandas as pd
from matplotlib.figure import Figure

import yuzen as yz

rows = pd.DataFrame(
    {
        "route": ["Brinewick", "Kelpwick", "Larkholm"],
        "waters": ["North Reach", "North Reach", "Saltmarsh"],
        "passengers": [900, 300, 500],
        "surplus": [-300.0, 120.0, 80.0],
    }
)
loss = yz.rule("surplus negative", name="loss", color="adverse", badge="down", key="Runs at a loss")
best = yz.rule(
    yz.top("n", within="waters") & yz.measure("surplus").positive, color="favorable", ties="dense"
)
depth = yz.rule(
    shade={"of": "surplus", "colors": ["adverse", "paper", "favorable"], "center": 0, "steps": 5}
)
size = yz.rule(
    bands={"of": "passengers", "edges": [400, 800], "names": list("abc"), "colors": ["a", "b", "c"]}
)

chart: yz.Chart = (
    yz.chart(
        rows,
        kind="bar",
        category="route",
        value="passengers",
        order="largest first",
        limit=15,
        rest="Other routes",
        title='{count "loss"} routes lose money',
        parameters={"n": 3, "since": date(2025, 7, 1)},
        size={"width": 1280, "row_height": 37},
    )
    .measure(margin="total of surplus / total of passengers")
    .rule(loss)
    .rule(best)
    .rule("above average", color="notice", on="axis name", weight="bold", totals="only")
    .reference("average", label="average {average:,.0f}")
    .reference(low=yz.measure("passengers") - 10, high=900, label="usual")
    .label("{passengers:,.0f}", where="inside", plate=True)
    .layer("plan", value="surplus", kind="tick", width=0.5)
    .note("works since spring", at=date(2025, 7, 1))
    .given(n=5)
)
told: pd.DataFrame = chart.flags()
sentences: str = str(chart.why("Brinewick")) + chart.alt()
figure = Figure(figsize=(12.8, 8))
axes = figure.subplots()
notes: tuple[str, ...] = chart.draw(axes, show=["title", "key"]).notes
axes.bar(rows["route"], rows["surplus"])  # pyright: ignore[reportUnknownMemberType]  # not ours
painted: yz.Painted = yz.paint(axes, loss, yz.reference("average"), data=rows, show=["key"])
painted.undo()
words: list[str] = yz.colors(rows["surplus"], loss, data=rows, names="route").tolist()
opaque: float = float(
    yz.colors(np.array([1.0, 2.0]), yz.rule("highest", opacity=0.5), as_rgba=True)[0, 3]
)
texts = yz.ink(words)
outcome: yz.Verdicts = yz.judge(rows, loss, depth, size, category="route", value="surplus")
winners: int = int(outcome.winners("mark", "color")[0])
