"""The ferry data of the demo, and its charts."""

from __future__ import annotations

from pathlib import Path

import yuzen
from yuzen.demo.gallery import demo_charts

DEMO = Path(yuzen.__file__).parent / "demo"
CHARTS = dict(demo_charts())  # which keep what was worked out of them, for all tests together
LAST_YEAR = 'service = "ferry" and month after "2025-06"'
