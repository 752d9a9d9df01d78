"""What is left out by itself or by a line on the stage, and whether it can be missed: judged by a second library."""

from dataclasses import replace

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from bench.clearing import dressed_in
from bench.wardrobe import wearers
from wily_heron.core.clear.hide import covered_cloth, missed_in
from wily_heron.core.clear.layers import Layers
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.lasso import faces_within
from wily_heron.core.figure.figure import figure
from wily_heron.core.model.pack import Pack, PackedPiece
from wily_heron.core.motion.pose_library import POSES
from wily_heron.formats.pack.read import read_pack
from wily_heron.formats.pack.write import write_pack

IN = ("stand", "stride", "sit")


@pytest.fixture(scope="module")
def worn():
    wearer = wearers()["neutral"]
    shirt, coat = dressed_in(("shirt", "coat"), wearer).values()
    cells = [(wearer.shape, POSES[p]) for p in IN]
    return wearer, shirt, coat, covered_cloth(shirt, wearer.body, cells, Layers((), (coat,)))


@pytest.mark.slow("core/clear", "core/clearance")
def test_no_ray_of_another_library_reaches_what_is_left_out_of_a_shirt_under_a_coat(worn):
    wearer, shirt, coat, faces = worn
    assert len(faces) > 0.2 * len(shirt.mesh.triangles)
    without = replace(shirt, left_out=faces)
    for pose in IN:
        cell = Dressed(wearer, {"shirt": without, "coat": coat}).measure(POSES[pose], look_for_holes=True)
        assert cell.figures.holes_cm2 == 0.0
        whole = [(cell.body_points, wearer.body.triangles), (cell.layers[0].points, without.shown),
                 (cell.layers[1].points, coat.mesh.triangles)]
        scene = trimesh.util.concatenate([trimesh.Trimesh(p, t, process=False) for p, t in whole])
        random = np.random.default_rng(6)
        some = random.choice(faces, 1000)  # random points, random ways out, either side
        corner = cell.layers[0].points[shirt.mesh.triangles[some]].astype(float)
        normal = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
        normal /= np.linalg.norm(normal, axis=1, keepdims=True)
        way = random.normal(size=normal.shape)
        way /= np.linalg.norm(way, axis=1, keepdims=True)
        off = np.sign(np.sum(way * normal, axis=1))[:, None] * 2e-4 * normal
        steep = np.abs(np.sum(way * normal, axis=1)) > 0.15
        points = np.einsum("tk,tka->ta", random.dirichlet((1, 1, 1), len(some)), corner) + off
        assert (steep & ~scene.ray.intersects_any(points, way)).sum() <= 1


def test_what_a_coat_covers_while_its_wearer_stands_is_missed_without_the_coat(worn):
    wearer, shirt, coat, faces = worn
    area, gone = missed_in([shirt, coat], wearer.body, (wearer.shape, POSES["stand"]), faces, 0)
    assert (area, len(gone)) == (0.0, 0)
    bare, gone = missed_in([shirt], wearer.body, (wearer.shape, POSES["stand"]), faces, 0)
    assert len(gone) > 0.9 * len(faces)
    figures = Dressed(wearer, {"shirt": replace(shirt, left_out=faces)}).measure(POSES["stand"], look_for_holes=True).figures
    assert figures.holes_cm2 == pytest.approx(1e4 * bare, rel=0.01)
    assert (figures.holes[0].of, figures.holds) == ("shirt", False)


def test_a_margin_of_rings_stays_and_a_pack_keeps_what_is_left_out(worn):
    wearer, shirt, coat, faces = worn
    cells = [(wearer.shape, POSES[p]) for p in IN]
    wide = covered_cloth(shirt, wearer.body, cells, Layers((), (coat,)), rings=3)
    assert set(wide) < set(faces)
    stays = set(np.delete(shirt.mesh.triangles, faces, axis=0).ravel().tolist())
    assert set(wide) == {f for f in faces if not stays & set(shirt.mesh.triangles[f].tolist())}
    pack = Pack(wearer.body, "Ibbet", (PackedPiece("Shirt", "top", replace(shirt, left_out=faces), 0.002),
                                       PackedPiece("Coat", "top", coat, 0.009)), {}, {}, {})
    back = read_pack(write_pack(pack), "pack.glb").pieces[0].piece
    middle = lambda p: set(map(tuple, np.round(1e4 * p.mesh.points[p.mesh.triangles[p.left_out]].mean(axis=1)).astype(int)))  # noqa: E731
    assert middle(back) == middle(replace(shirt, left_out=faces))


@given(st.integers(3, 12), st.integers(0, 10_000))
def test_a_line_takes_the_faces_turned_to_the_eye_that_it_goes_round(corners: int, seed: int):
    body, random = figure(1), np.random.default_rng(seed)
    turn = np.sort(random.uniform(0, 2 * np.pi, corners))
    outline = random.uniform(0.1, 0.6, (corners, 1)) * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    clip = np.array([[1.2, 0, 0, 0], [0, 1.2, 0, -1.1], [0, 0, 0, 0], [0, 0, -1.0, 3.0]])  # from the front, 3 m off
    got = np.zeros(len(body.triangles), bool)
    got[faces_within(body.base, body.triangles, clip, outline)] = True
    screen = np.c_[body.base, np.ones(len(body.base))] @ clip.T
    screen = screen[:, :2] / screen[:, 3:]
    middle = screen[body.triangles].mean(axis=1)
    within = np.zeros(len(middle), bool)
    for (x0, y0), (x1, y1) in zip(outline, np.roll(outline, -1, axis=0), strict=True):  # how often a ray to the right crosses the line
        within ^= ((y0 > middle[:, 1]) != (y1 > middle[:, 1])) & (middle[:, 0] < x0 + (middle[:, 1] - y0) * (x1 - x0) / (y1 - y0))
    eye = np.array([0, 1.1 / 1.2, 3.0])
    corner = body.base[body.triangles].astype(float)
    normal = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
    facing = np.sum(normal * (eye - corner[:, 0]), axis=1)
    sure = np.abs(facing) > 1e-3 * np.linalg.norm(normal, axis=1)
    assert (got == (within & (facing > 0)))[sure].all()
