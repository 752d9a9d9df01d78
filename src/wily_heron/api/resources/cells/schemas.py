"""The cell on the stage, on the wire."""

from ....studio.stage_cell import StageCell


class CellIn(StageCell):
    """The cell to measure now, with the shape as it stands on the stage, on a body of one's own or the house's figure.

    `wearer` says which shots show it. `pieces` are those that are shown, as they are shown; all that stand if they are not named, with
    `unfinished` as their steps made them, without their finish.
    """
