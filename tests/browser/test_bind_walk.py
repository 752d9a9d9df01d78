"""Walks over binding: a stray painted in, found and painted out on both sides; a lantern on a spring; the outfit on the whole cast."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.controls import choose
from tests.browser.test_walk import MINUTE, open_room
from tests.browser.test_work_walk import bench, open_step

pytestmark = pytest.mark.browser


def paint(page: Page, x: float, y: float) -> None:
    """Drag a little over the piece at a place of the stage given in shares of its size."""
    stage = page.locator("canvas").bounding_box()
    assert stage
    at = stage["x"] + x * stage["width"], stage["y"] + y * stage["height"]
    page.mouse.move(*at)
    page.wait_for_timeout(300)
    page.mouse.down()
    for k in range(1, 5):
        page.mouse.move(at[0] + 4 * k, at[1] + 2 * k)
        page.wait_for_timeout(120)
    page.mouse.up()


@pytest.mark.slow("core/bind", "core/follow", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_a_stray_is_found_shown_and_painted_out_on_both_sides(page: Page, house):
    open_room(page, house)
    page.get_by_role("region", name="Rail").get_by_text("Oilskin coat").first.click()
    page.locator("body").press("1")
    open_step(page, "Bind")
    page.get_by_role("tab", name="Brush").click(timeout=MINUTE)  # there is nothing to paint until the piece has been bound
    choose(page.get_by_label("Joint", exact=True), "skullbase", timeout=MINUTE)
    expect(page.get_by_text("lines every 20 %")).to_be_visible()  # the map has its legend
    strokes = page.get_by_role("list", name="Strokes on the weights")
    for _ in range(3):  # the piece comes with its new place; a busy machine draws it late
        paint(page, 0.53, 0.62)
        page.wait_for_timeout(2500)
        if strokes.count():
            break
    expect(strokes).to_contain_text("add skullbase", timeout=MINUTE)
    page.get_by_role("tab", name=re.compile("^Checks")).click()
    stray = bench(page).get_by_text(re.compile(r"head \(skullbase\), which is nowhere near")).first
    expect(stray).to_be_visible(timeout=MINUTE)
    page.get_by_role("button", name="Show").first.click()
    # paint it out again, both sides at once
    page.get_by_role("tab", name="Brush").click()
    expect(page.get_by_role("checkbox", name="both sides")).to_be_checked()
    page.get_by_role("button", name="Take", exact=True).click()
    page.get_by_role("slider", name="Strength").press("End")
    radius = page.get_by_role("slider", name="Radius")
    for _ in range(3):
        radius.press("PageUp")
    for _ in range(10):  # a busy machine draws the piece late, and a stroke on what was there before does not count
        paint(page, 0.53, 0.62)
        page.wait_for_timeout(2500)
        if "take skullbase" not in (strokes.text_content() or ""):
            continue
        page.get_by_role("tab", name=re.compile("^Checks")).click()
        page.wait_for_timeout(4000)
        if not stray.count():
            break
        page.get_by_role("tab", name="Brush").click()
        if page.get_by_role("button", name="Take", exact=True, pressed=False).count():
            page.get_by_role("button", name="Take", exact=True).click()
    expect(stray).to_have_count(0, timeout=MINUTE)
    page.keyboard.press("k")  # the bend test, by its key
    expect(page.get_by_role("columnheader", name="stretch")).to_be_visible(timeout=2 * MINUTE)
    page.get_by_role("table").get_by_role("button").first.click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("by hand")
    page.get_by_role("button", name="Back", exact=True).click()
    for _ in range(8):  # leave the demo as it was
        undo = page.get_by_role("button", name="Undo", exact=True)
        if not undo.is_enabled() or not strokes.count():
            break
        undo.click()
        page.wait_for_timeout(1500)
        page.get_by_role("tab", name="Brush").click()


@pytest.mark.slow("core/bind", "core/follow", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_a_lantern_swings_from_the_hand_and_the_outfit_goes_on_the_whole_cast(page: Page, house):
    open_room(page, house)
    page.get_by_role("button", name="Stockroom").click()
    page.get_by_label("Search the stock").fill("hand lantern")
    page.get_by_role("region", name="Stock", exact=True).get_by_role("button", name="Hand lantern").first.click(timeout=MINUTE)
    page.get_by_role("button", name="Put on the rail").click()
    page.get_by_role("button", name="Fitting").click()
    page.get_by_role("region", name="Rail").get_by_text("Hand lantern").first.click(timeout=MINUTE)
    open_step(page, "Bind")
    place, fit = (bench(page).get_by_role("button", name=re.compile(f"^{n}")).first for n in ("Place", "Fit"))
    expect(place).to_be_visible()
    page.get_by_role("button", name="Carry it by a joint").click(timeout=MINUTE)
    expect(page.get_by_label("Joint", exact=True)).to_have_attribute("data-value", "l_radiocarpal", timeout=MINUTE)
    page.get_by_role("checkbox", name="swings on a spring").click()  # it is ticked when the server has it
    expect(bench(page)).to_contain_text(re.compile(r"l_radiocarpal, 1 link of \d+\.\d cm"), timeout=MINUTE)
    expect(fit).to_be_visible()
    open_step(page, "Follow")
    page.get_by_role("button", name="Follow it").click()
    expect(bench(page)).to_contain_text("63 shapes", timeout=MINUTE)
    page.get_by_role("button", name="Wear on the cast").click()
    page.get_by_role("button", name=re.compile("Wear it on all")).click()
    panel = page.get_by_role("region", name="Wear on the cast")
    expect(panel.get_by_text("Old Moss")).to_be_visible(timeout=MINUTE)
    expect(panel.get_by_text("waiting")).to_have_count(0, timeout=2 * MINUTE)
    assert panel.get_by_text(re.compile("^(done|mended|needs you)")).count() >= 9
    page.once("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name="Take Hand lantern off the rail").click(force=True)
