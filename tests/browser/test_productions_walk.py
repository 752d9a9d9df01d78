"""Two productions: what is done in one is not seen in the other, and an archive of one comes back as it was."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from demo import base_layer, coat
from tests.browser.conftest import House
from tests.browser.controls import choose, messages

NIGHT_POST = "The Reedmarsh Night Post"


@pytest.fixture
def tidy(page: Page, house: House):
    """What the walk begins is gone when it ends, and the demo's production is the one opened last again."""
    yield
    for line in page.request.get(f"{house.url}api/productions").json():
        if line["name"] != NIGHT_POST and line["binned_at"] is None:
            page.request.post(f"{house.url}api/productions/{line['id']}/bin")
        if line["name"] == NIGHT_POST:
            page.request.post(f"{house.url}api/productions/{line['id']}/open")
    page.request.delete(f"{house.url}api/productions/bin")


@pytest.mark.usefixtures("tidy")
def test_two_productions_keep_their_own_cast_and_rail_and_an_archive_comes_back_whole(page: Page, house: House, tmp_path: Path):
    page.goto(house.url)
    page.get_by_role("button", name=f"Open {NIGHT_POST}").click()
    expect(page.get_by_role("button", name=re.compile("Oilskin coat")).first).to_be_visible()
    expect(page).to_have_url(re.compile(r"/fitting\?production=\d+"))
    first = page.url

    page.get_by_role("button", name=f"Production: {NIGHT_POST}").click()
    page.get_by_role("menuitem", name="All productions").click()
    page.get_by_role("button", name="Begin a production").click()
    page.get_by_role("textbox", name="Name").fill("The Salt Road")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="First wearer")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Oilskin coat"))).to_have_count(0)
    expect(page.get_by_role("button", name="Corvane")).to_have_count(0)
    page.get_by_role("button", name="practice coat").click()
    expect(page.get_by_role("button", name=re.compile("Oilskin coat")).first).to_be_visible()
    second = page.url
    assert second != first

    page.goto(first)  # a pasted link leads into its own production
    expect(page.get_by_role("button", name="Corvane")).to_be_visible()
    expect(page.get_by_role("button", name="First wearer")).to_have_count(0)
    page.goto(f"{house.url}productions")

    card = page.get_by_role("listitem").filter(has_text=NIGHT_POST)
    expect(card).to_contain_text("3 wearers · 2 pieces · 5 poses")
    with page.expect_download() as saved:
        card.get_by_role("link", name="Archive").click()
    file = tmp_path / saved.value.suggested_filename
    saved.value.save_as(file)
    assert file.name == "the-reedmarsh-night-post.heron.zip"
    page.get_by_label("Unpack an archive").set_input_files(file)
    expect(messages(page)).to_contain_text("The archive is unpacked.")
    page.get_by_role("button", name=f"Open {NIGHT_POST} 2").click()
    expect(page.get_by_role("button", name="Old Moss")).to_be_visible()
    piece = page.get_by_role("button", name=re.compile("Oilskin coat")).first
    expect(piece).to_be_visible()
    piece.click()
    expect(page.get_by_role("region", name="Bench")).to_contain_text("Follow")  # with all that was done to it

    page.goto(f"{house.url}productions")
    copy = page.get_by_role("listitem").filter(has_text=f"{NIGHT_POST} 2")
    copy.get_by_role("button", name="Put into the bin").click()
    expect(page.get_by_role("button", name=f"Open {NIGHT_POST} 2")).to_have_count(0)
    page.get_by_role("button", name="Empty the bin").click()
    page.get_by_role("button", name="Delete 1 for good").click()
    expect(page.get_by_text(f"{NIGHT_POST} 2")).to_have_count(0)
    expect(page.get_by_role("button", name="Open The Salt Road")).to_be_visible()


