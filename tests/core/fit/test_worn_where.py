"""A fitted piece is asked whether it lies where its category is worn."""

import pytest

from demo.stock import stock
from wily_heron.core.figure.figure import figure
from wily_heron.core.fit.worn_where import worn_elsewhere

PIECES = {piece.name: piece for piece in stock()}
CARRIER = figure(1).base


@pytest.mark.parametrize("name", [name for name, piece in PIECES.items() if piece.category != "rigid" and "inches" not in name])
def test_what_hangs_where_it_is_worn_is_not_doubted(name: str):
    piece = PIECES[name]
    assert worn_elsewhere(piece.mesh.points, piece.category, CARRIER) is None


@pytest.mark.parametrize("name", ["Smock", "Marsh trousers", "Oilskin coat", "Waders", "Storm hat", "Mittens", "Beard"])
def test_inches_read_as_centimetres_are_told(name: str):
    piece = PIECES[name]
    told = worn_elsewhere(piece.mesh.points * (0.01 / 0.0254), piece.category, CARRIER)
    assert told is not None
    assert "Check its unit" in told


def test_a_rigid_piece_may_be_worn_anywhere():
    assert worn_elsewhere(CARRIER[:200], "rigid", CARRIER) is None
