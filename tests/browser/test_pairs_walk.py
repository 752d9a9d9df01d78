"""A walk with boots from stock: what comes through them is named whatever stands between on the rail, and a fit closes over them."""

import json
import re

import pytest
from playwright.sync_api import Page, Response, expect

from tests.browser.controls import by_hand
from tests.browser.test_walk import MINUTE, open_room
from tests.browser.test_work_walk import bench, open_step, take_off

_THROUGH = re.compile(r"−\d+\.\d mm over Skin, (left|right) (toes|knee)")
_CLEARANCE = re.compile(r"^−?\d+\.\d mm over .+$", re.M)


class Server:
    """What the server has last told of a cell, from the wire."""

    def __init__(self, page: Page) -> None:
        self.figures: dict = {}
        self.layers: list[str] = []
        page.on("response", self._hear)

    def _hear(self, response: Response) -> None:
        if "/api/cell?" in response.url and response.ok:
            body = response.body()
            head = json.loads(body[4 : 4 + int.from_bytes(body[:4], "little")])
            self.figures = head["notes"]["figures"]
            self.layers = [a["name"].removeprefix("clearance:") for a in head["arrays"] if a["name"].startswith("clearance:")]

    def clearances(self) -> list[str]:
        """The worst clearance of each layer of the cell in words, from the outermost in."""
        out = []
        for name in reversed(self.layers):
            pairs = [p for p in self.figures["pairs"] if p["over"] == name]
            deepest = max(pairs, key=lambda p: max((q["depth_mm"] for q in p["places"]), default=-p["clearance_mm"]), default=None)
            if deepest and deepest["places"]:
                place = max(deepest["places"], key=lambda q: q["depth_mm"])
                out.append(f"−{place['depth_mm']:.1f} mm over {deepest['under']}, {place['name']}")
            elif deepest:
                out.append(f"{deepest['clearance_mm']:.1f} mm over {deepest['under']}")
        return out


def agreed(page: Page, server: Server, state: str) -> None:
    """The rail shows what the server told of this state, to the last figure, once it has been measured."""
    rail = page.get_by_role("region", name="Rail")
    shown: list[str] = []
    for _ in range(120):
        page.wait_for_timeout(500)
        was, shown = shown, _CLEARANCE.findall(rail.inner_text())
        busy = page.get_by_role("region", name="Stage").get_by_text(re.compile("measuring", re.I)).count()
        if shown and not busy and shown == was == server.clearances():
            return
    raise AssertionError(f"{state}: the rail shows {shown}, the server told {server.clearances()}")


@pytest.mark.slow("core/fit", "core/clearance", "web/src/bench", "web/src/rooms/fitting")
def test_skin_through_boots_is_named_and_fitting_closes_over_it(page: Page, house):
    server = Server(page)
    open_room(page, house)
    rail = page.get_by_role("region", name="Rail")
    agreed(page, server, "as the demo is")
    by_hand(page)
    page.get_by_role("button", name="Stockroom").click()
    page.get_by_label("Search the stock").fill("felt boots")
    page.get_by_role("region", name="Stock", exact=True).get_by_role("button", name=re.compile("Felt boots")).first.click()
    page.get_by_role("button", name="Put on the rail").click()
    page.get_by_role("button", name="Fitting").click()
    rail.get_by_text("Felt boots").first.click(timeout=MINUTE)
    expect(rail).to_contain_text(re.compile(r"\d\.\d mm over Skin"), timeout=2 * MINUTE)
    agreed(page, server, "received")
    open_step(page, "Place")
    page.get_by_label("Ahead, cm").fill("-4")
    page.get_by_label("Ahead, cm").press("Enter")
    expect(rail.get_by_text(_THROUGH)).to_be_visible(timeout=2 * MINUTE)
    expect(page.get_by_text(re.compile(r"deepest \d+\.\d mm, Felt boots over Skin, (left|right) (toes|knee)"))).to_be_visible()
    agreed(page, server, "placed")
    open_step(page, "Fit")
    page.get_by_role("button", name="Fit it").click()
    expect(bench(page)).to_contain_text(re.compile(r"ease \d+\.\d ± "), timeout=2 * MINUTE)
    expect(rail.get_by_text(_THROUGH)).to_have_count(0, timeout=MINUTE)
    agreed(page, server, "fitted")
    for name in ("Bind", "Follow"):
        open_step(page, name)
        page.get_by_role("button", name=f"{name} it").click()
        expect(page.get_by_role("button", name="Take this step back")).to_be_visible(timeout=2 * MINUTE)
    page.get_by_role("button", name="Standing").click()
    expect(page.get_by_text(re.compile("^Holds · least clearance"))).to_be_visible(timeout=2 * MINUTE)
    agreed(page, server, "bound")
    # another order on the rail is another question: the coat under the base layer
    expect(rail).not_to_contain_text("over Oilskin coat")
    page.get_by_role("button", name="Wear Oilskin coat further in").click(force=True)
    expect(rail).to_contain_text(re.compile(r"mm over Oilskin coat"), timeout=2 * MINUTE)
    agreed(page, server, "re-ordered")
    page.get_by_role("button", name="Wear Oilskin coat further out").click(force=True)
    expect(rail).not_to_contain_text("over Oilskin coat", timeout=2 * MINUTE)
    standing = server.clearances()
    page.get_by_role("navigation", name="Poses").get_by_role("button", name="Kneeling").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("kneeling")
    agreed(page, server, "re-posed")
    assert server.clearances() != standing
    page.get_by_role("button", name=re.compile("Corvane")).first.click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Corvane")
    agreed(page, server, "another wearer")
    take_off(page, "Felt boots")
    expect(rail).not_to_contain_text("Felt boots", timeout=MINUTE)
    agreed(page, server, "taken off")
    assert "Felt boots" not in json.dumps(server.figures)
