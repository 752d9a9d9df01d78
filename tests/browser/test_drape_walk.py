"""The walk of the drape step: a coat in oilskin goes into a stride, its hem is pulled, a frame is kept."""

import re

import numpy as np
import pytest
from playwright.sync_api import Page, expect
from pxr import Usd, UsdGeom
from scipy.spatial import KDTree

from tests.browser.controls import by_hand, choose
from tests.browser.test_walk import MINUTE, do, open_room, step

pytestmark = pytest.mark.browser
VERDICT = re.compile(r"^Holds ·|places? shows? through")


@pytest.mark.slow("core/drape", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_a_coat_falls_is_pulled_scrubbed_and_kept(page: Page, house):
    open_room(page, house)
    page.get_by_role("button", name=re.compile("^Striding")).click()
    step(page, "Drape").click()
    choose(page.get_by_role("combobox", name="Fabric"), "oilskin")
    expect(page.get_by_text("330 g/m²")).to_be_visible()
    expect(page.get_by_text(VERDICT)).to_be_visible(timeout=MINUTE)  # the coat is there to be clicked
    # its two sides strapped together at the hem, a spot of the front stiffened
    box = page.locator("canvas").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + 0.55 * box["height"]
    page.get_by_role("button", name="Strap").click()
    expect(page.get_by_text("Click the piece…")).to_be_visible()
    page.mouse.click(x - 20, y)
    expect(page.get_by_text("Click where the strap goes…")).to_be_visible()
    page.mouse.click(x + 20, y)
    expect(page.get_by_text("buttoned")).to_be_visible()
    page.get_by_role("button", name="Stiffen").click()
    page.mouse.click(x, y - 60)
    expect(page.get_by_text("Stiff part 1, times")).to_be_visible()
    # across the breast it is tacked all along a stroke, loosely
    page.get_by_role("button", name="Tack").click()
    expect(page.get_by_text("Click the piece, or stroke over it…")).to_be_visible()
    page.mouse.move(x - 25, y - 110)
    page.mouse.down()
    page.mouse.move(x + 25, y - 110, steps=8)
    page.mouse.up()
    follows = page.get_by_role("slider", name="Tack 1, how far it follows")
    follows.press("ArrowLeft")
    expect(page.get_by_text("95 % a frame")).to_be_visible()
    choose(page.get_by_label("Tack 1 to"), "under")
    page.get_by_role("button", name="Let it fall").click()
    expect(page.get_by_text("Falling cloth is measured once it is kept.")).to_be_visible(timeout=MINUTE)
    frames = page.get_by_text(re.compile(r"^Frame \d+ of 72$"))
    expect(frames).to_be_visible(timeout=MINUTE)
    # the pointer takes hold of the hem while it falls
    y = box["y"] + 0.62 * box["height"]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 60, y - 20, steps=3)
    page.wait_for_timeout(1500)
    page.mouse.up()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_role("button", name="Go on")).to_be_visible()
    page.get_by_role("button", name="Go on").click()
    expect(page.get_by_text("Frame 72 of 72")).to_be_visible(timeout=3 * MINUTE)
    # seen again at its own pace, and held
    page.get_by_role("button", name="Replay").click()
    expect(page.get_by_text(re.compile(r"^Frame (\d|1\d) of 72$"))).to_be_visible(timeout=MINUTE)
    page.get_by_role("button", name="Hold").click()
    shown = page.get_by_text(re.compile(r"^Frame \d+ of 72$"))
    at = shown.inner_text()
    page.wait_for_timeout(300)
    expect(shown).to_have_text(at)
    page.get_by_role("slider", name=re.compile("^Frame")).press("End")
    expect(page.get_by_text("Frame 72 of 72")).to_be_visible(timeout=MINUTE)
    # back a frame, then that one is kept
    page.get_by_label("Frame 72 of 72").press("ArrowLeft")
    expect(page.get_by_text("Frame 71 of 72")).to_be_visible(timeout=MINUTE)
    choose(page.get_by_label("Shows"), "strain")
    expect(page.get_by_text("10 % stretched")).to_be_visible()
    choose(page.get_by_label("Shows"), "contact")
    expect(page.get_by_text("24 mm over what is under")).to_be_visible()
    page.get_by_role("button", name="Keep this frame").click()
    expect(page.get_by_text("oilskin, 71 frames")).to_be_visible(timeout=MINUTE)
    expect(step(page, "Drape")).to_contain_text("oilskin, 1 kept")
    expect(page.get_by_text(VERDICT)).to_be_visible(timeout=MINUTE)
    # and taken back
    page.get_by_role("button", name="Take all draping back").click()
    expect(page.get_by_text("oilskin, 71 frames")).to_have_count(0, timeout=MINUTE)


