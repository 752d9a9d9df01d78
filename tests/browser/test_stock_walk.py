"""Walks through the stockroom: a dressed body taken apart, and finding, dressing and swapping from stock."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.controls import by_hand, choose
from tests.browser.test_walk import MINUTE, open_room


@pytest.mark.slow("core/bodies", "studio/apart", "web/src/rooms/apart")
def test_a_dressed_body_is_taken_apart_into_a_wearer_and_its_clothes(page: Page, house):
    open_room(page, house)
    page.get_by_role("button", name="Stockroom").click()
    page.get_by_role("region", name="Dressed bodies").get_by_role("button", name=re.compile("ferryman-dressed")).click()
    parts = page.get_by_role("region", name="Parts")
    expect(parts).to_contain_text("the body")
    expect(page.get_by_label("Name of Linen top")).to_be_visible()
    swatches = [parts.get_by_label(f"Another colour for {name}").evaluate("e => getComputedStyle(e).backgroundColor")
                for name in ("Body", "Linen top", "Canvas bottom", "Wool felt footwear")]
    assert len({*swatches, "rgba(0, 0, 0, 0)"}) == 5  # each has a colour of its own
    stage = page.get_by_label("The dressed body and its parts")
    expect(stage.locator("canvas")).to_be_visible()
    page.wait_for_timeout(2500)  # the first picture of a software renderer
    box = stage.bounding_box()
    assert box is not None
    page.get_by_role("button", name="Lasso").click()
    page.mouse.move(box["x"] + box["width"] * 0.36, box["y"] + box["height"] * 0.74)
    page.mouse.down()
    for x, y in ((0.50, 0.74), (0.50, 0.93), (0.36, 0.93), (0.36, 0.74)):
        page.mouse.move(box["x"] + box["width"] * x, box["y"] + box["height"] * y, steps=6)
    page.mouse.up()
    chosen = page.get_by_role("toolbar", name="Chosen faces")
    expect(chosen).to_contain_text("faces", timeout=MINUTE)
    chosen.get_by_role("button", name="Grow").click()
    choose(chosen.get_by_label("Give the chosen faces to"), "new")
    expect(page.get_by_label("Name of New part")).to_be_visible(timeout=MINUTE)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Name of New part")).to_have_count(0, timeout=MINUTE)
    name = page.get_by_label("Name of Body")
    name.fill("Sexton Pike")
    name.press("Enter")
    expect(page.get_by_label("Name of Sexton Pike")).to_be_visible(timeout=MINUTE)
    page.get_by_role("button", name="Joints").click()
    expect(page.get_by_label("left elbow")).to_have_attribute("data-value", "ForeArm.L")
    page.get_by_role("button", name="Take out body and pieces").click()
    page.get_by_role("button", name="To the Fitting room").click(timeout=2 * MINUTE)
    expect(page.get_by_role("heading", level=1)).to_contain_text("Sexton Pike")
    rail = page.get_by_role("region", name="Rail")
    for piece in ("Linen top", "Canvas bottom", "Wool felt footwear"):
        expect(rail.get_by_text(piece, exact=True)).to_be_visible(timeout=MINUTE)
    page.keyboard.press("s")
    expect(page.get_by_role("slider", name="Stout")).to_be_visible()
    page.keyboard.press("s")
    rail.get_by_text("pieces made on other bodies").click()
    rail.get_by_role("button", name="Bring over").first.click()
    expect(rail.get_by_text(re.compile("Oilskin coat|Base layer")).first).to_be_visible(timeout=2 * MINUTE)


@pytest.mark.slow("studio/stock", "store/stock", "web/src/rooms/stock")
def test_a_piece_is_found_dressed_in_a_colourway_and_swapped(page: Page, house):
    open_room(page, house)
    by_hand(page)
    page.get_by_role("button", name="Stockroom").click()
    page.get_by_label("Search the stock").fill("scar")
    stock = page.get_by_role("region", name="Stock", exact=True)
    expect(stock.get_by_role("button", name="Scarf")).to_be_visible()
    page.get_by_role("region", name="Colourways").get_by_role("button", name="Grey").click()
    page.get_by_role("button", name="Put on the rail").click()
    worn = page.get_by_label("Colourway worn")
    expect(worn).to_have_attribute("data-value", "Grey", timeout=MINUTE)
    choose(worn, "")
    expect(page.get_by_role("button", name="Undo", exact=True).first).to_be_enabled(timeout=MINUTE)
    expect(worn).to_have_attribute("data-value", "", timeout=MINUTE)
    page.once("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name="Take Scarf off the rail").click(force=True)
    expect(page.get_by_role("button", name="Take Scarf off the rail")).to_have_count(0, timeout=MINUTE)


def test_many_are_chosen_filed_and_dressed_as_a_bundle(page: Page, house):
    open_room(page, house)
    page.get_by_role("button", name="Stockroom").click()
    page.get_by_label("Search the stock").fill("wool")
    stock = page.get_by_role("region", name="Stock", exact=True)
    stock.get_by_role("button", name="Mittens").click()
    stock.get_by_role("button", name="Knitted cap").click(modifiers=["Shift"])
    many = page.get_by_role("toolbar", name="2 chosen")
    many.get_by_label("A name: tag or bundle").fill("Frost")
    many.get_by_role("button", name="Bundle").click()
    bundles = page.get_by_role("region", name="Bundles")
    expect(bundles).to_contain_text("Frost", timeout=MINUTE)
    shelves = page.get_by_role("region", name="Own shelves")
    shelves.get_by_role("button", name="New shelf").click()
    shelves.get_by_label("Name of the new shelf").fill("Winter")
    shelves.get_by_label("Name of the new shelf").press("Enter")
    expect(shelves.get_by_role("button", name="Winter")).to_be_visible(timeout=MINUTE)
    bundles.get_by_role("button", name="Dress Frost").click()
    page.get_by_role("menuitem", name="Over what is worn").click()
    rail = page.get_by_role("region", name="Rail")
    for piece in ("Mittens", "Knitted cap"):
        expect(rail.get_by_text(piece, exact=True)).to_be_visible(timeout=MINUTE)
        page.once("dialog", lambda dialog: dialog.accept())
        page.get_by_role("button", name=f"Take {piece} off the rail").click(force=True)
        expect(page.get_by_role("button", name=f"Take {piece} off the rail")).to_have_count(0, timeout=MINUTE)
