"""Finding and clearing on scenes whose truth is known because they are built."""

import numpy as np
import pytest
import trimesh

from bench.cloth_shapes import sheet_of
from bench.judge import _pinched, _under_its_own
from tests.conftest import rotation_about_y
from tests.truth.planted import chest_of, judged_area, tunic_of, with_dent
from wily_heron.core.clear.clear import CAP, clear
from wily_heron.core.clear.clear_cells import clear_cells
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.cover.cover import cover
from wily_heron.core.clearance.cover.key import Key
from wily_heron.core.clearance.cover.rest_layer import RestLayer
from wily_heron.core.clearance.find.face_samples import _CLOSELY, _shallowest
from wily_heron.core.clearance.find.find import find
from wily_heron.core.figure.base.body import Body, Wearer, shaped
from wily_heron.core.figure.base.skeleton import Skeleton
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.normals import triangle_normals
from wily_heron.core.model.state import Piece
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.space.tree import Screen, TriangleTree


def test_a_lifted_copy_of_the_skin_is_clean():
    figures = Dressed(shaped(figure(1), {}), {"tunic": tunic_of(0.010)}).measure(POSES["rest"]).figures
    assert (figures.area_cm2, figures.places, figures.holds) == (0, 0, True)
    assert 8.5 < figures.clearance_mm <= 10.5


def test_a_sunk_copy_of_the_skin_shows_through_everywhere():
    figures = Dressed(shaped(figure(1), {}), {"tunic": tunic_of(-0.006)}).measure(POSES["rest"]).figures
    assert figures.area_cm2 > 1500
    assert figures.clearance_mm == pytest.approx(-6.0, abs=0.8)


@pytest.mark.parametrize("depth", [0.012, 0.016, 0.022])
def test_a_planted_poke_is_found_at_its_depth_and_place(depth: float):
    tunic = tunic_of(0.010, 2)
    centre = chest_of(tunic)
    dented = with_dent(tunic, centre, 0.06, depth)
    found = Dressed(shaped(figure(2), {}), {"tunic": dented}).measure(POSES["rest"]).pairs[0].found
    assert len(found.places) == 1
    assert found.places[0].depth == pytest.approx(depth - 0.010, abs=0.0012)
    assert np.linalg.norm(found.places[0].centre - centre) < 0.02
    assert found.area == pytest.approx(judged_area(figure(2), dented.mesh, centre), rel=0.15)


def test_ninety_eight_of_a_hundred_planted_pokes_are_found():
    tunic, random = tunic_of(0.008), np.random.default_rng(11)
    wearer = shaped(figure(1), {})
    inner = np.flatnonzero((np.abs(tunic.mesh.points[:, 0]) < 0.10) & (np.abs(tunic.mesh.points[:, 1] - 1.13) < 0.10))
    hits = 0
    for vertex in random.choice(inner, 50, replace=False):
        centre = tunic.mesh.points[vertex].astype(float)
        found = Dressed(wearer, {"t": with_dent(tunic, centre, 0.05, 0.010)}).measure(POSES["rest"]).pairs[0].found
        hits += any(np.linalg.norm(p.centre - centre) < 0.03 for p in found.places)
    assert hits >= 49


def test_moving_everything_rigidly_changes_nothing(coat, ibbet):
    turn, shift = rotation_about_y(50), np.array([0.3, 0.2, -0.5])
    body = ibbet.body
    moved_body = Body((ibbet.points @ turn.T + shift).astype(np.float32), body.triangles,
                      Skeleton(body.skeleton.names, body.skeleton.parents, ibbet.skeleton.positions @ turn.T + shift),
                      body.skin, body.shapes, body.deltas, body.joint_deltas, ibbet.shape, np.zeros(0, int))
    moved_wearer = Wearer(moved_body, ibbet.shape, moved_body.base, moved_body.skeleton)
    # one dent, so that there is something to find
    dented = with_dent(coat, coat.mesh.points[np.argmin(np.abs(coat.mesh.points - [0.05, 1.15, 0.14]).sum(1))].astype(float), 0.07, 0.045)
    moved = Piece(dented.mesh.moved(dented.mesh.points @ turn.T + shift), dented.made_at, dented.skin, dented.deltas)
    here = Dressed(ibbet, {"coat": dented}).measure(POSES["rest"]).figures
    there = Dressed(moved_wearer, {"coat": moved}).measure(POSES["rest"]).figures
    assert here.places > 0
    assert there.places == here.places
    assert there.area_cm2 == pytest.approx(here.area_cm2, rel=0.02)
    assert there.clearance_mm == pytest.approx(here.clearance_mm, abs=0.02)


