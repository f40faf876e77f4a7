"""The page of the desk in a browser, as somebody works on it."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator
from itertools import product
from pathlib import Path

import pandas as pd
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.support.browsing import axe_findings, browser, needs_chromium, page_at
from tests.support.desks import edited, served
from tests.support.sampling import a_sample_of
from yuzen.desk.edited_brief import EditedBrief
from yuzen.desk.server.serving import Desk

pytestmark = needs_chromium
SIZES = ((1280, 800), (390, 844), (900, 700))
DOINGS = ("nothing", "fault", "rule", "mark", "completion")


@pytest.fixture(scope="module")
def chromium() -> Iterator[Browser]:
    with browser() as opened:
        yield opened


@pytest.fixture
def desk(folder: Path) -> Iterator[Desk]:
    with served(edited(folder / "busiest.toml")) as desk:
        yield desk


@pytest.fixture
def page(chromium: Browser, desk: Desk) -> Iterator[Page]:
    with page_at(chromium, desk.address) as page:
        yield page


def holding(part: str) -> re.Pattern[str]:
    """A pattern for a text that holds a part."""
    return re.compile(re.escape(part))


def text_of(page: Page) -> str:
    return page.locator("#text").input_value()


def rules_of(page: Page) -> list[str]:
    return page.locator("#rules .choose b").all_inner_texts()


def colored(page: Page, color: str) -> int:
    """How many bars have a color, their own or that of their group."""
    fills = page.locator("#picture .bars [data-mark]").evaluate_all(
        "bars => bars.map(bar => bar.getAttribute('fill') ?? bar.parentElement.getAttribute('fill'))"
    )
    return int(fills.count(color))


def test_the_picture_follows_a_slider_that_is_moved(page: Page) -> None:
    assert colored(page, "#0A4A80") == 2
    slider = page.locator("#parameter-n")
    box = slider.bounding_box()
    assert box is not None
    y = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + box["width"] * 0.11, y)
    page.mouse.down()
    for step in range(1, 9):
        page.mouse.move(box["x"] + box["width"] * (0.11 + step * 0.05), y)
    for _ in range(400):  # the browser moves it once for each picture of the screen
        if float(slider.input_value()) > 8:
            break
        page.wait_for_timeout(50)
    page.mouse.up()
    n = int(float(slider.input_value()))
    expect(page.locator("#rules")).to_contain_text(f"Top {n} by passengers")
    expect(page.locator("#text")).to_have_value(holding(f"n = {n}\n"))
    assert colored(page, "#0A4A80") == n - int(n > 2) - sum(n > at for at in (16, 18, 19))
    # All of the way is one step back.
    page.locator("#undo").click()
    expect(page.locator("#text")).to_have_value(holding("n = 3\n"))
    expect(page.locator("#undo")).to_be_disabled()
    page.locator("#redo").click()
    expect(page.locator("#parameter-n-number")).to_have_value(str(n))
    slider.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator("#text")).to_have_value(holding(f"n = {n + 1}\n"))
    assert page.evaluate("document.activeElement.id") == "parameter-n"


def test_a_filter_keeps_rows_for_the_moment(page: Page, desk: Desk, routes: pd.DataFrame) -> None:
    page.get_by_label("Saltmarsh").check()
    ferries = routes[(routes["service"] == "ferry") & (routes["waters"] == "Saltmarsh")]
    expect(page.locator("#rows tr")).to_have_count(ferries["route"].nunique())
    assert "Saltmarsh" not in text_of(page)
    page.get_by_label("Saltmarsh").uncheck()
    expect(page.locator("#rows tr")).to_have_count(20)
    page.get_by_label("A picture for each").select_option("waters")
    expect(page.get_by_label("Shown")).to_have_value("Kestrel Sound")
    page.get_by_label("Kind").select_option("column")
    expect(page.locator("#text")).to_have_value(holding('kind     = "column"'))
    page.get_by_label("Theme").select_option("dusk")
    expect(page.locator("#text")).to_have_value(holding('theme = "dusk"'))
    assert desk.session.draft.place == 2


def test_a_wrong_word_is_told_at_its_line_and_undone(page: Page) -> None:
    area = page.locator("#text")
    area.focus()
    area.evaluate(
        "area => { const at = area.value.indexOf('negative'); area.setSelectionRange(at, at + 8); }"
    )
    page.keyboard.type("negativ")
    page.keyboard.press("Escape")
    fault = page.locator("#faults li")
    expect(fault).to_contain_text("Line 21")
    expect(page.locator("#gutter li.wrong")).to_have_text("21")
    expect(page.locator("#stale")).to_be_visible()
    expect(page.locator("#picture svg")).to_be_visible()
    page.locator("#faults button").click()
    assert (
        area.evaluate("area => area.value.slice(area.selectionStart, area.selectionEnd)")
        == 'when  = "surplus negativ"'
    )
    page.keyboard.press("Control+z")
    expect(page.locator("#faults li")).to_have_count(0)
    expect(page.locator("#stale")).to_be_hidden()


@pytest.mark.slow
def test_the_text_is_completed_by_the_keyboard(page: Page) -> None:
    area = page.locator("#text")
    area.focus()
    area.evaluate(
        "area => { const at = area.value.indexOf('surplus negative') + 8; area.setSelectionRange(at, at + 8); }"
    )
    page.keyboard.type("po")
    options = page.locator("#options li")
    expect(options.first).to_contain_text("positi")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    assert area.get_attribute("aria-activedescendant") == "option-1"
    page.keyboard.press("Enter")
    expect(page.locator("#options")).to_be_hidden()
    expect(area).to_have_value(holding('when  = "surplus positive"'))
    expect(page.locator("#rules")).to_contain_text("surplus positive")
    # With Ctrl and space it tells all keys of a section, and Tab leaves the text where none is shown.
    area.evaluate(
        "area => { const at = area.value.indexOf('[chart]\\n') + 8; area.setSelectionRange(at, at); }"
    )
    page.keyboard.press("Control+ ")
    expect(options.first).to_contain_text("kind = ")
    page.keyboard.press("Escape")
    page.keyboard.press("Tab")
    assert page.evaluate("document.activeElement.id") != "text"


@pytest.mark.slow
def test_letters_that_are_two_for_a_browser_are_one(page: Page) -> None:
    area = page.locator("#text")
    area.focus()
    area.evaluate("area => area.setSelectionRange(0, 0)")
    page.keyboard.insert_text("# 🛥🛥🛥 Ō\n")
    area.evaluate(
        "area => { const at = area.value.indexOf('surplus neg') + 8; area.setSelectionRange(at, at + 8); }"
    )
    page.keyboard.type("po")
    expect(page.locator("#options li").first).to_contain_text("positi")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(area).to_have_value(holding('when  = "surplus position"'))
    expect(area).to_have_value(holding("# 🛥🛥🛥 Ō\n"))


def test_pointing_at_a_mark_or_a_row_tells_why(page: Page) -> None:
    page.locator("#picture [data-mark='2']").first.hover()
    reasons = page.locator("#reasons")
    expect(reasons).to_contain_text("Brinewick")
    expect(reasons).to_contain_text("loss decides: surplus −16,890 is negative")
    expect(reasons).to_contain_text("busiest also holds: passengers 48,980 ranks 3 of 20")
    expect(page.locator("#rows tr.pointed")).to_contain_text("Brinewick")
    page.locator("#rows tr").nth(4).hover()
    expect(reasons).to_contain_text("Sandsend Ferry")
    expect(page.locator("#picture .pointed").first).to_have_attribute("data-mark", "4")


@pytest.mark.slow
def test_a_mark_answers_under_its_number(chromium: Browser, folder: Path) -> None:
    for brief in ("ledger", "seasons", "waters", "shares", "waves", "quadrants"):
        with (
            served(edited(folder / f"{brief}.toml")) as desk,
            page_at(chromium, desk.address) as page,
        ):
            mark = page.locator("#picture [data-mark='3']").first
            box = mark.bounding_box()
            assert box is not None
            mark.hover(force=True)
            name = desk.session.stages.judged.called[3]
            if brief != "waves":  # where the middle of a stretch may be nearer to another
                expect(page.locator("#reasons h3")).to_have_text(name)


def test_the_keyboard_reaches_every_mark_and_every_row(page: Page) -> None:
    page.locator("#picture").focus()
    reasons = page.locator("#reasons h3")
    for name in ("Cinderquay", "Gullhaven", "Brinewick"):
        page.keyboard.press("ArrowRight")
        expect(reasons).to_have_text(name)
    page.keyboard.press("End")
    expect(reasons).to_have_text("Quarrel Head")
    page.keyboard.press("Enter")
    page.locator("#rows button").first.focus()
    page.keyboard.press("ArrowDown")
    expect(reasons).to_have_text("Gullhaven")


@pytest.mark.slow
def test_a_rule_shows_its_marks_its_numbers_and_its_limit(page: Page) -> None:
    page.locator("#rules .choose").first.click()
    reasons = page.locator("#reasons")
    expect(reasons).to_contain_text("It holds for 4 bars of 20.")
    expect(reasons).to_contain_text("At its limit: −2,891 is flagged, 959 is not.")
    expect(page.locator("#rows tr")).to_have_count(4)
    assert page.locator("#picture .of-rule").count() == 4
    page.locator("#picture text.key.answers", has_text="Top 3").click()
    expect(reasons).to_contain_text("An earlier rule decides 1 by “loss”.")
    expect(page.locator("#rows tr")).to_have_count(3)


def test_a_rule_is_built_by_lists_both_ways(page: Page) -> None:
    page.get_by_label("Test 1, subject").select_option("complaints")
    expect(page.locator("#condition")).to_have_value("complaints top 3")
    page.get_by_label("Test 1, claim").select_option("above {quantity}")
    page.get_by_label("Test 1, peers").select_option("waters")
    expect(page.locator("#condition")).to_have_value("complaints above average within waters")
    expect(page.locator("#tried")).to_contain_text("It holds for")
    page.locator("#condition").fill("surplus at most 1000 and not in top n")
    page.keyboard.press("Tab")
    expect(page.get_by_label("Test 1, value 1")).to_have_value("1000")
    expect(page.get_by_label("Test 2, yes or no")).to_have_value("not")
    expect(page.locator("#tried")).to_contain_text("“loss” decides 3 of them")
    page.locator("#condition").fill("surplus at mosst 1000")
    page.keyboard.press("Tab")
    expect(page.locator("#tried")).to_contain_text("I cannot read")
    expect(page.locator("#add-rule")).to_be_disabled()
    page.locator("#condition").fill("fares lowest")
    page.keyboard.press("Tab")
    expect(page.locator("#add-rule")).to_be_enabled()
    page.locator("#add-rule").click()
    expect(page.locator("#rules .choose")).to_have_count(3)
    assert tomllib.loads(text_of(page))["rule"][2] == {"when": "fares lowest", "color": "notice"}
    assert text_of(page).index("fares lowest") < text_of(page).index("[[reference]]")


@pytest.mark.slow
def test_the_condition_of_a_rule_is_changed_by_lists(page: Page) -> None:
    page.get_by_label("Change “busiest” by lists").click()
    page.get_by_label("Test 1, claim").select_option("bottom {amount}")
    expect(page.locator("#text")).to_have_value(holding('when  = "bottom n"'))
    page.locator("#undo").click()
    expect(page.get_by_label("Test 1, claim")).to_have_value("top {amount}")
    page.locator("#sentence-done").click()
    expect(page.locator("#sentence h3")).to_have_text("A new rule")


def test_rules_are_put_in_another_order_by_dragging_and_by_keys(page: Page) -> None:
    assert colored(page, "#C63E2F") == 4
    page.locator("#rules li").nth(1).drag_to(page.locator("#rules li").nth(0))
    expect(page.locator("#rules .choose b").first).to_contain_text("Top 3")
    expect(page.locator("#rules")).to_contain_text("1 taken by “busiest”")
    assert colored(page, "#C63E2F") == 3
    assert text_of(page).index('busiest"') < text_of(page).index('name  = "loss"')
    page.locator("#rule-0-down").focus()
    page.keyboard.press("Enter")
    expect(page.locator("#rules .choose b").first).to_contain_text("Runs at a loss")
    assert rules_of(page) == ["Runs at a loss", "Top 3 by passengers"]
    page.get_by_label("Take “busiest” out").click()
    expect(page.locator("#faults")).to_contain_text("busiest")


def test_saving_reloading_and_taking_up_again(
    chromium: Browser, page: Page, desk: Desk, folder: Path
) -> None:
    brief = folder / "busiest.toml"
    before = brief.read_text()
    page.locator("#parameter-n-number").fill("7")
    page.keyboard.press("Enter")
    expect(page.locator("#saved")).to_have_text("Not saved")
    page.reload()
    page.wait_for_selector("body[data-ready=yes]")
    expect(page.locator("#parameter-n-number")).to_have_value("7")
    assert brief.read_text() == before
    desk.session.keep()
    with served(edited(brief)) as again, page_at(chromium, again.address) as other:
        expect(other.locator("#notices")).to_contain_text("was not saved")
        expect(other.locator("#parameter-n-number")).to_have_value("3")
        other.locator("#take-kept").click()
        expect(other.locator("#parameter-n-number")).to_have_value("7")
    page.keyboard.press("Control+s")
    expect(page.locator("#saved")).to_have_text("Saved")
    assert brief.read_text() == before.replace("n = 3", "n = 7")
    assert not (folder / "busiest.toml.unsaved").exists()


@pytest.mark.slow
def test_a_file_that_changed_meanwhile_is_told_with_both_versions(page: Page, folder: Path) -> None:
    brief = folder / "busiest.toml"
    page.locator("#parameter-n-number").fill("7")
    page.keyboard.press("Enter")
    theirs = brief.read_text().replace("n = 3", "n = 5")
    brief.write_text(theirs)
    expect(page.locator("#notices")).to_contain_text("Another program has changed busiest.toml.")
    page.locator("#versions").click()
    shown = page.locator("#asked pre").all_inner_texts()
    assert ["n = 7" in shown[0], "n = 5" in shown[1]] == [True, True]
    assert page.locator("#asked mark").all_inner_texts() == ["n = 7", "n = 5"]
    assert axe_findings(page) == []
    page.locator("#take-disk").click()
    expect(page.locator("#parameter-n-number")).to_have_value("5")
    page.locator("#undo").click()
    expect(page.locator("#parameter-n-number")).to_have_value("7")
    brief.write_text(theirs + "# more\n")
    expect(page.locator("#versions")).to_be_visible()
    page.locator("#save").click()
    page.locator("#keep-own").click()
    expect(page.locator("#saved")).to_have_text("Saved")
    assert "n = 7" in brief.read_text()


@pytest.mark.slow
def test_copies_pictures_and_python(page: Page, folder: Path) -> None:
    page.locator("#save-picture").click()
    page.locator("#file-name").fill("now.png")
    page.locator("#write-file").click()
    expect(page.locator("#notices")).to_contain_text("now.png")
    assert (folder / "now.png").read_bytes().startswith(b"\x89PNG")
    page.locator("#save-copy").click()
    page.locator("#file-name").fill("../else.toml")
    page.locator("#write-file").click()
    expect(page.locator("#notices")).to_contain_text("Files are written in")
    assert not (folder.parent / "else.toml").exists()
    page.locator("#python").click()
    expect(page.locator("#copied")).to_contain_text("yz.chart(")


@pytest.mark.slow
def test_two_pages_of_a_session_are_in_step(chromium: Browser, page: Page, desk: Desk) -> None:
    with page_at(chromium, desk.address) as other:
        page.locator("#parameter-n-number").fill("9")
        page.keyboard.press("Enter")
        expect(other.locator("#parameter-n-number")).to_have_value("9")
        other.locator("#undo").click()
        expect(page.locator("#parameter-n-number")).to_have_value("3")
        expect(page.locator("#text")).to_have_value(holding("n = 3\n"))


@pytest.mark.parametrize(("size", "doing"), a_sample_of(list(product(SIZES, DOINGS)), every=7))
def test_axe_finds_nothing(
    chromium: Browser, desk: Desk, size: tuple[int, int], doing: str
) -> None:
    with page_at(chromium, desk.address, *size) as page:
        if doing == "fault":
            page.locator("#text").fill("[chart")
            expect(page.locator("#faults li")).to_have_count(1)
        elif doing == "rule":
            page.locator("#rules .choose").first.click()
            expect(page.locator("#reasons")).to_contain_text("It holds for")
        elif doing == "mark":
            page.locator("#picture").focus()
            page.keyboard.press("ArrowRight")
            expect(page.locator("#reasons h3")).to_have_text("Cinderquay")
        elif doing == "completion":
            page.locator("#text").focus()
            page.keyboard.press("Control+ ")
            expect(page.locator("#options")).to_be_visible()
        assert axe_findings(page) == []
        wide = page.evaluate("[document.documentElement.scrollWidth, innerWidth]")
        assert wide[0] <= wide[1]


def test_the_tab_key_goes_through_the_places_in_their_order(page: Page) -> None:
    page.locator("#called").evaluate("element => { element.tabIndex = -1; element.focus(); }")
    visited = []
    for _ in range(60):
        page.keyboard.press("Tab")
        name = page.evaluate(
            "(e => e === document.body ? '' : e.id || e.closest('[id]')?.id || e.tagName)(document.activeElement)"
        )
        if not name:
            break
        visited.append(name)
    # Undo and Redo have nothing to do yet.
    assert visited[:3] == ["save-copy", "save-picture", "python"]
    wanted = [
        "picture",
        "text",
        "choice-theme",
        "parameter-n",
        "rule-0",
        "condition",
        "add-rule",
        "which",
    ]
    places = [visited.index(name) for name in wanted]
    assert places == sorted(places)
    assert visited.count("text") == 1


@pytest.mark.slow
def test_names_in_the_rows_are_shown_as_text(chromium: Browser, tmp_path: Path) -> None:
    hostile = [
        "<img src=x onerror=alert(1)>",
        '"><script>alert(1)</script>',
        "a & b </svg><script>",
        "\u202eabc",
    ]
    rows = pd.DataFrame(
        {"route": hostile, "fares": [4.0, -3.0, 2.0, 1.0], "waters": ["<b>x</b>"] * 2 + ["y"] * 2}
    )
    text = (
        '[chart]\ncategory = "route"\nvalue = "fares"\n[[rule]]\nname = "<i>n</i>"\n'
        'when = "negative"\ncolor = "adverse"\n'
    )
    with (
        served(EditedBrief("h.toml", text, tmp_path, source=rows)) as desk,
        page_at(chromium, desk.address) as page,
    ):
        asked = []
        page.on("dialog", lambda dialog: asked.append(dialog.message))
        page.locator("#picture [data-mark]").first.hover()
        page.locator("#rules .choose").click()
        expect(page.locator("#rows")).to_contain_text("script>alert(1)</script>")
        expect(page.locator("#movers")).to_contain_text("<b>x</b>")
        assert (
            page.locator("#picture script, #rows img, main script, main b b, main i").count() == 0
        )
        assert asked == []


@pytest.mark.slow
def test_a_chart_of_five_thousand_marks_answers(chromium: Browser, tmp_path: Path) -> None:
    numbers = range(5000)
    rows = pd.DataFrame({
        "pier": [f"Pier {n}" for n in numbers], "fares": [(n * 7919) % 10007 for n in numbers],
        "cost": [(n * 104729) % 9973 for n in numbers],
    })  # fmt: skip
    text = (
        '[parameters]\nn = 3\n[chart]\nkind = "scatter"\ncategory = "pier"\nvalue = "fares"\nacross = "cost"\n'
        '[[rule]]\nwhen = "top n"\ncolor = "adverse"\n'
    )
    with (
        served(EditedBrief("m.toml", text, tmp_path, source=rows)) as desk,
        page_at(chromium, desk.address) as page,
    ):
        expect(page.locator("#rows tr")).to_have_count(100)
        page.locator("#more").click()
        expect(page.locator("#rows tr")).to_have_count(200)
        page.locator("#which").select_option("0")
        expect(page.locator("#rows tr")).to_have_count(3)
        page.locator("#parameter-n-number").fill("20")
        page.keyboard.press("Enter")
        expect(page.locator("#rows tr")).to_have_count(20)
        top = rows.sort_values("fares", ascending=False)["pier"].iloc[:20]
        assert set(page.locator("#rows button").all_inner_texts()) == set(top)
