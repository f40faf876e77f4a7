"""A headless Chromium for the page of the desk; tests that need one are skipped where there is none."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import axe_core_python
import pytest
from playwright.sync_api import Browser, Page, sync_playwright

CHROMIUM = shutil.which("chromium") or shutil.which("chromium-browser")
needs_chromium = pytest.mark.skipif(
    CHROMIUM is None, reason="needs Chromium (Debian: chromium); make page"
)
WITHOUT_NETWORK = (
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
)
AXE = (Path(axe_core_python.__file__).parent / "axe.min.js").read_text(encoding="utf-8")


@contextmanager
def browser() -> Iterator[Browser]:
    """A browser, closed at the end."""
    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=CHROMIUM, args=[*WITHOUT_NETWORK])
        yield browser
        browser.close()


@contextmanager
def page_at(browser: Browser, address: str, width: int = 1280, height: int = 800) -> Iterator[Page]:
    """The page at an address, once it is ready; whatever its script complains of fails the test."""
    context = browser.new_context(viewport={"width": width, "height": height})
    context.set_default_timeout(60_000)
    page = context.new_page()
    wrong: list[str] = []
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.on(
        "console",
        # A refusal of the server is shown on the page, and Chromium lists it here too.
        lambda said: (
            wrong.append(said.text)
            if said.type == "error" and "status of 4" not in said.text
            else None
        ),
    )
    page.goto(address)
    page.wait_for_selector("body[data-ready=yes]")
    yield page
    context.close()
    assert wrong == []


def axe_findings(page: Page) -> list[dict[str, Any]]:
    """What axe-core finds on a page as it is now."""
    page.evaluate(AXE)
    found: list[dict[str, Any]] = page.evaluate(
        "axe.run().then(found => found.violations.map(one => ({id: one.id, nodes: one.nodes.map(n => n.html + n.failureSummary)})))"
    )
    return found
