"""A walk with boots from stock: what comes through them is named whatever stands between on the rail, and a fit closes over them."""

import re

from playwright.sync_api import Page, expect

from tests.browser.test_walk import MINUTE, open_room
from tests.browser.test_work_walk import bench, open_step, take_off

_THROUGH = re.compile(r"−\d+\.\d mm over Skin, (left|right) (toes|knee)")


def test_skin_through_boots_is_named_and_fitting_closes_over_it(page: Page, house):
    open_room(page, house)
    rail = page.get_by_role("region", name="Rail")
    page.get_by_role("button", name="Stockroom").click()
    page.get_by_label("Search the stock").fill("felt boots")
    page.get_by_role("region", name="Stock", exact=True).get_by_role("button", name=re.compile("Felt boots")).first.click()
    page.get_by_role("button", name="Put on the rail").click()
    page.get_by_role("button", name="Fitting").click()
    rail.get_by_text("Felt boots").first.click(timeout=MINUTE)
    expect(rail).to_contain_text(re.compile(r"\d\.\d mm over Skin"), timeout=2 * MINUTE)  # received, not fitted: measured as it is shown
    open_step(page, "Place")
    page.get_by_label("Ahead, cm").fill("-4")
    page.get_by_label("Ahead, cm").press("Enter")
    expect(rail.get_by_text(_THROUGH)).to_be_visible(timeout=2 * MINUTE)
    expect(page.get_by_text(re.compile(r"deepest \d+\.\d mm, Felt boots over Skin, (left|right) (toes|knee)"))).to_be_visible()
    open_step(page, "Fit")
    page.get_by_role("button", name="Fit it").click()
    expect(bench(page)).to_contain_text(re.compile(r"ease \d+\.\d ± "), timeout=2 * MINUTE)
    expect(rail.get_by_text(_THROUGH)).to_have_count(0, timeout=MINUTE)
    for name in ("Bind", "Follow"):
        open_step(page, name)
        page.get_by_role("button", name=f"{name} it").click()
        expect(page.get_by_role("button", name="Take this step back")).to_be_visible(timeout=2 * MINUTE)
    page.get_by_role("button", name="Standing").click()
    expect(page.get_by_text(re.compile("^Holds · least clearance"))).to_be_visible(timeout=2 * MINUTE)
    # another order on the rail is another question: the coat under the base layer
    expect(rail).not_to_contain_text("over Oilskin coat")
    page.get_by_role("button", name="Wear Oilskin coat further in").click(force=True)
    expect(rail).to_contain_text(re.compile(r"mm over Oilskin coat"), timeout=2 * MINUTE)
    page.get_by_role("button", name="Wear Oilskin coat further out").click(force=True)
    expect(rail).not_to_contain_text("over Oilskin coat", timeout=2 * MINUTE)
    # another wearer: nothing is said until that cell is measured
    with page.expect_response(re.compile("/api/cell$")) as answer:
        page.get_by_role("button", name=re.compile("Corvane")).first.click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Corvane")
    assert answer.value.ok
    take_off(page, "Felt boots")
    expect(rail).not_to_contain_text("Felt boots", timeout=MINUTE)
