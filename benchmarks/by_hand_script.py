"""A whole script as an analyst runs it: python by_hand_script.py ROUTES.CSV OUT.PNG."""

import sys
from pathlib import Path

import pandas as pd

sys.path.insert(0, str(Path(__file__).parents[1]))
from benchmarks.by_hand import small_chart

rows = pd.read_csv(sys.argv[1])
rows = rows[(rows["service"] == "ferry") & (rows["month"] > "2025-06")]
small_chart(rows, Path(sys.argv[2]))
