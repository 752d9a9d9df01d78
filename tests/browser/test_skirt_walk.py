"""A walk with a skirt from stock: weights alone stretch it between the legs of a stride; cleared for the pose, it falls."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.controls import by_hand
from tests.browser.test_walk import MINUTE, open_room
from tests.browser.test_work_walk import bench, open_step, take_off


@pytest.mark.slow("core/bind", "core/clearance", "core/clear", "web/src/bench", "web/src/rooms")
def test_a_skirt_falls_into_the_stride_it_is_cleared_for_and_hangs_as_before_elsewhere(page: Page, house):
    open_room(page, house)
    rail = page.get_by_role("region", name="Rail")
    take_off(page, "Oilskin coat")
    expect(rail).not_to_contain_text("Oilskin coat", timeout=MINUTE)
    by_hand(page)
    page.get_by_role("button", name="Stockroom").click()
    page.get_by_label("Search the stock").fill("ferry skirt")
    page.get_by_role("region", name="Stock", exact=True).get_by_role("button", name=re.compile("Ferry skirt")).first.click()
    page.get_by_role("button", name="Put on the rail").click()
    page.get_by_role("button", name="Fitting").click()
    rail.get_by_text("Ferry skirt").first.click(timeout=MINUTE)
    page.get_by_role("button", name="Fit the outfit").click()
    expect(bench(page)).to_contain_text(re.compile(r"ease \d+\.\d ± "), timeout=2 * MINUTE)
    open_step(page, "Bind")
    page.get_by_role("button", name="Bind it").click()
    expect(bench(page)).to_contain_text(re.compile(r"Shared by both legs.*Worst between them\s*[2-9]\.\d times", re.S), timeout=2 * MINUTE)
    page.get_by_role("button", name="Striding").click()
    open_step(page, "Clear")
    page.get_by_role("button", name="Clear it here").click(timeout=MINUTE)
    told = bench(page).get_by_text(re.compile(r"fell, stretched \d+\.\d → 1\.\d times"))
    expect(told).to_be_visible(timeout=3 * MINUTE)
    expect(page.get_by_role("heading", level=1)).to_contain_text("striding")
    expect(page.get_by_text(re.compile("^Holds"))).to_be_visible(timeout=MINUTE)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(told).to_have_count(0, timeout=MINUTE)
    take_off(page, "Ferry skirt")