def test_skin_at_an_opening_is_no_fault(coat, ibbet):
    figures = Dressed(ibbet, {"coat": coat}).measure(POSES["rest"]).figures
    assert figures.places == 0


def test_clearing_removes_a_planted_poke_and_leaves_the_rest_alone():
    tunic = tunic_of(0.010)
    centre = chest_of(tunic)
    dented = with_dent(tunic, centre, 0.06, 0.016)
    body = figure(1)
    eased, report = clear(dented, body, body.made_at, POSES["rest"], 0.003)
    assert report.kept
    assert report.before.area_cm2 > 3
    assert report.after.area_cm2 == 0
    move = np.linalg.norm(eased.mesh.points - dented.mesh.points, axis=1)
    assert move.max() <= CAP + 1e-9
    far = np.linalg.norm(dented.mesh.points - centre, axis=1) > 0.30
    assert move[far].max() == 0


@pytest.mark.parametrize("pose", ["stride", "kneel", "sit"])
def test_clearing_a_pose_never_makes_it_worse(coat, ibbet, pose: str):
    eased, report = clear(coat, ibbet.body, ibbet.shape, POSES[pose], 0.004)
    after = Dressed(ibbet, {"piece": eased}).measure(POSES[pose]).figures
    assert after.area_cm2 <= report.before.area_cm2
    assert after.clearance_mm >= report.before.clearance_mm - 0.1
    assert np.linalg.norm(eased.mesh.points - coat.mesh.points, axis=1).max() <= 2 * CAP


def test_clearing_several_cells_spoils_none_of_them(coat, ibbet):
    cells = [(ibbet.shape, POSES[p]) for p in ("stand", "stride", "kneel")]
    dressed = Dressed(ibbet, {"piece": coat})
    before = [dressed.measure(pose).figures.area_cm2 for _, pose in cells]
    eased, reports = clear_cells(coat, ibbet.body, cells, 0.004)
    dressed = Dressed(ibbet, {"piece": eased})
    after = [dressed.measure(pose).figures.area_cm2 for _, pose in cells]
    assert sum(after) < 0.5 * sum(before)
    assert all(b <= a + 0.02 for a, b in zip(before, after, strict=True))
    assert [r.after.area_cm2 for r in reports] == after


@pytest.mark.slow("core/clearance", "core/space")
def test_a_narrow_dimple_in_the_middle_of_coarse_skin_is_found_wherever_it_lies():
    """Cloth a quarter of a millimetre over faces of 3 cm, pressed through them in a cone: more than a tenth shows in a disc 5 mm across."""
    side, radius, gap, depth = 0.24, 0.004, 0.00025, 0.001
    (skin, skin_faces), (cloth, cloth_faces) = (sheet_of(side, side, size) for size in (0.03, 0.0012))
    up = np.array([0.0, triangle_normals(skin, skin_faces)[0, 1].round(), 0.0])
    belongs = cover(RestLayer(skin, skin_faces), RestLayer(cloth + 0.005 * up, cloth_faces))
    under, shown = TriangleTree(skin, skin_faces), []
    for middle in np.random.default_rng(5).uniform(0.075, side - 0.075, (24, 2)):
        away = np.linalg.norm(cloth[:, [0, 2]] - middle, axis=1)
        pressed = cloth + (gap - depth * np.maximum(1 - away / radius, 0.0))[:, None] * up
        over = TriangleTree(pressed, cloth_faces)
        shown.append(find(under, over, belongs, Screen([under, over])).area)
    disc = np.pi * (radius * (1 - (gap + 1e-4) / depth)) ** 2
    assert min(shown) > 0
    assert np.mean(shown) == pytest.approx(disc, rel=0.15)


