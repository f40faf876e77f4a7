"""The colours of rules as a column of a table, from which Bokeh draws points."""

from pathlib import Path

import pandas as pd
from bokeh.embed import file_html
from bokeh.models import ColumnDataSource
from bokeh.plotting import figure
from bokeh.resources import CDN

import yuzen as yz

rows = pd.DataFrame(
    {
        "route": ["Brinewick", "Cinderquay", "Dunmarrow", "Eelstone", "Farrowness", "Gullhaven"],
        "fares": [303_677, 366_329, 131_204, 240_118, 160_482, 324_421],
        "surplus": [-16_890, 74_420, 18_848, 26_041, 19_583, 41_207],
    }
)
shade = yz.rule(
    shade={"of": "surplus / fares", "colors": ["adverse", "paper", "favorable"], "center": 0}
)
rows["color"] = yz.colors(rows["surplus"], shade, data=rows, names="route")

table = ColumnDataSource({str(name): column.tolist() for name, column in rows.items()})
plot = figure(title="Fares and surplus of six routes", width=900, height=560)
plot.scatter(
    "fares",
    "surplus",
    color="color",
    line_color="black",
    size=14,
    source=table,
)
page = file_html(plot, CDN, "Fares and surplus")
Path("points_in_bokeh.html").write_text(page, encoding="utf-8")
print(rows[["route", "color"]].to_string(index=False))
