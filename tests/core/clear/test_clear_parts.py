"""What clearing is made of: threads drawn together, room from open borders, correctives made less, moves that stop short."""

import numpy as np
import pytest
import trimesh

from bench.clearing import bodies, dressed_in
from bench.cloth_shapes import sheet_of
from wily_heron.core.clear.fall.threads import GOAL, Threads
from wily_heron.core.clear.outfit.self_intersections import apart
from wily_heron.core.clear.pose_fix import lessened, with_fix
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.cover.rest_layer import BORDER, border_room
from wily_heron.core.clearance.cover.samples import some_of_each
from wily_heron.core.clearance.find.view_directions import OTHERS, PLAIN, SIDES, USUAL
from wily_heron.core.mesh.edges import unique_edges
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.space.tree import TriangleTree


def test_long_threads_are_drawn_together_between_what_is_held():
    """A sheet a fifth too long, thrown from side to side between its ends, which are held."""
    rest, faces = sheet_of(0.2, 0.6, 0.02)
    long = rest * [1.0, 1.0, 1.2]
    ends = (rest[:, 2] < 0.01) | (rest[:, 2] > 0.59)
    long[~ends, 0] += 0.3 * np.sin(20 * rest[~ends, 2])
    threads, at = Threads(rest, faces, np.ones(len(rest), bool)), long.copy()
    assert threads.stretch(at) > 2.0
    assert any(threads.slacken(at, ~ends) and threads.stretch(at) <= GOAL for _ in range(80))
    edges, _ = unique_edges(faces)
    size = np.linalg.norm(at[edges[:, 0]] - at[edges[:, 1]], axis=1) / np.linalg.norm(rest[edges[:, 0]] - rest[edges[:, 1]], axis=1)
    assert size.max() <= GOAL
    assert np.array_equal(at[ends], long[ends])


@pytest.mark.parametrize("width", [0.3, 0.04])
def test_room_from_a_border_is_the_way_along_the_cloth_less_its_margin(width: float):
    """Along the edges of even triangles it is no shorter than straight on, and no longer than that over the cosine of 30 degrees."""
    points, faces = sheet_of(width, 0.5, 0.005)
    straight = np.minimum.reduce([points[:, 0], width - points[:, 0], points[:, 2], 0.5 - points[:, 2]])
    room = border_room(points, faces)
    along = room + (BORDER if width > 4 * BORDER else room.max())  # what is narrow has a margin of half its way in
    assert (along >= straight - 1e-6).all()
    assert (along <= straight / np.cos(np.pi / 6) + 0.006).all()


def test_a_corrective_made_less_moves_the_posed_piece_by_that_share():
    wearer, pose = bodies()["lean"], POSES["reach-forward"]
    shirt = dressed_in(("shirt",), wearer)["shirt"]
    random = np.random.default_rng(2)
    once = with_fix(shirt, wearer.body, pose, random.normal(0, 0.004, shirt.mesh.points.shape), pose.label)
    twice = with_fix(once, wearer.body, pose, random.normal(0, 0.004, shirt.mesh.points.shape), pose.label)
    share = random.uniform(0, 1, len(shirt.mesh.points))
    for before in (shirt, once):
        was, full, less = (Dressed(wearer, {"shirt": p}).measure(pose).layers[0].points
                           for p in (before, twice, lessened(twice, before, wearer.body, pose, share)))
        assert np.abs(less - (was + share[:, None] * (full - was))).max() < 1e-6


@pytest.mark.parametrize("seed", range(6))
def test_what_would_go_through_itself_goes_no_farther_than_it_can(seed: int):
    """A tube pressed flat and beyond by blows from all round: each stops short, and what no blow touches goes all the way."""
    random = np.random.default_rng(seed)
    sheet, faces = sheet_of(2 * np.pi, 3.0, 0.12)
    start = np.column_stack([np.cos(sheet[:, 0] * 0.97), sheet[:, 2], np.sin(sheet[:, 0] * 0.97)]) * [0.2, 0.2, 0.2]
    move = np.zeros_like(start) + [0.0, 0.0, 0.01]
    for at in start[random.integers(0, len(start), 4)]:
        blow = np.exp(-np.sum((start - at) ** 2, axis=1) / 0.06**2)
        move -= blow[:, None] * at * [2.4, 0.0, 2.4]
    edges, _ = unique_edges(faces)
    count = lambda p: int(TriangleTree(p, faces).pierced(edges).sum())  # noqa: E731
    share = apart(start, start + move, faces)
    assert (count(start), count(start + move) > 0, count(start + share[:, None] * move)) == (0, True, 0)
    assert share.min() < 1.0
    assert (share == 1.0).mean() > 0.3


def test_sides_are_looked_from_all_round_and_each_has_those_beside_it_before_it():
    """No way out of a ball is far from a side: 12 degrees anywhere, 5 about straight up and down, where one sees between legs."""
    ways = np.asarray(trimesh.creation.icosphere(subdivisions=4).vertices)
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    apart = np.degrees(np.arccos(np.clip((ways @ SIDES.T).max(axis=1), -1, 1)))
    assert apart.max() < 12.0
    assert apart[np.abs(ways[:, 1]) > np.cos(np.radians(15.0))].max() < 5.0
    assert len(np.unique(SIDES.round(6), axis=0)) == len(SIDES) == 350
    for views in (PLAIN, OTHERS, USUAL):
        own = np.arange(len(views.directions))[:, None]
        cosine = np.einsum("va,vba->vb", views.directions, views.directions[views.beside])
        assert ((views.beside < own) & (cosine > 0.5) | (views.beside == own)).all()
        assert (views.beside < own).any(axis=1).mean() > 0.75


def test_some_points_of_each_face_come_one_of_each_face_at_a_time():
    """The first three of each face in the order given, and three spread over all of its: told by going through them one by one."""
    random = np.random.default_rng(3)
    for _ in range(40):
        faces = int(random.integers(1, 12))
        of = np.sort(random.integers(0, faces, random.integers(1, 150)))
        points = random.permutation(len(of))[: random.integers(1, len(of) + 1)]
        mine = {face: [p for p in points if of[p] == face] for face in range(faces)}
        wanted = {face: [p for k, p in enumerate(these) if k < 3 or k in ((len(these) - 1) // 3, 2 * (len(these) - 1) // 3, len(these) - 1)]
                  for face, these in mine.items()}
        told = list(some_of_each(points, of, faces, 3))
        assert sorted(told) == sorted(p for these in wanted.values() for p in these)
        turn = [wanted[of[p]].index(p) for p in told]
        assert turn == sorted(turn)
        place = {p: k for k, p in enumerate(points)}
        assert all(place[a] < place[b] for a, b, s, t in zip(told, told[1:], turn, turn[1:], strict=False) if s == t)