@pytest.mark.usefixtures("tidy")
def test_each_wearer_has_an_outfit_on_the_sheet_shows_them_so_and_a_working_copy_takes_it_back(page: Page, house: House):
    page.goto(f"{house.url}fitting")
    page.get_by_role("button", name="Old Moss").click()
    page.get_by_role("button", name="Outfits").click()
    page.get_by_role("menuitem", name="Copy this outfit").click()
    page.get_by_role("textbox", name="Name").fill("Ferry, in the rain")
    page.get_by_role("button", name="Put it on").click()
    expect(page.get_by_role("combobox", name="What Old Moss has on")).to_contain_text("Ferry, in the rain")
    page.once("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name="Take Oilskin coat off the rail").click(force=True)
    expect(page.get_by_role("button", name=re.compile("Oilskin coat"))).to_have_count(0)
    cast = page.get_by_role("navigation", name="Cast")
    expect(cast.get_by_role("button", name=re.compile("Old Moss"))).to_contain_text("Ferry, in the rain")
    cast.get_by_role("button", name=re.compile("Ibbet")).click()
    expect(page.get_by_role("button", name=re.compile("Oilskin coat")).first).to_be_visible()  # hers is another outfit
    page.get_by_role("button", name="Outfits").click()
    page.get_by_role("menuitem", name="Compare with Ferry, in the rain").click()
    beside = page.get_by_role("region", name="Ibbet in Ferry, in the rain")  # measured as it stands there, whoever has it on
    expect(beside.get_by_text(re.compile(r"^(Holds|\d+ places? shows?)"))).to_be_visible(timeout=60_000)
    expect(page.locator("canvas")).to_have_count(2)
    beside.get_by_role("button", name="Stop comparing").click()
    expect(page.locator("canvas")).to_have_count(1)

    page.get_by_role("button", name="Unfold sheet").click()
    page.get_by_role("button", name="Measure the sheet").click()
    sheet = page.get_by_label("Trial sheet")
    expect(sheet.get_by_text("Ferry, in the rain")).to_be_visible()
    expect(page.get_by_text(re.compile(r"\d+ of 15 hold"))).to_be_visible(timeout=120_000)

    trial = page.request.get(f"{house.url}api/trials/latest").json()
    moss = next(w["id"] for w in page.request.get(f"{house.url}api/production").json()["cast"] if w["name"] == "Old Moss")
    over = {(c["wearer"] == moss, pair["over"]) for c in trial["cells"] for pair in c["figures"]["pairs"]}
    assert over == {(True, "Base layer"), (False, "Base layer"), (False, "Oilskin coat")}

    page.goto(f"{house.url}fitting")
    page.get_by_role("button", name=f"Production: {NIGHT_POST}").click()
    page.get_by_role("menuitem", name="Working copies").click()
    copies = page.get_by_role("dialog", name="Working copies")
    copies.get_by_role("button", name=re.compile("Before taking Oilskin coat off")).click()
    expect(copies.get_by_role("region", name="Before taking Oilskin coat off")).to_contain_text("gone since")
    copies.get_by_role("button", name="Go back to it").click()
    expect(messages(page)).to_contain_text("The production stands as in")
    page.get_by_role("button", name="Old Moss").click()
    expect(page.get_by_role("button", name=re.compile("Oilskin coat")).first).to_be_visible()
    choose(page.get_by_role("combobox", name="What Old Moss has on"), "First outfit")
    page.get_by_role("button", name="Outfits").click()
    page.get_by_role("menuitem", name="Delete Ferry, in the rain").click()
    expect(cast.get_by_text("Ferry, in the rain")).to_have_count(0)


@pytest.mark.usefixtures("tidy")
def test_two_files_dropped_together_become_an_outfit_of_a_production_of_their_own(page: Page, house: House):
    page.goto(house.url)
    page.get_by_role("button", name="Begin a production").click()
    page.get_by_role("textbox", name="Name").fill("The Salt Road")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="First wearer")).to_be_visible()
    page.get_by_label("Piece files").set_input_files([coat.FILE, base_layer.FILE])
    rail = page.get_by_role("region", name="Rail")
    cards = rail.get_by_role("button", name=re.compile("coat|layer", re.I)).filter(has_text=re.compile("ease"))
    expect(cards).to_have_count(2, timeout=120_000)
    expect(rail.get_by_text("working…")).to_have_count(0, timeout=120_000)
    expect(cards.nth(0)).to_contain_text("Oilskin coat")  # the outermost, though it came first
    expect(cards.nth(1)).to_contain_text("Base layer")
    cards.nth(0).click()
    expect(page.get_by_role("region", name="Bench")).to_contain_text(re.compile(r"Follow\s*\d+ shapes"))
