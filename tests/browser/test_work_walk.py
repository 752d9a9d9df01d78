"""Walks over the bench: rough place to fitted, sleeves cut, a hem freed, a glove grown, strokes by hand."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.controls import choose
from tests.browser.test_walk import MINUTE, open_room


def take_off(page: Page, name: str) -> None:
    page.once("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name=f"Take {name} off the rail").first.click(force=True)


def bench(page: Page):
    return page.get_by_role("region", name="Bench")


def open_step(page: Page, name: str) -> None:
    step = bench(page).get_by_role("button", name=re.compile(f"^{name}")).first
    if step.get_attribute("aria-expanded") != "true":
        step.click()


@pytest.mark.slow("core/fit", "core/work", "web/src/bench", "web/src/rooms/fitting", "web/src/stage")
def test_a_coat_goes_from_roughly_placed_to_fitted_cut_and_freed(page: Page, house):
    open_room(page, house)
    take_off(page, "Oilskin coat")  # the demo's own: two of a size are not worn over one another
    expect(page.get_by_role("button", name="Take Oilskin coat off the rail")).to_have_count(0, timeout=MINUTE)
    page.get_by_role("button", name="practice coat").click()  # 1
    expect(bench(page)).to_contain_text("· Artist", timeout=2 * MINUTE)  # the new piece, not the demo's of the same name
    expect(bench(page)).to_contain_text("cm → m", timeout=2 * MINUTE)
    open_step(page, "Place")  # 2
    up = page.get_by_label("Up, cm")
    up.fill("6")  # 3
    up.press("Enter")  # 4
    expect(bench(page)).to_contain_text("6.0 cm", timeout=MINUTE)
    open_step(page, "Fit")  # 5
    page.get_by_role("button", name="Fit it").click()  # 6: fitted, in fewer than ten actions
    expect(bench(page).get_by_text("Below the ease")).to_be_visible(timeout=2 * MINUTE)
    expect(bench(page)).to_contain_text(re.compile(r"ease\s*0 of \d+ vertices"))
    open_step(page, "Work")
    page.get_by_role("tab", name="Cut").click()
    choose(page.get_by_label("Shorten at"), "both cuff", timeout=MINUTE)
    page.get_by_role("button", name="Cut", exact=True).click()
    done = page.get_by_role("list", name="Alterations")
    expect(done).to_contain_text(re.compile(r"faces off.*faces off", re.S), timeout=2 * MINUTE)
    page.get_by_role("tab", name="Adjusters").click()  # the hem snags at the knee: it is raised
    hem = page.get_by_role("region", name="raise / drop").get_by_role("slider", name="Hem")
    hem.focus(timeout=MINUTE)
    for _ in range(12):
        page.keyboard.press("ArrowRight")
    expect(done).to_contain_text("Adjust 1", timeout=MINUTE)
    expect(done).to_contain_text(re.compile(r"1\.\d cm"), timeout=2 * MINUTE)
    page.keyboard.press("Control+z")
    expect(done).not_to_contain_text("Adjust 1", timeout=MINUTE)
    take_off(page, "Oilskin coat")


@pytest.mark.slow("core/work", "web/src/bench", "web/src/stage")
def test_a_pull_by_hand_moves_the_cloth_and_undoes(page: Page, house):
    open_room(page, house)
    page.get_by_role("region", name="Rail").get_by_text("Oilskin coat").first.click()
    open_step(page, "Work")
    page.get_by_role("tab", name="By hand").click()
    expect(page.get_by_role("button", name="Pull")).to_have_attribute("aria-pressed", "true")
    box = page.locator("canvas").first.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2 - 30, box["y"] + 360
    updated = re.compile(r"Last update \d+\.\d\s+ms")
    for _ in range(12):  # until the stage has drawn the cloth under the hand
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - 50, y, steps=6)
        try:
            expect(bench(page)).to_contain_text(updated, timeout=6_000)
            break
        except AssertionError:
            page.mouse.up()
            page.keyboard.press("1")  # a drag beside the cloth has turned the figure
    expect(bench(page)).to_contain_text(updated)
    page.mouse.up()
    done = page.get_by_role("list", name="Alterations")
    expect(done).to_contain_text("Pull", timeout=MINUTE)
    expect(page.get_by_role("region", name="Rail")).to_contain_text("ease 9 mm", timeout=2 * MINUTE)
    page.keyboard.press("Control+z")
    expect(done).to_have_count(0, timeout=MINUTE)


@pytest.mark.slow("core/receive", "web/src/bench", "web/src/rooms/fitting")
def test_gloves_are_grown_from_the_skin_and_follow_a_pose(page: Page, house):
    open_room(page, house)
    page.get_by_role("button", name="Grow from skin").click()
    page.get_by_role("button", name="Grow gloves").click()
    expect(page.get_by_role("region", name="Rail")).to_contain_text("Gloves", timeout=MINUTE)
    expect(bench(page)).to_contain_text("Gloves", timeout=MINUTE)
    expect(bench(page)).to_contain_text(re.compile(r"\d+ shapes"), timeout=2 * MINUTE)
    page.get_by_role("navigation", name="Poses").get_by_role("button", name="Kneeling").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("kneeling")
    take_off(page, "Gloves")
