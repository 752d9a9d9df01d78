"""Every room judged by axe-core, by the rules of WCAG 2.1 A and AA, by day and by lamp light."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import House

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
_RUN = """() => axe.run(document, { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"] }).then((found) => found.violations
    .filter((v) => ["serious", "critical"].includes(v.impact))
    .flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)}`)))"""


@pytest.mark.slow("web/src")
def test_no_room_has_a_serious_fault_of_accessibility_by_day_or_by_lamp(page: Page, house: House):
    page.goto(house.url)
    expect(page.get_by_role("button", name="Open The Reedmarsh Night Post")).to_be_visible()
    faults = {"productions": _faults(page)}
    page.goto(f"{house.url}fitting")
    expect(page.get_by_label("Bench")).to_be_visible()
    faults["fitting"] = _faults(page)
    for step in ("Receive", "Place", "Fit", "Work", "Bind", "Follow", "Clear", "Drape", "Finish"):
        page.get_by_label("Bench").get_by_role("button", name=step).first.click()
        expect(page.get_by_label("Bench").locator("[aria-expanded=true]")).to_have_count(1)
        faults[step] = _faults(page)
    page.get_by_role("button", name="Unfold sheet").click()
    expect(page.get_by_label("Trial sheet")).to_be_visible()
    faults["sheet"] = _faults(page)
    for address, shown in (("table", "Cutting table"), ("stock", "Stockroom"), ("packing", "Packing")):
        page.goto(house.url + address)
        expect(page.get_by_role("button", name=shown)).to_have_attribute("aria-current", "page")
        page.wait_for_load_state("networkidle")
        faults[address] = _faults(page)
    assert {room: told for room, told in faults.items() if told} == {}


def _faults(page: Page) -> list[str]:
    if not page.evaluate("() => 'axe' in window"):
        page.add_script_tag(path=AXE)
    found = []
    for theme, lit in (("light", "html:not([data-lamp])"), ("dark", "html[data-lamp]")):
        page.emulate_media(color_scheme=theme)
        page.locator(lit).wait_for(state="attached")
        found += [f"{theme}: {fault}" for fault in page.evaluate(_RUN)]
    return found
