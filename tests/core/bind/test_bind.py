"""Weights, a piece's own joints, springs, and what carries shapes: judged from outside."""

from dataclasses import replace

import igl
import numpy as np
import pytest
import trimesh

from bench.fit_truth import made
from bench.wardrobe import garments
from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.bind.bend_test import bend_test
from wily_heron.core.bind.bind import bind
from wily_heron.core.bind.carried import carried
from wily_heron.core.bind.check import check_weights, mended
from wily_heron.core.bind.paint import painted_weights
from wily_heron.core.bind.transfer import Surface
from wily_heron.core.bind.weight_kernels import keep_greatest
from wily_heron.core.bind.worn_as import worn_as_of
from wily_heron.core.clear.pose_fix import with_fix
from wily_heron.core.clear.wear_on import wear_on
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.figure.base.rotation import turn
from wily_heron.core.figure.base.shapes import EXTRAS, LEFT
from wily_heron.core.figure.base.skeleton import Skin, skin_matrices, world_matrices
from wily_heron.core.figure.base.skinning import skin_points
from wily_heron.core.figure.body_landmarks import body_landmarks
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.correctives import DRIVEN
from wily_heron.core.figure.figure import figure
from wily_heron.core.follow.follow import follow
from wily_heron.core.follow.ground import ground_under
from wily_heron.core.follow.shapes import footing
from wily_heron.core.follow.strong_shapes import StrongShapes
from wily_heron.core.mesh.edges import unique_edges
from wily_heron.core.mesh.islands import islands
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.mesh.normals import vertex_normals
from wily_heron.core.model.riders import carried_matrices, rider_matrices
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.alteration import Cell
from wily_heron.core.model.steps.bind import Bind, SpringOf, Weigh
from wily_heron.core.model.steps.clear import Clear, ClearReport, Fix
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.hand import HandDab, Stroke
from wily_heron.core.model.worn import at_rest, fix_values, worn_points
from wily_heron.core.motion.motion import slerp
from wily_heron.core.motion.pose import pose_matrices, posed_body
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.motion.spring import Links, Spring, Swinging
from wily_heron.core.space.tree import TriangleTree


def test_a_skin_tight_copy_of_the_body_takes_the_bodys_own_weights():
    wearer = shaped(figure(1), {})
    bound = bind(wearer.points, wearer.body.triangles, wearer, Bind(reach=0.03))
    skin, report = bound.skin, bound.report
    dense, mine = (np.zeros((len(wearer.points), 62)) for _ in range(2))
    for k in range(4):
        np.add.at(dense, (np.arange(len(dense)), wearer.body.skin.joints[:, k]), wearer.body.skin.weights[:, k])
        np.add.at(mine, (np.arange(len(dense)), skin.joints[:, k]), skin.weights[:, k])
    assert report.accepted > 0.99  # the rest are fingertips, where corner normals differ by more than the angle asked
    assert np.quantile(np.abs(dense - mine).max(axis=1), 0.99) < 0.01


def _robe() -> Mesh:
    """A straight tube from the waist to the shins, 20 cm in radius."""
    around, rows = 96, 60
    angle, height = np.meshgrid(np.linspace(0, 2 * np.pi, around, endpoint=False), np.linspace(0.25, 1.1, rows))
    points = np.stack([0.20 * np.sin(angle), height, 0.20 * np.cos(angle)], axis=-1).reshape(-1, 3).astype(np.float32)
    corner = [(r * around + c, r * around + (c + 1) % around) for r in range(rows - 1) for c in range(around)]
    triangles = np.array([t for a, b in corner for t in ((a, b, b + around), (a, b + around, a + around))], np.int32)
    return Mesh(points, triangles)


def test_weights_on_a_robe_do_not_jump_between_the_legs(ibbet):
    robe = _robe()
    bound = bind(robe.points, robe.triangles, ibbet, Bind(reach=0.03, legs="off"))
    skin, report = bound.skin, bound.report
    legs = np.array([name.startswith("l_") for name in ibbet.skeleton.names], float)
    left = (skin.weights * legs[skin.joints]).sum(axis=1)
    edges, _ = unique_edges(robe.triangles)
    jump = np.abs(left[edges[:, 0]] - left[edges[:, 1]]).max()
    nearest = bind(robe.points, robe.triangles, ibbet, Bind(how="nearest")).skin
    naive = (nearest.weights * legs[nearest.joints]).sum(axis=1)
    assert report.solved > 0.5
    assert np.abs(naive[edges[:, 0]] - naive[edges[:, 1]]).max() > 0.9  # nearest-only does jump
    assert jump < 0.25  # what is left comes of keeping four of the seven joints that share the middle