@pytest.mark.slow("core/drape", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_fabrics_are_hung_beside_each_other_and_a_pose_is_baked(page: Page, house):
    open_room(page, house)
    step(page, "Drape").click()
    page.get_by_role("button", name="Swatch").click()
    hung = page.get_by_role("region", name="Swatches")
    choose(hung.get_by_role("combobox"), "leather")
    expect(hung.get_by_role("img", name="A round of leather over a stand")).to_be_visible(timeout=2 * MINUTE)
    expect(hung.get_by_role("img", name="A round of linen over a stand")).to_be_visible(timeout=2 * MINUTE)
    shares = [float(x) for x in re.findall(r"drape (\d+) %", hung.inner_text())]
    assert shares[1] > shares[0] + 10  # leather stands off, linen hangs
    page.get_by_role("button", name="Swatch").click()
    # heavier linen, kept for the studio under a name of its own, then forgotten
    page.get_by_role("button", name="Alter", exact=True).click()
    page.get_by_label("Weight, g/m²").fill("300")
    page.get_by_label("Weight, g/m²").press("Enter")
    page.get_by_label("Name of the fabric").fill("Marsh linen")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("One of the studio's own.")).to_be_visible(timeout=MINUTE)
    choose(page.get_by_role("combobox", name="Fabric"), "linen")
    choose(page.get_by_role("combobox", name="Fabric"), "Marsh linen")
    expect(page.get_by_label("Weight, g/m²")).to_have_value("300")
    page.get_by_role("button", name="Forget it").click()
    page.get_by_role("combobox", name="Fabric").click()
    expect(page.get_by_role("option", name="Marsh linen", exact=True)).to_have_count(0)
    page.keyboard.press("Escape")
    choose(page.get_by_role("combobox", name="Fabric"), "linen")
    page.get_by_role("button", name="Fewer").click()
    baking = page.get_by_role("region", name="Baking")
    for name in ("Standing", "Reaching up", "Sitting", "Kneeling"):
        baking.get_by_label(name).uncheck()
    expect(baking.get_by_text(re.compile("72 frames.*MB of correctives"))).to_be_visible()
    baking.get_by_role("button", name="Bake one pose").click()
    expect(baking.get_by_text("Baking striding, 1 of 1")).to_be_visible(timeout=MINUTE)
    expect(baking.get_by_label("Striding, kept")).to_be_visible(timeout=4 * MINUTE)
    expect(step(page, "Drape")).to_contain_text("linen, 1 kept")
    page.get_by_role("button", name="Take all draping back").click()
    expect(baking.get_by_label("Striding, kept")).to_have_count(0, timeout=MINUTE)


