"""Routes compared with the average of their own waters, and the same rules on another category."""

from importlib.resources import files

import pandas as pd

import yuzen as yz

with (files("yuzen.demo") / "data" / "routes.csv").open() as file:
    rows = pd.read_csv(file)

chart = (
    yz.chart(rows, kind="column", category="route", value="margin", order="by name")
    .keep('service = "ferry" and month in last 12 months')
    .measure(margin="total of surplus / total of fares")
    .rule("below average within waters", color="adverse", key="Below the average of its waters")
    .rule("highest within waters", color="favorable", key="Best of its waters")
    .label("{margin:.0%}")
)
chart.save("group_averages.png")
print(chart.flags().head())
