"""The desk in a notebook: its page in a frame, and how to start it where no frame can reach it."""

from __future__ import annotations

import os
from html import escape
from typing import Final

from yuzen.desk.edited_brief import EditedBrief
from yuzen.desk.server.serving import Desk, desk_of

# Pages on this machine that may show the desk in a frame: notebooks, whatever their port.
NOTEBOOKS: Final = ("http://127.0.0.1:*", "http://localhost:*")
# What tells that a notebook's page is on another machine than its Python.
ELSEWHERE: Final = ("JUPYTERHUB_API_URL", "BINDER_SERVICE_HOST", "KUBERNETES_SERVICE_HOST")
HEIGHT_PX: Final = 820


class DeskFrame:
    """The desk of a chart, as a notebook shows it."""

    def __init__(self, brief: EditedBrief) -> None:
        self._brief = brief
        self._desk: Desk | None = None
        # A browser that is elsewhere would look for the page on its own machine.
        if not any(name in os.environ for name in ELSEWHERE):
            self._desk = desk_of(brief, frames=NOTEBOOKS)
            self._desk.run_beside()

    @property
    def address(self) -> str:
        """The address of the page; '' where this machine is not the one that shows the notebook."""
        return "" if self._desk is None else self._desk.address

    @property
    def text(self) -> str:
        """The brief as it is on the desk now."""
        return self._brief.text if self._desk is None else self._desk.session.draft.text

    def stop(self) -> None:
        """End the page."""
        if self._desk is not None:
            self._desk.server.should_exit = True

    def __repr__(self) -> str:
        if self.address:
            return f"The desk is at {self.address}"
        return HOW_TO_START

    def _repr_html_(self) -> str:
        """The page in a frame, and what to do where the frame stays empty."""
        if not self.address:
            return f"<p>{escape(HOW_TO_START)}</p>"
        address = escape(self.address, quote=True)
        return (
            f'<iframe src="{address}" title="Yuzen desk" width="100%" height="{HEIGHT_PX}" '
            'style="border: 1px solid #d3d6da"></iframe>'
            f'<p>The same page: <a href="{address}">open it by itself</a>. If both stay empty, '
            f"this notebook is on another machine. {escape(HOW_TO_START)}</p>"
        )


HOW_TO_START: Final = (
    'Write the brief, chart.write("routes.toml"), and run in a terminal on your machine: '
    "yuzen edit routes.toml"
)
