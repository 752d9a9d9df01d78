"""Use the page as a person does: choose from a list, read the messages."""

import re

from playwright.sync_api import Locator, Page


def choose(select: Locator, option: str | re.Pattern[str], timeout: float = 20_000) -> None:
    """Take the option of this value or text; both may come only while the list is open."""
    select.click(timeout=timeout)
    listed = select.page.get_by_role("listbox")
    offered = listed.get_by_role("option", name=option)
    if isinstance(option, str):
        offered = listed.locator(f'[role=option][data-value="{option}"]').or_(listed.get_by_role("option", name=option, exact=True))
    offered.first.click(timeout=timeout)


def messages(page: Page) -> Locator:
    """Return the region of the messages. The page also announces each to screen readers, outside this region."""
    return page.get_by_role("region", name=re.compile("^Messages"))


def by_hand(page: Page) -> None:
    """From now on a piece brought in waits at its Receive step, instead of being put on at once."""
    page.get_by_role("checkbox", name="Dress it at once").uncheck()