def test_a_skin_tight_copy_follows_every_shape_exactly():
    wearer = shaped(figure(1), CAST["Ibbet"])
    deltas = follow(wearer.points, wearer.body.triangles, wearer, wearer.body.skin, step=Follow(clear=False)).deltas
    assert np.quantile(np.linalg.norm(deltas - wearer.body.deltas, axis=2).max(axis=0), 0.99) < 2e-4




WEARER = shaped(figure(1), {})
GARMENTS = garments(WEARER)
NAMES = WEARER.skeleton.names


def dense(skin) -> np.ndarray:
    out = np.zeros((len(skin.joints), len(NAMES)))
    np.add.at(out, (np.repeat(np.arange(len(out)), skin.joints.shape[1]), skin.joints.ravel()), skin.weights.ravel())
    return out


def borne_by(skin, start: str) -> np.ndarray:
    return dense(skin)[:, [n.startswith(start) for n in NAMES]].sum(axis=1)


@pytest.mark.parametrize("kind", ["trousers", "suit", "spats"])
def test_one_leg_never_takes_the_others_weights_though_the_thighs_touch(kind: str):
    heavy = shaped(figure(1), {"girth": 1.0, "thigh_girth": 1.0})
    piece = made(kind, heavy.points)
    skin = bind(piece.points, piece.triangles, heavy, Bind()).skin
    base = made(kind, WEARER.points).points  # the same vertices on a body whose legs stand apart tell the side
    left = (base[:, 0] > 0.02) & (base[:, 1] < 0.72)
    assert borne_by(skin, "r_")[left].max() < 0.02
    right = (base[:, 0] < -0.02) & (base[:, 1] < 0.72)
    assert borne_by(skin, "l_")[right].max() < 0.02


def test_a_hem_beside_the_hands_takes_nothing_from_them():
    turns = {"l_shoulder": turn([0, 0, 1], -62), "r_shoulder": turn([0, 0, 1], 62)}
    down = skin_points(WEARER.points, WEARER.body.skin, skin_matrices(WEARER.skeleton, world_matrices(WEARER.skeleton, turns)))
    standing = replace(WEARER, points=np.ascontiguousarray(down, np.float32))
    g = GARMENTS["tabard"]
    wide = g.points.copy()
    wide[:, 0] *= 1.0 + 0.4 * np.clip((1.0 - wide[:, 1]) / 0.15, 0, 1)  # it flares out to where the hands hang
    hand = down[WEARER.body.skin.joints[:, 0] == NAMES.index("l_radiocarpal")][::20]
    assert np.linalg.norm(wide[:, None] - hand[None], axis=2).min() < 0.06
    got = dense(bind(wide, g.triangles, standing, Bind()).skin)
    hands = [i for i, n in enumerate(NAMES) if "carp" in n or "elbow_twist" in n]
    assert got[:, hands].sum(axis=1).max() < 0.05


def test_an_outer_piece_goes_with_the_piece_under_it():
    shirt = GARMENTS["shirt"]
    inner = bind(shirt.points, shirt.triangles, WEARER, Bind()).skin
    odd = replace(inner, joints=np.zeros_like(inner.joints), weights=np.tile(np.array([1, 0, 0, 0], np.float32), (len(inner.joints), 1)))
    outer = shirt.points + 0.006 * vertex_normals(shirt.points, shirt.triangles)
    under = [Surface(TriangleTree(shirt.points, shirt.triangles), odd)]
    got = dense(bind(outer, shirt.triangles, WEARER, Bind(), under).skin)
    assert (got[:, 0] > 0.999).mean() > 0.97  # the piece under it follows the root alone, and so does what lies on it


