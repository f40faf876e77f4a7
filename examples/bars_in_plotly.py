"""The colours of rules on Plotly's bars, and on the numbers in them."""

import pandas as pd
import plotly.graph_objects as go

import yuzen as yz

rows = pd.DataFrame(
    {
        "route": ["Brinewick", "Cinderquay", "Dunmarrow", "Eelstone", "Farrowness"],
        "passengers": [48_980, 51_356, 14_690, 33_826, 20_136],
        "surplus": [-16_890, 74_420, 18_848, 26_041, 19_583],
    }
)
rules = [
    yz.rule("surplus negative", color="adverse"),
    yz.rule("passengers top 2", color="favorable"),
]

fills = yz.colors(rows["passengers"], *rules, data=rows, names="route")
figure = go.Figure(
    go.Bar(
        x=rows["route"],
        y=rows["passengers"],
        marker_color=fills.tolist(),
        text=rows["passengers"],
        textfont_color=yz.ink(fills).tolist(),
    )
)
figure.update_layout(title="Passengers by route", plot_bgcolor="white")
figure.write_html("bars_in_plotly.html", include_plotlyjs="cdn")
print(dict(zip(rows["route"], fills.tolist(), strict=True)))
