"""Walks over dressing: a newcomer's file is worn after one press."""

import re

import pytest
from playwright.sync_api import Page, expect

from demo.coat import FILE
from tests.browser.test_walk import MINUTE, measured, open_room, step

pytestmark = pytest.mark.browser


@pytest.mark.slow("studio/rail", "core/fit", "core/bind", "core/follow", "core/clear", "web/src/rooms/fitting", "web/src/bench")
def test_a_file_is_worn_after_one_press_and_its_steps_can_be_opened(page: Page, house):
    open_room(page, house)
    page.on("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name="Take Oilskin coat off the rail").click(force=True)
    expect(page.get_by_role("button", name="Take Oilskin coat off the rail")).to_have_count(0, timeout=MINUTE)
    page.get_by_label("Piece files").set_input_files([FILE, FILE.with_suffix(".mtl")])  # the one press
    results = {"Receive": "cm → m, Z up", "Fit": r"ease \d+\.\d ±", "Bind": r"\d+ joints · 4 max", "Follow": r"\d+ shapes"}
    for name, result in results.items():
        expect(step(page, name)).to_contain_text(re.compile(result), timeout=2 * MINUTE)
    assert measured(page).startswith("Holds")
    step(page, "Fit").click()
    expect(page.get_by_role("checkbox", name="rests on base layer too")).to_be_checked()
    page.locator("body").press("Control+z")
    expect(step(page, "Bind")).not_to_contain_text("joints", timeout=MINUTE)
