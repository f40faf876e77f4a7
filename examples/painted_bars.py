"""A chart that Matplotlib has drawn already, coloured by rules, and taken back."""

import pandas as pd
from matplotlib.figure import Figure

import yuzen as yz

rows = pd.DataFrame(
    {
        "route": ["Brinewick", "Cinderquay", "Dunmarrow", "Eelstone", "Farrowness", "Gullhaven"],
        "waters": [
            "Kestrel Sound",
            "Kestrel Sound",
            "North Reach",
            "Saltmarsh",
            "North Reach",
            "Saltmarsh",
        ],
        "surplus": [-16_890, 74_420, 18_848, 26_041, 19_583, 41_207],
    }
)
loss = yz.rule("negative", color="adverse", key="Runs at a loss")
best = yz.rule("highest within waters", color="favorable", key="Best of its waters")

figure = Figure(figsize=(12.8, 8), dpi=100)
axes = figure.subplots()
axes.bar(rows["route"], rows["surplus"])
axes.set_title("What each route left over, twelve months to June 2026")
axes.set_ylabel("crowns")

painted = yz.paint(axes, loss, best, yz.reference("average"), data=rows, show=["key"])
figure.savefig("painted_bars.png")
print(painted.why("Brinewick"))