def test_pairs_asked_alone_are_told_as_they_are_in_the_whole_cell():
    dressed = Dressed(shaped(figure(1), {}), {"shirt": tunic_of(0.006), "tabard": tunic_of(0.004), "coat": tunic_of(0.003)})
    whole = dressed.measure(POSES["stride"]).figures.pairs
    only = {Key(1, 0), Key(2, 0), Key(2, 1)}
    mine = [pair for pair in whole if pair.under != "Skin"]
    assert sum(pair.area_cm2 for pair in mine) > 1
    assert Dressed(dressed.wearer, dict(zip(dressed.names, dressed.pieces, strict=True))).measure(
        POSES["stride"], only=only).figures.pairs == tuple(mine)


def _extruded(section: np.ndarray, along: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """A surface of a cross-section (k, 2) in X and Y at places along Z, its faces' normals to the left of the section's way."""
    k, n = len(section), len(along)
    points = np.concatenate([np.column_stack([section, np.full(k, z)]) for z in along])
    i = (np.arange(n - 1)[:, None] * k + np.arange(k - 1)).ravel()
    return points, np.concatenate([np.stack([i, i + k, i + 1], 1), np.stack([i + 1, i + k, i + 1 + k], 1)]).astype(np.int32)


def test_skin_that_shows_beside_a_sharp_ridge_is_found_though_its_corners_normals_lean_away():
    """A ridge of 4 degrees in faces of 3 cm: on one flank, from 1 to 5 mm under its edge, the cloth is pressed half a millimetre in."""
    lean, ease = np.sin(np.deg2rad(2.0)), 0.005
    deep = np.array([0.12, 0.09, 0.06, 0.03])
    down = np.array([*np.linspace(0.12, 0.01, 12)[:-1], *np.arange(0.010, 0.0001, -0.0005)])
    flanks = lambda d, off: (np.column_stack([-lean * d - off, -d]), np.column_stack([lean * d + off, -d])[::-1])  # noqa: E731
    skin, skin_faces = _extruded(np.concatenate([flanks(deep, 0.0)[0], [[0, 0]], flanks(deep, 0.0)[1]]), np.arange(0.0, 0.301, 0.03))
    left, right = flanks(down, ease)
    section = np.concatenate([left, [[0, ease]], right])
    cloth, cloth_faces = _extruded(section, np.arange(0.0, 0.301, 0.01))
    assert triangle_normals(skin, skin_faces)[0, 0] < -0.9
    belongs = cover(RestLayer(skin, skin_faces), RestLayer(cloth, cloth_faces))
    pressed = cloth.copy()
    strip = (cloth[:, 0] > 0.001) & (cloth[:, 1] <= -0.0009) & (cloth[:, 1] >= -0.0051)
    pressed[strip, 0] = -lean * cloth[strip, 1] - 0.0005
    under, over = TriangleTree(skin, skin_faces), TriangleTree(pressed, cloth_faces)
    found = find(under, over, belongs, Screen([under, over]))
    assert found.area == pytest.approx(0.004 * (0.30 - 2 * 0.03), rel=0.5)  # as near as rows of points 1 to 3 mm apart tell
    assert -found.least == pytest.approx(0.0005, rel=0.1)


def test_faces_that_something_stands_out_of_are_looked_at_most_closely_before_those_that_nothing_was_seen_to():
    stand, rim = np.zeros((400, 16)), np.ones(400, bool)
    stand[350:360, 3], rim[355] = np.linspace(0.001, 0.01, 10), False
    closely = _shallowest(stand, rim)
    assert closely[350:360].tolist() == [True] * 5 + [False] + [True] * 4
    assert closely.sum() == _CLOSELY


@pytest.mark.parametrize("up", [1.0, -1.0])
def test_what_is_seen_through_a_deep_and_narrow_shaft_alone_is_found_whichever_way_that_leans(up: float):
    """Cloth dips under the skin at one point, at the foot of a shaft a third of a metre high, 4 cm wide, up to 16 degrees from upright."""
    flat, faces = sheet_of(0.3, 0.3, 0.01)
    flat = (flat - flat.mean(axis=0)) * [1.0, 1.0, up]
    skin, over = flat * [1, 0, 1], flat * [1, 0, 1] + [0, 0.01 * up, 0]
    middle = np.linalg.norm(skin, axis=1).argmin()
    belongs, dipped = cover(RestLayer(skin, faces), RestLayer(over, faces)), over.copy()
    dipped[middle, 1] = -0.004 * up
    found = []
    for lean in np.radians([0.0, 4.0, 8.0, 12.0, 16.0]):
        for turn in np.linspace(0.0, 2 * np.pi, 7)[:-1]:
            axis = np.array([np.sin(lean) * np.cos(turn), up * np.cos(lean), np.sin(lean) * np.sin(turn)])
            side = np.cross(axis, [0.0, 0.0, 1.0])
            side /= np.linalg.norm(side)
            ring = 0.02 * np.array([side, np.cross(axis, side), -side, -np.cross(axis, side)]) * np.sqrt(2)
            wall = np.concatenate([ring + 0.03 * axis, ring + 0.36 * axis])
            shaft = np.array([f for k in range(4) for f in ([k, (k + 1) % 4, k + 4], [(k + 1) % 4, (k + 1) % 4 + 4, k + 4])], np.int32)
            roof = over + [0, 0.03 * up, 0]  # but for its foot
            closed = faces[(np.linalg.norm(roof[faces].mean(axis=1) - 0.03 * axis, axis=1) > 0.02)]
            trees = [TriangleTree(skin, faces), TriangleTree(dipped, faces), TriangleTree(wall, shaft), TriangleTree(roof, closed)]
            found.append(find(*trees[:2], belongs, Screen(trees)).area > 0)
    assert np.mean(found) > 0.9


def _limb(radius: float) -> tuple[np.ndarray, np.ndarray]:
    """A closed cylinder along y, 26 cm long, in even faces."""
    limb = trimesh.creation.cylinder(radius=radius, height=0.26, sections=32)
    points, faces = trimesh.remesh.subdivide_to_size(limb.vertices, limb.faces, 0.02)
    return points[:, [1, 2, 0]], np.asarray(faces, np.int32)


def _sheet(x: float, half: float) -> tuple[np.ndarray, np.ndarray]:
    """A square of cloth across x that faces along x."""
    points, faces = sheet_of(2 * half, 2 * half, 0.01)
    points = points - points.mean(axis=0)
    points = points[:, np.argsort(-np.ptp(points, axis=0))][:, [2, 0, 1]] + [x, 0.0, 0.0]
    return points, faces if triangle_normals(points, faces)[0, 0] > 0 else faces[:, ::-1].copy()


@pytest.mark.parametrize(("x", "belongs"), [(0.015, True), (0.005, True), (-0.005, False), (-0.015, False)])
def test_cloth_that_has_sunk_past_the_middle_of_a_limb_is_not_the_cloth_of_its_near_side(x: float, belongs: bool):
    """A wrist 5 cm thick with a crumpled cuff in it."""
    limb, over = _limb(0.025), _sheet(x, 0.12)
    front = (limb[0][:, 0] > 0.024) & (np.abs(limb[0][:, 1]) < 0.08)
    assert front.sum() > 20
    covered = cover(RestLayer(*limb), RestLayer(*over)).covered
    assert covered[front].all() == belongs == covered[front].any()
    assert not covered[limb[0][:, 0] < -0.01].any()


def test_what_is_in_its_own_sleeve_is_not_out_of_the_side_of_the_coat_that_both_hang_in(monkeypatch: pytest.MonkeyPatch):
    """The wrist is seen up the cuff; a second sheet of the coat lies between it and its own sleeve."""
    limb, faces = _limb(0.01)
    tube, walls = _limb(0.05)
    parts = [(tube, walls[np.abs(triangle_normals(tube, walls)[:, 1]) < 0.5]), _sheet(0.0, 0.12), _sheet(0.02, 0.12)]
    start = np.cumsum([0, *(len(p) for p, _ in parts)])
    over, over_faces = np.concatenate([p for p, _ in parts]), np.concatenate([f + s for (_, f), s in zip(parts, start, strict=False)])
    rest = over.copy()
    rest[start[1]:, 0] -= 0.05
    belongs = cover(RestLayer(limb, faces), RestLayer(rest, over_faces))
    trees = TriangleTree(limb, faces), TriangleTree(over, over_faces)
    area = find(*trees, belongs, Screen(list(trees))).area
    monkeypatch.setattr("wily_heron.core.clearance.find.face_samples._THROUGH", 1)  # it would be out, did nobody look past the second sheet
    assert area < 0.02 * find(*trees, belongs, Screen(list(trees))).area


def test_the_judge_tells_what_lies_within_its_own_sleeve_from_what_is_out_though_both_lie_before_the_side_the_sleeve_goes_through():
    tube = trimesh.creation.cylinder(radius=0.03, height=0.4, sections=48)
    sleeve = tube.faces[np.abs(tube.face_normals[:, 2]) < 0.5]  # open at both ends
    side = np.array([[0.01, -0.2, -0.2], [0.01, 0.2, -0.2], [0.01, 0.2, 0.2], [0.01, -0.2, 0.2]])
    points = np.concatenate([tube.vertices, side])
    faces = np.concatenate([sleeve, len(tube.vertices) + np.array([[0, 1, 2], [0, 2, 3]])])
    rest = points + np.where(np.arange(len(points)) < len(tube.vertices), 0.0, -0.1)[:, None] * [1.0, 0.0, 0.0]
    cloth, lay, leaning = TriangleTree(points, faces), rest[faces].mean(axis=1), np.array([0.3, 0.0, 0.95])
    within, out = np.array([0.02, 0.0, 0.05]), np.array([0.034, 0.0, 0.05])
    told = _under_its_own(np.array([within, out]), np.array([leaning / np.linalg.norm(leaning), [1.0, 0.0, 0.0]]),
                          np.array([0.1, 0.004]), np.array([[0.03, 0.0, 0.05]] * 2), cloth, lay)
    assert list(told) == [True, False]
    assert not _under_its_own(within[None], np.eye(3)[:1], np.array([0.004]), np.array([[0.03, 0.0, 0.05]]), cloth, lay)[0]


def test_the_judge_takes_flesh_for_pinched_up_to_the_very_edge_of_its_fold():
    corner = np.array([[0.0, 0.0, 0.0], [0.0, 0.0, 0.1], [0.1, 0.0, 0.0]])  # the fold is along z
    up, away = np.array([[0.0, 1.0, 0.0]]), np.array([1e-8, 1e-6, 1e-5, 1e-3, 0.02])
    x = np.column_stack([away, np.zeros(5), np.full(5, 0.03)])
    for degrees in (5.0, 45.0, 100.0, 180.0, 260.0):  # to what lies flat beside it, and on to a ridge
        other = [0.1 * np.cos(np.radians(degrees)), 0.1 * np.sin(np.radians(degrees)), 0.0]
        skin = TriangleTree(np.array([*corner, other]), np.array([[0, 1, 2], [0, 3, 1]], np.int32))
        over = away * np.tan(np.radians(degrees)) if degrees < 90 else np.full(5, np.inf)
        assert list(_pinched(x, np.repeat(up, 5, axis=0), skin)) == list((over > 1e-7) & (over < 0.003))
