"""The production: its name, its pose axis, and the motions on its sheet."""

from ..db import Connection, Row, existing, one, row, run
from ..events import notify


class ProductionRow(Row):
    """A production."""

    id: int
    name: str


def get_production(connection: Connection, production: int | None = None) -> ProductionRow:
    """Return a production, or the one opened last where none is named. Raises `NotFound` if there is none, or it lies in the bin."""
    found = row(connection, ProductionRow, "production", production=production)
    if production is None:
        return existing(found, what="there is no production yet", where="the studio", todo="Begin one on the first page.")
    return existing(found, what=f"there is no production {production}, or it is in the bin", where="the studio",
                    todo="Choose another on the first page.")


def poses_on_axis(connection: Connection, production: int) -> list[str]:
    """Return the pose axis: poses by name, in order."""
    return [found["pose"] for found in run(connection, "poses_of", production=production)]


def put_on_axis(connection: Connection, production: int, pose: str) -> None:
    """Put a pose on the pose axis, if it is not there."""
    if pose not in poses_on_axis(connection, production):
        run(connection, "add_pose", production=production, pose=pose)
    notify(connection, "poses")


def take_off_axis(connection: Connection, production: int, pose: str) -> None:
    """Take a pose off the pose axis; what was measured in it is kept."""
    run(connection, "drop_pose", production=production, pose=pose)
    notify(connection, "poses")


def sheet_motions(connection: Connection, production: int) -> list[str]:
    """Return the motions that stand on the trial sheet, by name."""
    return [found["motion"] for found in run(connection, "sheet_motions", production=production)]


def put_on_sheet(connection: Connection, production: int, motion: str, there: bool) -> None:
    """Put a motion on the trial sheet, or take it off."""
    run(connection, "add_sheet_motion" if there else "drop_sheet_motion", production=production, motion=motion)
    notify(connection, "poses")


def new_figure(connection: Connection, version: str) -> bool:
    """Note the version of the figure that pieces are computed on; return whether it is another than before."""
    known = one(connection, "computed_on", what="figure")
    if known and known["version"] == version:
        return False
    run(connection, "set_computed_on", what="figure", version=version)
    return True
