"""Fitting judged by known correspondence: pieces made by one rule on one body, and where that rule puts them on another."""

import numpy as np
import pytest

from bench.fit_truth import EASE, Made, bodies, made, roughly, with_arms
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.rotation import turn
from wily_heron.core.figure.base.skeleton import quaternion_matrix
from wily_heron.core.figure.figure import figure
from wily_heron.core.fit.fit import Fitted, fit
from wily_heron.core.fit.target import FitTarget
from wily_heron.core.mesh.edges import edge_use, unique_edges
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.space.tree import TriangleTree
from wily_heron.core.space.under import Under

BODIES = bodies()
PAIRS = (("slight", "heavy", 20), ("broad", "curved", -20))


def newly_pierced(piece: Made, points: np.ndarray, got: Fitted) -> np.ndarray:
    edges, _ = edge_use(piece.triangles)
    before, after = (TriangleTree(p, piece.triangles).pierced(edges) for p in (points, got.points))
    return after & ~before


def fitted(piece: Made, to: str, points: np.ndarray, pins: dict, ease: float, source: np.ndarray | None = None) -> Fitted:
    on = BODIES[to]
    stand = FitTarget(Under.of(on.points, on.body.triangles), on.points, on.shape, source)
    step = Fit(ease=ease, pins={name: (float(p[0]), float(p[1]), float(p[2])) for name, p in pins.items()})
    return fit(points, piece.triangles, stand, step, rigid=piece.rigid)


@pytest.mark.parametrize("kind", ["shirt", "trousers", "suit", "coat", "vest", "hood", "spats", "tabard", "gloves"])
@pytest.mark.parametrize(("made_on", "worn_by", "arms"), PAIRS)
def test_a_rough_piece_of_no_known_source_lands_where_its_maker_would_put_it(kind: str, made_on: str, worn_by: str, arms: float):
    piece = made(kind, with_arms(BODIES[made_on], arms))
    points, pins = roughly(piece, np.random.default_rng(11))
    got = fitted(piece, worn_by, points, pins, EASE.get(kind, 0.008))
    truth = made(kind, BODIES[worn_by].points).points
    off = np.linalg.norm(got.points - truth, axis=1)
    assert (off.mean() < 0.007, np.quantile(off, 0.95) < 0.016) == (True, True)
    edges, _ = unique_edges(piece.triangles)
    long = lambda p: np.linalg.norm(p[edges[:, 0]] - p[edges[:, 1]], axis=1)  # noqa: E731
    change, due = np.log(long(got.points) / long(points)), np.log(long(truth) / long(points))
    assert np.std(change) < max(0.12, np.std(due) + 0.05)  # bodies far apart stretch a snug piece whoever makes it
    assert not newly_pierced(piece, points, got).any()
    if piece.rigid.any():  # buttons are as round as they were, whatever size the piece was brought to
        stiff = change[piece.rigid[edges].all(axis=1)]
        assert np.ptp(stiff) < 1e-3


@pytest.mark.parametrize("kind", ["shirt", "trousers", "suit", "coat", "vest", "hood", "spats", "tabard", "gloves"])
def test_from_its_source_body_a_piece_lands_within_millimetres_and_at_its_ease(kind: str):
    made_on, worn_by, _ = PAIRS[0]
    piece, truth = made(kind, BODIES[made_on].points), made(kind, BODIES[worn_by].points)
    got = fitted(piece, worn_by, piece.points, {}, EASE.get(kind, 0.008), BODIES[made_on].points)
    off = np.linalg.norm(got.points - truth.points, axis=1)
    assert (off.mean() < 0.002, np.quantile(off, 0.95) < 0.005) == (True, True)
    at_ease = np.abs(got.clearance - EASE.get(kind, 0.008))[piece.rests & ~piece.rigid]
    assert (at_ease < 0.001).mean() > 0.95
    assert not newly_pierced(piece, piece.points, got).any()


def test_arms_at_another_angle_are_told():
    piece = made("shirt", with_arms(BODIES["tall"], -20))
    got = fitted(piece, "tall", piece.points, piece.pins, 0.008)
    assert abs(got.report.stance["l_shoulder raise"] - got.report.stance["r_shoulder raise"]) < 80
    assert 10 < abs(got.report.stance["l_shoulder raise"]) < 28


def test_an_inside_out_piece_is_said_and_fits_all_the_same():
    piece = made("shirt", BODIES["tall"].points)
    turned = Made(piece.points, piece.triangles[:, ::-1], piece.rests, piece.rigid, piece.pins)
    got = fitted(turned, "tall", piece.points, {}, 0.008)
    assert any("inside out" in text for text in got.report.said)
    assert np.quantile(np.linalg.norm(got.points - piece.points, axis=1), 0.95) < 0.016