def test_all_twist_joints_bear_and_eight_joints_come_nearer_than_four():
    g = GARMENTS["suit"]
    four, eight = (bind(g.points, g.triangles, WEARER, Bind(most=n)).skin for n in (4, 8))
    twists = [i for i, n in enumerate(NAMES) if n.endswith("_twist")]
    assert (dense(four)[:, twists].sum(axis=0) > 1.0).all()
    assert eight.weights.shape[1] == 8
    assert np.abs(eight.weights.sum(axis=1) - 1).max() < 1e-6
    assert (eight.weights > 0).sum(axis=1).max() > 4


@pytest.mark.parametrize("kind", ["robe", "skirt"])
def test_a_robe_follows_both_legs_and_stretches_far_less_than_the_nearest_would(kind: str):
    g = GARMENTS[kind]
    stretch, depth = {}, {}
    for how in ("solve", "nearest"):
        skin = bind(g.points, g.triangles, WEARER, Bind(how=how)).skin
        piece = Piece(Mesh(g.points.astype(np.float32), g.triangles), WEARER.shape, skin)
        edges, _ = unique_edges(g.triangles)
        long = lambda p: np.linalg.norm(p[edges[:, 0]] - p[edges[:, 1]], axis=1)  # noqa: E731, B023
        posed = worn_points(piece, WEARER, POSES["stride"]).astype(float)
        stretch[how] = float((long(posed) / long(g.points)).max())
        body, faces = posed_body(WEARER, POSES["stride"]).astype(float), WEARER.body.triangles.astype(np.int64)
        inside = igl.winding_number(body, faces, posed) > 0.5
        depth[how] = float(np.sqrt(igl.point_mesh_squared_distance(posed, body, faces)[0])[inside].max(initial=0.0))
    assert stretch["solve"] < 5.0 < stretch["nearest"]
    assert depth["solve"] < 0.012


def buttoned() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    piece = made("coat", WEARER.points)
    return piece.points, piece.triangles, piece.rigid


@pytest.mark.parametrize("pose", ["stride", "sit", "bow", "row-catch"])
def test_buttons_keep_their_form_and_their_place_in_every_pose_and_shape(pose: str):
    points, triangles, rigid = buttoned()
    bound = bind(points, triangles, WEARER, Bind())
    assert [p.name for p in bound.report.parts if p.rigid] == ["button"] * 6
    got = follow(points, triangles, WEARER, bound.skin, bound.riders)
    piece = Piece(Mesh(points.astype(np.float32), triangles), WEARER.shape, bound.skin, got.deltas, riders=got.riders,
                  correctives=got.correctives, fixes=got.fixes)
    heavy = shaped(figure(1), {"girth": 0.8, "belly": 0.7, "stoop": 0.5})
    posed = worn_points(piece, heavy, POSES[pose]).astype(float)
    edges, _ = unique_edges(triangles)
    own = edges[rigid[edges].all(axis=1)]
    before, after = (np.linalg.norm(p[own[:, 0]] - p[own[:, 1]], axis=1) for p in (points, posed))
    assert np.abs(after / before - 1).max() < 1e-3
    _, label = islands(triangles, len(points))
    cloth = np.flatnonzero(~rigid)
    for k in np.unique(label[rigid]):
        rows = np.flatnonzero(label == k)
        near = cloth[np.argsort(np.linalg.norm(points[cloth] - points[rows].mean(0), axis=1))[:12]]
        rest, here = (np.linalg.norm(p[rows].mean(0) - p[near].mean(0)) for p in (points, posed))
        assert abs(here - rest) < 0.003


def test_parts_are_told_apart_by_hand_and_ride_one_joint_if_asked():
    points, triangles, rigid = buttoned()
    a_button = int(np.flatnonzero(rigid)[0])
    soft = bind(points, triangles, WEARER, Bind(cloth=(a_button,)))
    assert sum(p.rigid for p in soft.report.parts) == 5
    alone = bind(points, triangles, WEARER, Bind(alone=True)).riders
    assert alone is not None
    assert (alone.skin.weights[:, 0] == 1.0).all()


