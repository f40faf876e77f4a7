"""A chart from a table in memory, with two rules, and why one bar has its colour."""

import yuzen as yz

rows = {
    "route": ["Brinewick", "Cinderquay", "Dunmarrow", "Eelstone", "Farrowness"],
    "passengers": [48_980, 51_356, 14_690, 33_826, 20_136],
    "surplus": [-16_890, 74_420, 18_848, 26_041, 19_583],
}
chart = (
    yz.chart(rows, category="route", value="passengers", title="Passengers by route")
    .rule("surplus negative", color="adverse", key="Runs at a loss")
    .rule("top n", color="favorable", key="Top {n:.0f} by passengers")
    .given(n=2)
)
chart.save("plain_bars.png")
print(chart.why("Brinewick"))