def test_a_piece_for_another_species_is_said_or_refused():
    """A blanket for a four-legged beast: a long barrel lying at knee height, far wider than any person."""
    around, along = np.meshgrid(np.linspace(0, 2 * np.pi, 60, endpoint=False), np.linspace(-0.8, 0.8, 50))
    points = np.stack([0.45 * np.cos(around), 0.55 + 0.45 * np.sin(around), along], axis=-1).reshape(-1, 3)
    i = np.arange(60 * 49)
    right = (i // 60) * 60 + (i + 1) % 60
    faces = np.concatenate([np.stack([i, i + 60, right], axis=1), np.stack([right, i + 60, right + 60], axis=1)]).astype(np.int32)
    barrel = Made(points, faces, np.zeros(len(points), bool), np.zeros(len(points), bool), {})
    try:
        got = fitted(barrel, "tall", points, {}, 0.008)
    except InputError:
        return  # refused with what to do about it
    assert got.report.said
    assert got.report.confidence < 0.5


def test_a_wrong_source_is_said():
    piece = made("shirt", BODIES["heavy"].points)
    tilted = piece.points @ quaternion_matrix(turn([1, 0, 0], 70)).T
    try:
        got = fitted(piece, "tall", tilted + [0, 0.3, 0.2], {}, 0.008, BODIES["slight"].points)
    except InputError:
        return  # refused with what to do about it
    assert got.report.said or got.report.confidence < 0.4


def test_painted_ease_and_layers_are_kept():
    shirt = made("shirt", BODIES["tall"].points)
    on = BODIES["tall"]
    under = Under.of(on.points, on.body.triangles, [(shirt.points, shirt.triangles)])
    outer = made("vest", on.points)
    got = fit(outer.points, outer.triangles, FitTarget(under, on.points, on.shape, on.points), Fit(ease=0.003))
    inner = TriangleTree(shirt.points, shirt.triangles)
    near = inner.nearest(got.points, limit=0.03)
    over = np.sum((got.points - near.point) * inner.normals[np.maximum(near.triangle, 0)], axis=1)
    assert np.quantile(over[near.triangle >= 0], 0.03) > 0.002
    ease = np.full(len(outer.points), 0.003)
    ease[outer.points[:, 1] > np.median(outer.points[:, 1])] = 0.015
    roomy = fit(outer.points, outer.triangles, FitTarget(Under.of(on.points, on.body.triangles), on.points, on.shape, on.points),
                Fit(ease=0.003), ease)
    assert (roomy.clearance >= ease - 0.001).mean() > 0.99


def test_the_level_one_figure_is_what_the_truth_is_made_on():
    assert len(BODIES["tall"].points) == len(figure(1).base)


@pytest.mark.parametrize("degrees", [0, 40, 80])
def test_cloth_in_a_cleft_has_the_room_of_the_ball_that_fits_into_it(degrees: int):
    """Between two plates that open by an angle, the ball on a foot has the radius distance from the edge times tan of half of it."""
    if degrees:
        half, foot = np.radians(degrees) / 2, 0.004
        way = np.array([[np.sin(half), np.cos(half), 0.0], [-np.sin(half), np.cos(half), 0.0]])
        normals, radius = np.array([[-np.cos(half), np.sin(half), 0.0], [np.cos(half), np.sin(half), 0.0]]), foot * np.tan(half)
        corner = lambda k, s, z: s * way[k] + [0, 0, z]  # noqa: E731
        at = foot * way[0]
    else:
        normals, radius = np.array([[0.0, 1, 0], [0, -1, 0]]), 0.003
        corner = lambda k, s, z: np.array([s - 0.02, 0.006 * k, z])  # noqa: E731
        at = np.zeros(3)
    points = np.array([corner(k, s, z) for k in (0, 1) for s in (0.0, 0.04) for z in (-0.02, 0.02)])
    quads = np.array([[0, 1, 3], [0, 3, 2], [4, 5, 7], [4, 7, 6]])
    up = np.cross(points[quads[:, 1]] - points[quads[:, 0]], points[quads[:, 2]] - points[quads[:, 0]])
    wrong = np.sum(up * np.repeat(normals, 2, axis=0), axis=1) < 0
    quads[wrong] = quads[wrong][:, ::-1]
    under = Under.of(points, quads.astype(np.int32))
    lifted = (at + 0.0005 * normals[0])[None]
    room = under.room(lifted, np.array([0.0005]), normals[:1], np.array([0.02]))
    assert room[0] == pytest.approx(radius, rel=0.05)
