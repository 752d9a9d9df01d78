"""The walk of the shots and of hiding by hand: what no shot sees is left, a hole is warned of before it opens and shown once it does."""

import math
import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.controls import choose
from tests.browser.test_clear_walk import measure, sheet_of
from tests.browser.test_walk import MINUTE, open_room, step

pytestmark = pytest.mark.browser


@pytest.mark.slow("core/clearance", "core/clear", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_what_no_shot_sees_is_told_apart_and_left_until_one_sees_it(page: Page, house):
    open_room(page, house)
    page.keyboard.press("1")  # the front
    page.get_by_role("button", name="Shots", exact=True).click()
    panel = page.get_by_role("region", name="Shots", exact=True)
    panel.get_by_role("button", name="Take this view as a shot").click()
    expect(panel.get_by_role("button", name=re.compile("^Shot 1"), pressed=True)).to_be_visible(timeout=MINUTE)
    panel.get_by_label("Name of the shot").fill("From the jetty")
    panel.get_by_label("Name of the shot").press("Enter")
    expect(panel.get_by_role("button", name=re.compile("^From the jetty"))).to_be_visible(timeout=MINUTE)
    sheet = measure(page)
    expect(sheet.get_by_role("button", name=re.compile("^Ibbet, kneeling: shows through"))).to_be_visible()
    choose(sheet.get_by_label("Counts"), "what the shots see")
    unseen = sheet.get_by_role("button", name="Ibbet, kneeling: shows where no shot sees it")
    expect(unseen).to_be_visible(timeout=MINUTE)
    unseen.click()
    step(page, "Clear").click()
    page.get_by_role("button", name="Why, and what would help?").click(timeout=MINUTE)
    why = page.get_by_role("region", name="Why")
    why.get_by_role("button", name="Do it: Leave it: no shot sees it").click(timeout=2 * MINUTE)
    expect(why.get_by_text("Left as it is: no shot sees it")).to_be_visible(timeout=MINUTE)
    # from behind it is seen, and counts again
    page.keyboard.press("3")
    panel.get_by_role("button", name="Take this view as a shot").click()
    expect(panel.get_by_role("button", name=re.compile("^Shot 2"), pressed=True)).to_be_visible(timeout=MINUTE)
    measure(page)
    choose(sheet_of(page).get_by_label("Counts"), "all that shows")
    expect(sheet.get_by_role("button", name=re.compile("^Ibbet, kneeling: shows through"))).to_be_visible(timeout=MINUTE)
    page.get_by_role("button", name="Fold the sheet").click()
    # a shot is dropped and taken back; looking round leaves it
    panel.get_by_role("button", name="Drop Shot 2").click()
    expect(panel.get_by_role("button", name=re.compile("^Shot 2"))).to_have_count(0, timeout=MINUTE)
    panel.get_by_role("button", name="Take it back").click()
    panel.get_by_role("button", name=re.compile("^Shot 2")).click(timeout=MINUTE)
    page.keyboard.press("e")
    expect(panel.get_by_role("button", name=re.compile("^Shot 2"), pressed=False)).to_be_visible()
    house.reset()


@pytest.mark.slow("core/clearance", "core/clear", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_a_hole_is_warned_of_before_it_opens_and_shown_once_it_does(page: Page, house):
    open_room(page, house)
    page.get_by_role("navigation", name="Poses").get_by_role("button", name=re.compile("^Standing")).click()
    page.get_by_role("button", name=re.compile("^Base layer")).first.click()
    step(page, "Clear").click()
    page.get_by_role("button", name="Draw round it to hide the skin under it").click(timeout=MINUTE)
    x, y = 530, 530  # the shins
    round_ = [(x + 60 * math.cos(t / 3), y + 40 * math.sin(t / 3)) for t in range(19)]
    page.mouse.move(*round_[0])
    page.mouse.down()
    for place in round_[1:]:
        page.mouse.move(*place)
    page.mouse.up()
    hide = page.get_by_role("region", name="Hide", exact=True)
    expect(hide.get_by_text("A hole would open in 15 of 15 cells")).to_be_visible(timeout=2 * MINUTE)
    hide.get_by_role("button", name="Hide it all the same").click()
    expect(hide.get_by_text(re.compile("^A hole of .* opens here: hidden skin can be missed"))).to_be_visible(timeout=2 * MINUTE)
    expect(page.get_by_text(re.compile(r"^A hole of [\d.]+ cm² opens$"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(hide.get_by_text("all there").first).to_be_visible(timeout=MINUTE)
    expect(page.get_by_text(re.compile("^A hole of"))).to_have_count(0, timeout=MINUTE)
    # the base layer where the coat covers it is left out by itself, and no cell misses it
    hide.get_by_role("button", name="Hide the unseen").last.click()
    expect(hide.get_by_text("hidden, seen in none of 15 cells")).to_be_visible(timeout=4 * MINUTE)
    expect(page.get_by_text(re.compile("^A hole of"))).to_have_count(0)
    house.reset()
