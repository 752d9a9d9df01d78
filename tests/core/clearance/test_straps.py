"""Closed things worn over cloth: a strap or a bag has no border, and two sides."""

import igl
import numpy as np
import pytest
import trimesh

from tests.truth.planted import tunic_of
from wily_heron.core.clear.outfit.borders import borders_lifted
from wily_heron.core.clear.outfit.outfit_ways import CellContext
from wily_heron.core.clear.pose_fix import with_fix
from wily_heron.core.clearance.cell import CellResult, Dressed
from wily_heron.core.clearance.cover.key import Key
from wily_heron.core.clearance.find.incremental import Recalls
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.mesh.normals import vertex_normals
from wily_heron.core.model.state import Piece
from wily_heron.core.motion.pose_library import POSES

WEARER = shaped(figure(1), {})
WIDE, THICK = 0.034, 0.006
TUNIC = tunic_of(0.006)


def _strap(off: float, top: float = 1.28) -> Piece:
    """A band down the front of the tunic, its back `off` metres off the cloth (less than nothing: sunk into it); closed."""
    y = np.arange(1.00, top, 0.005)
    front = TUNIC.mesh.points[TUNIC.mesh.points[:, 2] > 0.02]
    near = [front[np.argmin((front[:, 0] - 0.02) ** 2 + (front[:, 1] - at) ** 2)][2] for at in y]
    z = np.convolve(np.pad(near, 4, mode="edge"), np.ones(9) / 9, "valid") + off
    corner = np.array([[-1, 0], [1, 0], [1, 1], [-1, 1]]) * [WIDE / 2, THICK]
    points = np.stack([np.tile(0.02 + corner[:, 0], len(y)), np.repeat(y, 4), (z[:, None] + corner[:, 1]).ravel()], axis=1)
    a = 4 * np.arange(len(y) - 1)[:, None] + np.arange(4)
    b = 4 * np.arange(len(y) - 1)[:, None] + (np.arange(4) + 1) % 4
    faces = np.concatenate([np.stack([a, a + 4, b], -1).reshape(-1, 3), np.stack([b, a + 4, b + 4], -1).reshape(-1, 3)])
    ends = np.array([[0, 1, 2], [0, 2, 3]])
    solid = trimesh.Trimesh(points, np.concatenate([faces, ends, ends[:, ::-1] + 4 * (len(y) - 1)]), process=False)
    assert solid.is_watertight
    if solid.volume < 0:
        solid.invert()
    return Piece(Mesh(solid.vertices.astype(np.float32), solid.faces.astype(np.int32)), WEARER.shape)


def _over_it(strap: Piece) -> float:
    """The area (cm2) of the tunic beneath whose points, straight down, the strap's front lies within 4 cm; another library's rays."""
    cloth = trimesh.Trimesh(TUNIC.mesh.points, TUNIC.mesh.triangles, process=False)
    points, faces = trimesh.sample.sample_surface(cloth, 60_000, seed=5)
    normals = cloth.face_normals[faces]
    near = np.flatnonzero((points[:, 2] > 0) & (np.abs(points[:, 0] - 0.02) < 0.05))
    solid = trimesh.Trimesh(strap.mesh.points, strap.mesh.triangles, process=False)
    at, ray, face = solid.ray.intersects_location(points[near], -normals[near], multiple_hits=False)
    front = np.einsum("qa,qa->q", solid.face_normals[face], normals[near][ray]) > 0.2
    close = np.linalg.norm(at - points[near][ray], axis=1) < 0.04
    return 1e4 * cloth.area * int((front & close).sum()) / len(points)


def _pair(strap: Piece):
    return Dressed(WEARER, {"tunic": TUNIC, "strap": strap}).measure(POSES["rest"]).pair(Key(1, 0))


@pytest.mark.parametrize("sunk", [0.004, 0.012, 0.024])
def test_cloth_over_a_strap_that_has_sunk_into_it_shows(sunk: float):
    strap = _strap(-sunk - THICK)
    truth = _over_it(strap)
    assert truth > 60
    assert _pair(strap).area_cm2 == pytest.approx(truth, rel=0.15)


@pytest.mark.parametrize("off", [0.001, 0.010])
def test_a_strap_that_lies_on_the_cloth_is_clean_and_its_clearance_is_to_its_back(off: float):
    pair = _pair(_strap(off))
    assert pair.area_cm2 == 0.0
    assert 0.0 <= pair.clearance_mm < 1000 * off + 3.0


def test_cloth_within_a_strap_is_not_seen():
    assert _pair(_strap(-0.003)).area_cm2 < 5.0  # its front is 3 mm above the cloth; where the chest curves away it may dip in


def test_a_neckline_that_clearing_has_pressed_beneath_the_skin_is_lifted_over_it_and_what_holds_goes_on_holding():
    worn = {"shirt": tunic_of(0.003), "tunic": tunic_of(0.006)}
    here = CellContext(WEARER.body, WEARER.shape, POSES["stand"], 0.004, Recalls())
    start = here.measured(worn)[1]
    sunk = {name: with_fix(piece, WEARER.body, here.pose, _pressed(piece, 0.012), "Standing") for name, piece in worn.items()}
    known = here.measured(sunk)
    assert known[1].figures.holds  # nothing is measured so near to a border: the cell says nothing of it
    assert max(_over_skin(known[1], place).min() for place in (0, 1)) < -0.002
    lifted, after = borders_lifted(here, sunk, known, start, set())
    assert after[1].figures.holds
    for place, name in enumerate(worn):
        assert _over_skin(after[1], place).min() > -3e-4
        low = worn[name].mesh.points[:, 1] < 1.15
        assert np.array_equal(after[1].layers[place].points[low], known[1].layers[place].points[low])
    assert all(lifted[name] is not sunk[name] for name in worn)
    assert borders_lifted(here, sunk, known, start, set(worn))[0] is sunk  # cloth that fell hangs as it does


def _pressed(piece: Piece, deep: float) -> np.ndarray:
    """A move (n, 3) that presses the front of a neckline in, `deep` metres at its border, fading over 3 cm."""
    points = piece.mesh.points.astype(np.float64)
    near = np.clip(1.0 - (points[:, 1].max() - points[:, 1]) / 0.03, 0.0, 1.0) * (points[:, 2] > 0.0) * (np.abs(points[:, 0]) < 0.06)
    return -deep * near[:, None] * vertex_normals(points, piece.mesh.triangles)


def _over_skin(cell: CellResult, place: int) -> np.ndarray:
    """How far (metres) the front of a piece's neckline lies over the skin, by another library."""
    points = cell.layers[place].points
    neck = (points[:, 1] > 1.30) & (points[:, 2] > 0) & (np.abs(points[:, 0]) < 0.06)
    return igl.signed_distance(points[neck].astype(float), cell.body_points.astype(float), WEARER.body.triangles.astype(np.int64))[0]