@pytest.mark.slow("core/drape", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_a_coat_flies_in_the_wind_while_rowing_over_what_falls_along(page: Page, house):
    open_room(page, house)
    step(page, "Drape").click()
    choose(page.get_by_role("combobox", name="Fabric"), "oilskin")
    falls = page.get_by_role("combobox", name="Falls", exact=True)
    choose(falls, re.compile("through row"), MINUTE)
    page.get_by_label("Let Base layer fall too").check()
    choose(page.get_by_role("combobox", name="Base layer in"), "fine knit")
    wind = page.get_by_role("slider", name="Wind")
    wind.press("End")
    expect(page.get_by_text("15.0 m/s")).to_be_visible()
    for _ in range(8):
        wind.press("ArrowLeft")
    expect(page.get_by_text("11.0 m/s")).to_be_visible()
    page.get_by_role("slider", name="Substeps a frame").press("Home")
    page.get_by_role("button", name="Let it fall").click()
    expect(page.get_by_text(re.compile(r"^Frame (49|5\d) of"))).to_be_visible(timeout=3 * MINUTE)
    page.get_by_role("button", name="Stop", exact=True).click()
    page.get_by_role("button", name="Keep all").click()
    falls = page.get_by_role("region", name="Kept falls")
    expect(falls.get_by_text(re.compile(r"^\d\.\d s, \d+\.\d MB$"))).to_be_visible(timeout=MINUTE)
    page.get_by_role("button", name="Keep this frame").click()
    kept = page.get_by_role("region", name="Bench").get_by_text(re.compile(r"^row, frame \d\d$"))
    expect(kept).to_be_visible(timeout=MINUTE)
    # the base layer has kept its own: one step of the same fall
    page.get_by_role("button", name=re.compile("^Base layer")).first.click()
    expect(page.get_by_role("region", name="Bench").get_by_text("fine knit, 1 kept")).to_be_visible(timeout=MINUTE)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    page.get_by_role("button", name=re.compile("^Oilskin coat")).first.click()
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(kept).to_be_hidden(timeout=MINUTE)
    # the whole fall is seen again, put back, and dropped
    falls.get_by_role("button", name="oilskin, row", exact=True).click()
    expect(page.get_by_text(re.compile(r"^Frame 1 of \d\d$"))).to_be_visible(timeout=MINUTE)
    expect(page.get_by_role("button", name="Keep this frame")).to_be_disabled()
    page.get_by_role("slider", name=re.compile("^Frame")).press("End")
    expect(page.get_by_text(re.compile(r"^Frame (\d\d) of \1$"))).to_be_visible()
    page.get_by_role("button", name="Put it back").click()
    falls.get_by_role("button", name="Drop oilskin, row").click()
    expect(falls).to_be_hidden(timeout=MINUTE)


@pytest.mark.slow("core/drape", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_a_lantern_sash_over_the_coat_holds_by_friction_and_slips_without(page: Page, house):
    open_room(page, house)
    by_hand(page)
    page.get_by_role("button", name="Stockroom").click()
    page.get_by_label("Search the stock").fill("sash")
    page.get_by_role("region", name="Stock", exact=True).get_by_role("button", name="Lantern sash").click()
    page.get_by_role("button", name="Put on the rail").click()
    do(page, "Place", "as it came")
    step(page, "Fit").click()
    page.get_by_label(re.compile("rests on oilskin coat")).check()
    expect(step(page, "Fit")).to_contain_text("ease", timeout=MINUTE)
    do(page, "Bind", "joints")
    step(page, "Drape").click()
    choose(page.get_by_role("combobox", name="Fabric"), "boat cloth")
    page.get_by_role("slider", name="Worn at the top").press("Home")  # nothing holds it but what it lies on
    box = page.locator("canvas").bounding_box()
    assert box
    page.get_by_role("button", name="Gather").click()
    for high in (0.38, 0.37, 0.39):  # the sash is a narrow band
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + high * box["height"])
    drawn = page.get_by_role("slider", name="Gather 1, drawn in to")
    expect(drawn).to_be_visible()
    for _ in range(5):
        drawn.press("ArrowRight")
    expect(page.get_by_text("80 %", exact=True)).to_be_visible()
    page.get_by_role("button", name="Alter", exact=True).click()
    sunk = []
    for friction in ("1.2", "0.05"):
        page.get_by_label("Friction").fill(friction)
        page.get_by_label("Friction").press("Enter")
        page.get_by_role("button", name=re.compile("^Let it fall$|^From the start$")).click()
        expect(page.get_by_text("Frame 72 of 72")).to_be_visible(timeout=3 * MINUTE)
        sunk.append(float(re.findall(r"lies ([\d.]+) cm lower", page.get_by_text(re.compile("^Strain")).inner_text())[0]))
    assert sunk[0] < 6
    assert sunk[1] > sunk[0] + 5
    page.get_by_role("button", name="Put it back").click()
    page.once("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name="Take Lantern sash off the rail").click(force=True)
    expect(page.get_by_role("button", name="Take Lantern sash off the rail")).to_have_count(0, timeout=MINUTE)


@pytest.mark.slow("core/drape", "web/src/bench", "web/src/rooms", "web/src/stage")
def test_the_oilskin_coat_slit_in_front_is_thrown_open_by_the_wind_while_rowing(page: Page, house, tmp_path):
    open_room(page, house)
    step(page, "Work").click()
    page.get_by_role("tab", name="Cut").click()
    loose = page.get_by_text(re.compile("^Loose parts"))
    loose.click(timeout=MINUTE)
    page.get_by_role("button", name="Take all of them off").click()
    expect(loose).to_have_count(0, timeout=MINUTE)
    expect(page.get_by_text(VERDICT)).to_be_visible(timeout=MINUTE)
    # a line down the front, from under the collar over the hem
    page.get_by_role("button", name="Draw a cut").click()
    box = page.locator("canvas").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, lambda share: box["y"] + share * box["height"]
    page.mouse.move(x, y(0.22))
    page.mouse.down()
    for share in np.linspace(0.24, 0.66, 22):
        page.mouse.move(x, y(share), steps=2)
    page.mouse.up()
    page.get_by_role("button", name="Open as a slit").click()
    expect(page.get_by_role("list", name="Alterations")).to_contain_text("opened", timeout=MINUTE)
    expect(step(page, "Bind")).to_contain_text("joints", timeout=MINUTE)
    step(page, "Drape").click()
    choose(page.get_by_role("combobox", name="Fabric"), "oilskin")
    falls = page.get_by_role("combobox", name="Falls", exact=True)
    choose(falls, re.compile("through row"), MINUTE)
    page.get_by_role("slider", name="Wind").press("End")
    for _ in range(12):
        page.get_by_role("slider", name="Wind").press("ArrowLeft")
    expect(page.get_by_text("9.0 m/s")).to_be_visible()
    page.get_by_role("slider", name="Substeps a frame").press("Home")
    page.get_by_role("button", name="Let it fall").click()
    told = page.get_by_text(re.compile(r"^Frame (7[2-9]|[89]\d) of"))
    expect(told).to_be_visible(timeout=4 * MINUTE)
    page.get_by_role("button", name="Stop", exact=True).click()
    with page.expect_download() as got:
        page.get_by_role("button", name="USD").click()
    file = tmp_path / "fall.usdc"
    got.value.save_as(file)
    stage = Usd.Stage.Open(str(file))
    coat = next(m for m in stage.Traverse() if "oilskin" in str(m.GetPath()).lower())
    moves = UsdGeom.Mesh(coat).GetPointsAttr()
    first, last = (np.array(moves.Get(t)) for t in (moves.GetTimeSamples()[0], moves.GetTimeSamples()[-1]))
    lips = KDTree(first).query_pairs(0.003, output_type="ndarray")  # the two sides of the cut, still together
    assert np.linalg.norm(last[lips[:, 0]] - last[lips[:, 1]], axis=1).max() > 0.3
    page.get_by_role("button", name="Put it back").click()
    step(page, "Work").click()
    page.get_by_role("button", name="Take all work back").click()
    expect(step(page, "Work")).not_to_contain_text("alteration", timeout=MINUTE)


@pytest.mark.slow("core/finish", "web/src/bench", "web/src/stage")
def test_a_coat_is_finished_switched_off_and_taken_back(page: Page, house):
    open_room(page, house)
    step(page, "Finish").click()
    page.get_by_label("give it thickness").click()
    bench = page.get_by_role("region", name="Bench")
    expect(bench.get_by_text("Vertices", exact=True)).to_be_visible(timeout=MINUTE)
    told = bench.get_by_role("button", name=re.compile(r"^Finish"))
    expect(told).to_contain_text("faces")
    thin = told.text_content()
    page.get_by_role("slider", name="Hem").press("ArrowRight")
    expect(page.get_by_text("0.3 cm")).to_be_visible()
    page.get_by_label("finer faces on a smooth surface").click()
    expect(told).to_have_text(re.compile(r"^Finish\d{3},\d{3} faces$"), timeout=MINUTE)
    page.get_by_label("finer faces on a smooth surface").click()
    expect(told).to_have_text(thin, timeout=MINUTE)
    page.get_by_role("button", name="Take all finishing back").click()
    expect(told).not_to_contain_text("faces", timeout=MINUTE)
    expect(page.get_by_label("give it thickness")).not_to_be_checked()
