"""The cutting table: layouts begun from a block, a drawing or nothing, changed, graded, undone."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ...core.errors import InputError
from ...core.figure.base.body import Wearer
from ...core.table.blocks import block_layout
from ...core.table.change import split_edge, with_dart, with_pleat, without_corner
from ...core.table.graded import graded
from ...core.table.layout import Layout
from ...core.table.panel_mesh import check_outline
from ...store import layouts as store
from ...store.db import Connection, transaction
from ...store.layouts import LayoutLine, LayoutRow
from ...store.productions.wearers import WearerRow, get_wearer
from ..desk import Desk
from ..wearer import wearer_as


@dataclass(frozen=True)
class PanelWork:
    """A change that seams go along with: split an edge of a panel at a `share` of it, put in a dart or a pleat (metres `wide` and `deep`),
    or join two edges at a corner."""

    do: Literal["split", "dart", "pleat", "join"]
    panel: str
    edge: int
    share: float
    wide: float
    deep: float

    def on(self, layout: Layout) -> tuple[Layout, str]:
        """Return the layout with the change made, and what to call it."""
        match self.do:
            case "split":
                return split_edge(layout, self.panel, self.edge, self.share), f"A corner in {self.panel}"
            case "dart":
                return with_dart(layout, self.panel, self.edge, self.share, self.wide, self.deep), f"A dart in {self.panel}"
            case "pleat":
                return with_pleat(layout, self.panel, self.edge, self.share, self.deep), f"A pleat in {self.panel}"
            case "join":
                return without_corner(layout, self.panel, self.edge), f"A corner out of {self.panel}"


def layouts(production: int) -> list[LayoutLine]:
    """Return the layouts of the production."""
    with transaction() as connection:
        return store.layouts_of(connection, production)


def get(number: int) -> LayoutRow:
    """Return a layout as it stands. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return store.get_layout(connection, number)


def begin(desk: Desk, name: str, wearer: int, block: str, settings: Mapping[str, float]) -> LayoutRow:
    """Begin a layout: a block drafted for a wearer, or an empty table."""
    with transaction() as connection:
        row, who = wearer_on(connection, wearer)
        made = block_layout(block, who, dict(settings)) if block else Layout()
        return store.get_layout(connection, store.add_layout(connection, desk.production, name, made, row.id, row.shape, desk.artist))


def begin_from(desk: Desk, drawings: Sequence[tuple[str, Layout]], wearer: int) -> list[LayoutRow]:
    """Begin a layout from each drawing, by its name, for a wearer. Raises `InputError` for an outline that crosses itself."""
    for _, layout in drawings:
        _check(layout)
    with transaction() as connection:
        row, _ = wearer_on(connection, wearer)
        made = [store.add_layout(connection, desk.production, name[:80], layout, row.id, row.shape, desk.artist)
                for name, layout in drawings]
        return [store.get_layout(connection, number) for number in made]


def change(desk: Desk, number: int, layout: Layout, label: str, based_on: int | None) -> LayoutRow:
    """Keep a changed layout. Raises `InputError` for an outline that crosses itself, `Conflict` where it has been changed since."""
    _check(layout)
    with transaction() as connection:
        store.change_layout(connection, number, layout, label, desk.artist, based_on)
        return store.get_layout(connection, number)


def work_on(desk: Desk, number: int, panel_work: PanelWork, based_on: int | None) -> LayoutRow:
    """Split an edge, put in a dart or a pleat, or join two edges; seams go along."""
    with transaction() as connection:
        made, label = panel_work.on(store.get_layout(connection, number).layout)
        check_outline(made.panel(panel_work.panel))
        store.change_layout(connection, number, made, label, desk.artist, based_on)
        return store.get_layout(connection, number)


def grade(desk: Desk, number: int, wearer: int) -> LayoutRow:
    """Grade the panels to another wearer's measures."""
    with transaction() as connection:
        now = store.get_layout(connection, number)
        row, to = wearer_on(connection, wearer)
        made = graded(now.layout, wearer_as("", now.shape), to)
        store.change_layout(connection, number, made, f"Grade to {row.name}", desk.artist, made_for=(row.id, row.shape))
        return store.get_layout(connection, number)


def step(number: int, way: Literal["undo", "redo"]) -> LayoutRow:
    """Undo the last change, or do again what was undone. Raises `InputError` at either end."""
    with transaction() as connection:
        store.step_layout(connection, number, way == "undo")
        return store.get_layout(connection, number)


def drop(number: int) -> None:
    """Forget a layout; pieces that were sewn from it stay."""
    with transaction() as connection:
        store.drop_layout(connection, number)


def wearer_on(connection: Connection, number: int) -> tuple[WearerRow, Wearer]:
    """Return a wearer with its body. Raises `NotFound` if there is none, `InputError` for one on a body of its own."""
    row = get_wearer(connection, number)
    if row.body:
        raise InputError(what=f"{row.name} stands on a body of its own", where="the cutting table",
                         todo="Choose a wearer of the house's figure: panels are laid by its measures.")
    return row, wearer_as(None, row.shape)


def _check(layout: Layout) -> None:
    for panel in layout.panels:
        check_outline(panel)
