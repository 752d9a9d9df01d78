"""A piece's unit and up axis are known from how it lies on a body, whatever its size alone would say."""

from functools import cache

import numpy as np
import pytest

from demo.stock import stock
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.model.model import LYING
from wily_heron.core.receive.scale import METRES, guess_scale

WORN = ("Smock", "Marsh trousers", "Ferry skirt", "Oilskin coat", "Mail tabard", "Waders", "Mittens", "Storm hat", "Felt boots",
        "Knitted cap", "Apron", "Knee guards")
CARRIED = ("Belt with lantern", "Satchel", "Scarf", "Brass loupe", "Hand lantern", "Half a cap")
STATURE = 1.68


@cache
def made() -> dict[str, Mesh]:
    return {piece.name: piece.mesh for piece in stock()}


def in_file(mesh: Mesh, unit: str, up: str, size: float = 1.0) -> np.ndarray:
    """The points of a mesh as a program that works in this unit and with this axis up writes them."""
    points = size * mesh.points.astype(np.float64) / METRES[unit]
    return (points @ LYING if up == "z" else points).astype(np.float32)


@pytest.mark.parametrize("up", ["y", "z"])
@pytest.mark.parametrize("unit", METRES)
@pytest.mark.parametrize("name", WORN)
def test_clothes_are_known_in_every_unit_and_with_either_axis_up(name: str, unit: str, up: str):
    mesh = made()[name]
    for size in (0.93, 1.0, 1.07):  # made on a smaller and on a larger body
        found = guess_scale(in_file(mesh, unit, up, size), mesh.triangles, STATURE)
        assert (found.unit, found.up) == (unit, up), (size, found)


@pytest.mark.parametrize("unit", ["m", "cm", "mm", "in"])
@pytest.mark.parametrize("name", CARRIED)
def test_what_is_carried_is_known_in_the_usual_units(name: str, unit: str):
    mesh = made()[name]
    assert guess_scale(in_file(mesh, unit, "y"), mesh.triangles, STATURE).unit == unit


def test_clothes_turned_inside_out_are_known_all_the_same():
    mesh = made()["Smock"]
    found = guess_scale(in_file(mesh, "in", "z"), mesh.triangles[:, ::-1], STATURE)
    assert (found.unit, found.up) == ("in", "z")


@pytest.mark.parametrize("unit", ["m", "cm", "mm"])
def test_what_does_not_hang_on_a_body_is_told_by_its_size(unit: str):
    mesh = made()["Smock"]
    off = mesh.moved((mesh.points - mesh.points.mean(axis=0)).astype(np.float32))  # about the origin, half below the floor
    found = guess_scale(in_file(off, unit, "y"), mesh.triangles, STATURE)
    assert found.unit == unit
    assert found.unit_why.startswith("its longest side")


def test_what_the_artist_says_stands():
    mesh = made()["Marsh trousers"]
    found = guess_scale(in_file(mesh, "in", "y"), mesh.triangles, STATURE, unit="cm", up="z")
    assert (found.unit, found.up, found.unit_why, found.up_why) == ("cm", "z", "as you set it", "as you set it")