def test_headwear_goes_with_the_head_soles_bend_at_the_ball_and_belts_go_with_the_pelvis():
    hood = GARMENTS["hood"]
    worn = worn_as_of(hood.points, "headwear", WEARER)
    got = dense(bind(hood.points, hood.triangles, WEARER, Bind(), worn_as=worn).skin)
    assert got[:, [NAMES.index(j) for j in ("skullbase", "vc4", "vt1")]].sum(axis=1).min() > 0.999
    spats = GARMENTS["spats"]
    skin = bind(spats.points, spats.triangles, WEARER, Bind(), worn_as=worn_as_of(spats.points, "footwear", WEARER)).skin
    low = (spats.points[:, 1] < spats.points[:, 1].min() + 0.02) & (spats.points[:, 0] > 0)
    ankle, ball = (NAMES.index(f"l_{joint}") for joint in ("talocrural", "metatarsophalangeal"))
    weights, (back, front) = dense(skin)[low], (WEARER.skeleton.positions[joint, ::2] for joint in (ankle, ball))
    ahead = (spats.points[low][:, ::2] - front) @ (front - back) / np.linalg.norm(front - back)
    assert weights[:, [ankle, ball]].sum(axis=1).min() > 0.999
    assert weights[ahead < -0.036, ankle].min() > 0.999
    assert weights[ahead > 0.016, ball].min(initial=1.0) > 0.999
    order = np.argsort(ahead)
    assert np.diff(weights[order, ball]).min() > -1e-4  # alike across the foot: what lies farther ahead bends no less
    angle, height = np.meshgrid(np.linspace(0, 2 * np.pi, 60, endpoint=False), np.linspace(0.98, 1.04, 5))
    band = np.stack([0.17 * np.sin(angle), height, 0.14 * np.cos(angle)], axis=-1).reshape(-1, 3)
    i = np.arange(240)
    right = (i // 60) * 60 + (i + 1) % 60
    faces = np.concatenate([np.stack([i, i + 60, right], 1), np.stack([right, i + 60, right + 60], 1)]).astype(np.int32)
    assert worn_as_of(band, "rigid", WEARER) == "belt"
    assert worn_as_of(GARMENTS["gloves"].points, "glove", WEARER) == "cloth"  # a pair that hangs as low
    weights = dense(bind(band, faces, WEARER, Bind(), worn_as="belt").skin)
    assert borne_by(bind(band, faces, WEARER, Bind(), worn_as="belt").skin, "l_").max() == 0.0
    assert np.ptp(weights, axis=0).max() < 1e-6  # the same all round: it does not ripple


def rod(top: np.ndarray, long: float = 0.2) -> tuple[np.ndarray, np.ndarray]:
    mesh = trimesh.creation.cylinder(radius=0.006, height=long, sections=10)
    return mesh.vertices[:, [0, 2, 1]] + top - [0, long / 2, 0], np.ascontiguousarray(mesh.faces[:, ::-1], np.int32)


def lantern(**spring) -> Piece:
    hand = WEARER.skeleton.positions[NAMES.index("l_radiocarpal")]
    points, faces = rod(hand)
    bound = carried(points, WEARER, Bind(source="joint", joint="l_radiocarpal", spring=SpringOf(**spring)))
    return Piece(Mesh(points.astype(np.float32), faces), WEARER.shape, bound.skin, riders=bound.riders)


def test_what_hangs_without_stiffness_hangs_straight_down_and_stiff_springs_hold_it():
    loose = worn_points(lantern(stiffness=0.0, limit=3.0), WEARER, POSES["reach-up"]).astype(float)
    way = loose[np.argmin(loose[:, 1])] - loose[np.argmax(loose[:, 1])]
    assert abs(way[1]) / np.linalg.norm(way) > 0.997
    firm = lantern(stiffness=2000.0, gravity=0.0)
    stiff = worn_points(firm, WEARER, POSES["reach-up"])
    carried_only = worn_points(replace(firm, riders=replace(firm.riders, spring=None)), WEARER, POSES["reach-up"])
    assert np.abs(stiff - carried_only).max() < 1e-3


def test_a_swinging_link_keeps_the_period_of_a_physical_pendulum():
    long = 0.25
    links = Links(np.zeros((1, 3)), np.array([[0.0, -long, 0.0]]), np.array([-1]), Spring(0.0, 0.0, 1.0, 3.0))
    start = np.eye(4)[None].copy()
    tilt = np.deg2rad(5.0)
    start[0, :3, :3] = [[np.cos(tilt), -np.sin(tilt), 0], [np.sin(tilt), np.cos(tilt), 0], [0, 0, 1]]
    state, still = Swinging(links, start), np.eye(4)[None]
    angle = [np.arctan2(m[0, 1, 0], m[0, 0, 0]) for m in (state.advance(still, 1 / 240) for _ in range(1200))]
    down = [i for i in range(1, len(angle)) if angle[i - 1] > 0 >= angle[i]]
    period = np.diff(down).mean() / 240
    assert period == pytest.approx(2 * np.pi * np.sqrt(2 * long / (3 * 9.81)), rel=0.02)


def test_no_link_turns_farther_than_its_limit():
    piece = lantern(stiffness=0.0, limit=0.3)
    matrices = pose_matrices(WEARER, POSES["reach-up"])
    hung = rider_matrices(piece.riders, np.zeros(len(WEARER.shape)), matrices)[0, :3, :3]
    firm = carried_matrices(piece.riders, np.zeros(len(WEARER.shape)), matrices)[0, :3, :3]
    angle = np.arccos(np.clip((np.trace(hung @ firm.T) - 1) / 2, -1, 1))
    assert angle == pytest.approx(0.3, abs=0.01)


def test_a_loupe_made_on_one_face_sits_alike_on_others_and_keeps_its_form():
    eye = body_landmarks()["brow"]
    mesh = trimesh.creation.annulus(0.018, 0.022, 0.004)
    points = mesh.vertices + WEARER.points[eye] + [0.03, -0.02, 0.008]
    bound = carried(points, WEARER, Bind(source="joint", joint="skullbase"))
    got = follow(points, mesh.faces.astype(np.int32), WEARER, bound.skin, None, carried=NAMES.index("skullbase"))
    edges, _ = unique_edges(mesh.faces.astype(np.int32))
    for settings in ({"head_size": 1.0}, {"face_width": 1.0, "brow": 1.0}, {"stature": 1.0, "girth": 0.7}):
        other = shaped(figure(1), settings)
        there = points + np.tensordot(other.shape, got.deltas, axes=1)
        gap = lambda body, p: TriangleTree(body.points, body.body.triangles).signed_distance(p)[0].min()  # noqa: E731
        assert abs(gap(other, there) - gap(WEARER, points)) < 0.004
        long = [np.linalg.norm(p[edges[:, 0]] - p[edges[:, 1]], axis=1) for p in (points, there)]
        assert np.ptp(long[1] / long[0]) < 1e-3


def planted(kind: str) -> tuple:
    g = GARMENTS["trousers"]
    skin = bind(g.points, g.triangles, WEARER, Bind()).skin
    d = dense(skin)
    legs = np.flatnonzero((g.points[:, 0] > 0.05) & (np.abs(g.points[:, 1] - 0.6) < 0.03))
    if kind == "stray":
        d[legs, NAMES.index("skullbase")] = 0.2
    elif kind == "far":
        d[legs] = 0.0
        d[legs, NAMES.index("l_radiocarpal")] = 1.0
    elif kind == "unweighted":
        d[legs] = 0.0
        d[legs, 0] = 1.0
    elif kind == "jump":
        d[legs] = 0.0
        d[legs, NAMES.index("l_hip")] = 1.0
        d[legs[g.points[legs, 1] < 0.6]] = np.eye(len(NAMES))[NAMES.index("l_knee")]
    else:
        d[legs, NAMES.index("r_knee")] = 0.4
    joints, weights = np.empty((len(d), 4), np.int32), np.empty((len(d), 4), np.float32)
    keep_greatest(d / d.sum(axis=1, keepdims=True), 4, joints, weights)
    return g, Skin(joints, weights), legs, skin


@pytest.mark.parametrize("kind", ["stray", "far", "unweighted", "jump", "leak"])
def test_planted_faults_are_found_where_they_are_and_mended_to_what_was(kind: str):
    g, bad, legs, good = planted(kind)
    assert not check_weights(g.points, g.triangles, good, None, WEARER)  # clean weights are clean
    found = [f for f in check_weights(g.points, g.triangles, bad, None, WEARER) if f.kind == kind]
    assert found
    assert len(np.intersect1d(np.concatenate([f.rows for f in found]), legs)) > (0.1 if kind == "jump" else 0.9) * len(legs)
    made_good, told = mended(g.points, g.triangles, bad, None, WEARER, [kind], set())
    assert told.left == 0
    assert np.abs(dense(made_good) - dense(good))[legs].sum(axis=1).mean() < (0.6 if kind == "jump" else 0.25)
    untouched = np.setdiff1d(np.arange(len(g.points)), np.concatenate([f.rows for f in found]))
    if kind in ("stray", "far", "leak"):
        assert np.abs(dense(made_good) - dense(good))[untouched].max() < 1e-6


def test_the_weight_brush_adds_takes_locks_mirrors_and_stays_on_its_leg():
    g = GARMENTS["trousers"]
    mesh = Mesh(g.points.astype(np.float32), g.triangles, received=np.arange(len(g.points), dtype=np.int32))
    skin = bind(g.points, g.triangles, WEARER, Bind()).skin
    at = int(np.argmin(np.linalg.norm(g.points - [0.09, 0.62, 0.09], axis=1)))
    before = dense(skin)
    step = Weigh(tool="add", joint="l_knee", radius=0.06, strength=0.5, mirror=True, locks=("l_hip",), dabs=(at,))
    after = dense(painted_weights(mesh, skin, None, WEARER, step)[0])
    assert after[at, NAMES.index("l_knee")] > before[at, NAMES.index("l_knee")] + 0.05
    assert np.abs(after[:, NAMES.index("l_hip")] - before[:, NAMES.index("l_hip")])[g.points[:, 0] > 0].max() < 1e-5  # locked
    twin = int(np.argmin(np.linalg.norm(g.points - g.points[at] * [-1, 1, 1], axis=1)))
    assert after[twin, NAMES.index("r_knee")] == pytest.approx(after[at, NAMES.index("l_knee")], abs=0.02)
    plain = dense(painted_weights(mesh, skin, None, WEARER, step.model_copy(update={"mirror": False, "locks": ()}))[0])
    assert np.abs(plain - before)[g.points[:, 0] < -0.01].max() == 0.0
    assert np.abs(plain.sum(axis=1) - 1).max() < 1e-5
    taken = dense(painted_weights(mesh, skin, None, WEARER, Weigh(tool="take", joint="l_hip_twist", strength=1.0, dabs=(at,)))[0])
    assert taken[at, NAMES.index("l_hip_twist")] < 1e-3
    pair = dense(painted_weights(mesh, skin, None, WEARER, Weigh(tool="share", joint="l_hip", other="l_knee", strength=1.0, dabs=(at,)))[0])
    both = [NAMES.index("l_hip"), NAMES.index("l_knee")]
    assert pair[at, both].sum() == pytest.approx(before[at, both].sum(), abs=1e-3)
    filled = dense(painted_weights(mesh, skin, None, WEARER, Weigh(tool="fill", joint="l_knee", strength=1.0, region="l_knee"))[0])
    assert (filled[:, NAMES.index("l_knee")] > 0.99).sum() > 40
    with pytest.raises(InputError, match="no joint"):
        painted_weights(mesh, skin, None, WEARER, Weigh(tool="add", joint="l_wing", dabs=(at,)))


def test_the_bend_test_ranks_a_bad_joint_first():
    g, bad, _, good = planted("far")
    pieces = [Piece(Mesh(g.points.astype(np.float32), g.triangles), WEARER.shape, skin) for skin in (bad, good)]
    worst = bend_test(pieces[0], WEARER)[:6]
    assert any(b.joint in ("l_radiocarpal", "l_elbow", "l_shoulder") or b.stretch > 4 for b in worst)
    assert max(b.stretch for b in bend_test(pieces[1], WEARER)) < max(b.stretch for b in worst)


@pytest.mark.parametrize("kind", ["suit", "gloves", "hood", "robe"])
@pytest.mark.slow("core/bind", "core/follow", "core/figure")
def test_no_shape_alone_and_no_mix_of_shapes_puts_a_piece_under_the_skin(kind: str):
    g = GARMENTS[kind]
    bound = bind(g.points, g.triangles, WEARER, Bind(), worn_as=worn_as_of(g.points, g.category, WEARER))
    got = follow(g.points, g.triangles, WEARER, bound.skin, bound.riders)
    piece = Piece(Mesh(g.points.astype(np.float32), g.triangles), WEARER.shape, bound.skin, got.deltas, riders=got.riders,
                  correctives=got.correctives, fixes=got.fixes)
    rng = np.random.default_rng(5)
    own = [i for i, n in enumerate(figure(1).shapes) if n not in DRIVEN and n not in EXTRAS and not n.endswith(LEFT)]
    trials = [{i: v} for i in rng.choice(own, 6, replace=False) for v in (1.0, -1.0)]
    trials += [dict(zip(rng.choice(own, 5, replace=False), rng.uniform(-1, 1, 5), strict=True)) for _ in range(8)]
    inside = lambda p, there: (igl.winding_number(there.points.astype(float), there.body.triangles.astype(np.int64), p) > 0.5).mean()  # noqa: E731
    control, before = 0.0, inside(g.points.astype(float), WEARER)  # a glove's fingers touch as it is made
    for values in trials:
        shape = WEARER.shape.copy()
        for i, v in values.items():
            shape[i] = v
        there = shaped(figure(1), shape)
        assert inside(at_rest(piece, there).astype(float), there) <= before + 0.001
        control = max(control, inside(g.points.astype(float), there))
    assert control > 0.01 or kind == "robe"  # a piece that stays as it is does end under the skin


def test_what_a_sum_of_moves_leaves_under_the_skin_gets_a_corrective():
    g = GARMENTS["suit"]
    near = footing(g.points, g.triangles, WEARER)
    tight = g.points - near.offset * (1 - 0.0005 / np.linalg.norm(near.offset, axis=1, keepdims=True))
    skin = bind(tight, g.triangles, WEARER, Bind()).skin
    deltas = follow(tight, g.triangles, WEARER, skin, step=Follow(clear=False)).deltas
    belly = figure(1).shapes.index("belly")
    deltas[belly] *= 0.9  # a belly that the piece follows nine tenths of the way
    ground = ground_under(tight, g.triangles, WEARER, footing(tight, g.triangles, WEARER), ())
    shapes = StrongShapes(tight, g.triangles, WEARER.body.shapes, ground, deltas, 0.0004, np.full(len(tight), -1))
    before = (shapes.short({belly: 1.0})[0] > 0).sum()
    assert before > 20
    assert shapes.clear({belly: 1.0})
    assert (shapes.short({belly: 1.0})[0] > 0).sum() < 0.05 * before
    assert shapes.correctives[0].shapes == (("belly", 1.0),)


def test_a_hat_keeps_its_circle_and_a_sole_its_plane():
    angle = np.linspace(0, 2 * np.pi, 48, endpoint=False)
    top = WEARER.points[:, 1].max()
    profile = ((0.19, -0.08), (0.13, -0.07), (0.12, 0.05))
    rings = [np.stack([r * np.sin(angle), np.full(48, top + y), r * np.cos(angle)], axis=1) for r, y in profile]
    i = np.arange(96)
    right = (i // 48) * 48 + (i + 1) % 48
    faces = np.concatenate([np.stack([i, right, i + 48], 1), np.stack([right, right + 48, i + 48], 1)]).astype(np.int32)
    hat = np.concatenate(rings)
    skin = bind(hat, faces, WEARER, Bind(), worn_as="head").skin
    deltas = follow(hat, faces, WEARER, skin, worn_as="head", step=Follow(clear=False)).deltas
    spats = GARMENTS["spats"]
    sole_skin = bind(spats.points, spats.triangles, WEARER, Bind(), worn_as="sole").skin
    soles = follow(spats.points, spats.triangles, WEARER, sole_skin, worn_as="sole", step=Follow(clear=False)).deltas
    low = (spats.points[:, 0] > 0) & (spats.points[:, 1] < spats.points[:, 1].min() + 0.015)
    for name in ("head_size", "face_width", "foot_length", "foot_width", "stature"):
        s = figure(1).shapes.index(name)
        brim = (hat + deltas[s])[:48]
        far = np.linalg.norm(brim - brim.mean(0), axis=1)
        assert far.std() / far.mean() < 1e-4
        assert np.ptp(soles[s][low, 1]) < 1e-6


def test_pose_correctives_come_in_with_their_pose_alone_and_never_jump():
    g = GARMENTS["trousers"]
    skin = bind(g.points, g.triangles, WEARER, Bind()).skin
    piece = Piece(Mesh(g.points.astype(np.float32), g.triangles), WEARER.shape, skin)
    moves = {p: np.full_like(g.points, 0.01 * (k + 1)) for k, p in enumerate(("kneel", "sit", "stride"))}
    for pose, move in moves.items():
        piece = with_fix(piece, WEARER.body, POSES[pose], move, pose)
    for pose in moves:
        shares = fix_values(piece, WEARER, POSES[pose].rotations)
        assert np.abs(shares - [pose == p for p in moves]).max() < 1e-6
    assert np.abs(fix_values(piece, WEARER, {})).max() == 0.0
    path = [{j: slerp(np.array([0, 0, 0, 1.0]), np.asarray(q, float), np.array(t)) for j, q in POSES["kneel"].rotations.items()}
            for t in np.linspace(0, 1, 200)]
    along = np.array([fix_values(piece, WEARER, p) for p in path])
    assert np.abs(np.diff(along, axis=0)).max() < 0.03  # of 1, over a two-hundredth of the way
    assert along[-1, 0] == pytest.approx(1.0, abs=1e-6)


def test_clearing_for_the_pose_alone_leaves_poses_that_turn_the_same_joints_otherwise_as_they_were(coat, ibbet):
    """What it moves may be an armpit's: that comes in where the arms hang as they do there, and not where they are lifted."""
    cell = Cell(shape={}, pose="kneel-both")
    tight = run_step(coat, ibbet, Clear(cells=(cell,), keep="pose"))
    told = tight.report_of(ClearReport).cells[0]
    if told.before.places:
        assert told.after.area_cm2 < told.before.area_cm2
        assert tight.examples is not None
    for pose in ("reach-up", "arms-out"):
        gap = np.linalg.norm(worn_points(tight, ibbet, POSES[pose]) - worn_points(coat, ibbet, POSES[pose]), axis=1)
        assert gap.max() < 0.002


def test_work_done_by_hand_in_a_pose_is_where_it_was_put_there():
    g = GARMENTS["trousers"]
    mesh = Mesh(g.points.astype(np.float32), g.triangles, received=np.arange(len(g.points), dtype=np.int32))
    skin = bind(g.points, g.triangles, WEARER, Bind()).skin
    piece = Piece(mesh, WEARER.shape, skin)
    at = int(np.argmin(np.linalg.norm(g.points - [0.09, 0.62, 0.09], axis=1)))
    stroke = Stroke(tool="pull", radius=0.05, dabs=(HandDab(at=at, move=(0.0, 0.03, 0.02)),))
    before = worn_points(piece, WEARER, POSES["kneel"])
    fixed = run_step(piece, WEARER, Fix(cell=Cell(pose="kneel"), strokes=(stroke,)))
    after = worn_points(fixed, WEARER, POSES["kneel"])
    assert np.abs(after[at] - before[at] - [0.0, 0.03, 0.02]).max() < 1e-4
    still = worn_points(fixed, WEARER, POSES["stand"]) - worn_points(piece, WEARER, POSES["stand"])
    assert np.abs(still).max() < 2e-3
    wide = run_step(piece, WEARER, Fix(cell=Cell(pose="kneel"), values={"out": 1.0}))  # an adjuster keyed to a pose
    assert np.linalg.norm(worn_points(wide, WEARER, POSES["kneel"]) - before, axis=1).mean() > 0.02


def test_wearing_on_mends_what_shows_and_says_what_it_cannot():
    g = GARMENTS["suit"]
    skin = bind(g.points, g.triangles, WEARER, Bind()).skin
    still = np.zeros((len(figure(1).shapes), len(g.points), 3), np.float32)
    half = 0.985 * follow(g.points, g.triangles, WEARER, skin, step=Follow(clear=False)).deltas
    heavy = shape_values(figure(1), {"girth": 0.9, "belly": 0.8})
    good = Piece(Mesh(g.points.astype(np.float32), g.triangles), WEARER.shape, skin, half)
    assert wear_on(good, figure(1), WEARER.shape).state == "done"
    lost = wear_on(Piece(good.mesh, WEARER.shape, skin, still), figure(1), heavy)
    assert lost.state == "needs"
    assert "%" in lost.why or lost.under_before > 0.2
