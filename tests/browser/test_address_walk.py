"""Addresses of rooms, and the light of the page."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import House
from tests.browser.controls import messages


@pytest.mark.slow("web/src/app", "web/src/store", "web/src/rooms/fitting", "web/src/bench")
def test_back_a_reload_and_a_pasted_link_lead_to_the_same_wearer_pose_piece_and_step(page: Page, house: House):
    page.goto(f"{house.url}fitting")
    stage = page.get_by_label("Stage", exact=True)
    page.get_by_role("button", name="Corvane").click()
    page.get_by_role("button", name="Sitting").click()
    page.get_by_role("button", name="Oilskin coat").first.click()
    page.get_by_role("button", name="Bind", exact=False).first.click()
    here = re.compile(r"/fitting\?production=\d+&wearer=\d+&pose=sit&piece=\d+&step=bind$")
    expect(page).to_have_url(here)
    link = page.url

    page.get_by_role("button", name="Stockroom").click()
    expect(page).to_have_url(re.compile(r"/stock\?production=\d+$"))
    page.go_back()
    expect(page).to_have_url(link)
    _shown(page)
    page.go_back()  # the step is closed again, the piece is still in hand
    expect(page).to_have_url(re.compile(r"/fitting\?production=\d+&wearer=\d+&pose=sit&piece=\d+$"))
    page.go_forward()
    page.reload()
    _shown(page)

    other = page.context.new_page()
    other.goto(link)
    _shown(other)
    other.goto(link.replace("piece=", "piece=9"))
    expect(messages(other)).to_contain_text("in this address is no longer here")
    expect(stage).to_be_visible()


def _shown(page: Page) -> None:
    expect(page.get_by_role("heading", name=re.compile("Corvane"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Bind"))).to_have_attribute("aria-expanded", "true")
    expect(page.get_by_label("Bench")).to_contain_text("Oilskin coat")


@pytest.mark.slow("web/src/theme", "web/src/app", "web/src/stage")
def test_the_page_is_lit_as_the_system_is_and_as_the_artist_chose(page: Page, house: House):
    lamp = page.locator("html[data-lamp]")
    page.emulate_media(color_scheme="dark")
    page.goto(f"{house.url}fitting")
    expect(lamp).to_have_count(1)
    page.emulate_media(color_scheme="light")
    expect(lamp).to_have_count(0)
    page.get_by_role("button", name="Lamp light").click()
    page.reload()
    expect(lamp).to_have_count(1)
    page.get_by_role("button", name="Day light").click()
    page.reload()
    expect(lamp).to_have_count(0)
