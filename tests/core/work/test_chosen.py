"""Faces chosen by hand against shapely and plain geometry, and bodies mixed of two."""

import numpy as np
import pytest
import shapely
import trimesh

from wily_heron.core.bodies.select import grown, in_lasso, of_material, run_of
from wily_heron.core.errors import InputError
from wily_heron.core.figure.cast import CAST
from wily_heron.core.mesh.mesh import Material, Mesh
from wily_heron.core.model.model import Model
from wily_heron.core.motion.mixes import mixes

FACING = np.array([[1.0, 0, 0, 0], [0, 1.0, 0, 0], [0, 0, 0, 0], [0, 0, -1.0, 4.0]])
"""What is seen from four metres up the z axis: x and y over the distance."""


def _laid(*parts: trimesh.Trimesh, materials: tuple[int, ...]) -> Model:
    """Parts beside one another, each of the material told; none share points."""
    begin = np.cumsum([0, *(len(p.vertices) for p in parts)])
    points = np.concatenate([p.vertices for p in parts]).astype(np.float32)
    triangles = np.concatenate([p.faces + b for p, b in zip(parts, begin, strict=False)]).astype(np.int32)
    of = np.concatenate([np.full(len(p.faces), m, np.int32) for p, m in zip(parts, materials, strict=True)])
    return Model(Mesh(points, triangles, triangle_material=of, materials=tuple(Material(f"m{k}") for k in range(max(materials) + 1))),
                 triangle_object=np.zeros(len(triangles), np.int32))


def _ball(radius: float, *at: float) -> trimesh.Trimesh:
    ball = trimesh.creation.icosphere(subdivisions=3, radius=radius)
    ball.apply_translation(at)
    return ball


@pytest.mark.parametrize("seed", range(4))
def test_a_lasso_takes_the_faces_whose_middle_lies_in_it(seed: int):
    """Any loop that does not cross itself, against shapely; what lies behind the eye is not taken."""
    random = np.random.default_rng(seed)
    model = _laid(_ball(0.6, 0.2, 0, 0), _ball(0.4, -0.5, 0.3, 1.0), _ball(0.5, 0, 0, 8.0), materials=(0, 1, 0))
    turn = np.sort(random.uniform(0, 2 * np.pi, 17))
    loop = np.stack([np.cos(turn), np.sin(turn)], axis=1) * random.uniform(0.02, 0.22, (17, 1))
    middle = model.mesh.points[model.mesh.triangles].astype(float).mean(axis=1)
    seen = middle[:, :2] / (4.0 - middle[:, 2:])
    wanted = shapely.contains_xy(shapely.Polygon(loop), *seen.T) & (middle[:, 2] < 4.0)
    assert wanted.any()
    assert np.array_equal(in_lasso(model, FACING, loop, np.array([0, 0, 4.0]), through=True), wanted)


def test_a_lasso_that_does_not_go_through_takes_what_is_seen():
    """Of a ball the faces turned to the eye, and nothing of a small one that hides wholly behind it."""
    model = _laid(_ball(0.6, 0, 0, 0), _ball(0.2, 0, 0, -1.2), materials=(0, 0))
    every = np.array([[-1.0, -1], [1, -1], [1, 1], [-1, 1]])
    eye = np.array([0, 0, 4.0])
    taken = in_lasso(model, FACING, every, eye, through=False)
    corner = model.mesh.points[model.mesh.triangles].astype(float)
    normal = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
    turned = np.sum(normal * (eye - corner.mean(axis=1)), axis=1) > 0
    large = np.arange(len(corner)) < len(corner) // 2
    assert np.array_equal(taken[large], turned[large])
    assert not taken[~large].any()
    assert in_lasso(model, FACING, every, eye, through=True).all()


def test_rings_are_added_and_taken_away_point_by_point():
    model = _laid(_ball(0.5, 0, 0, 0), materials=(0,))
    faces = [set(t) for t in model.mesh.triangles.tolist()]
    chosen = np.zeros(len(faces), bool)
    chosen[[3, 200]] = True
    touched = set().union(*(faces[k] for k in np.flatnonzero(chosen)))
    wider = np.array([bool(f & touched) for f in faces])
    assert np.array_equal(grown(model, chosen), wider)
    outside = set().union(*(faces[k] for k in np.flatnonzero(~wider)))
    assert np.array_equal(grown(model, wider, -1), wider & ~np.array([bool(f & outside) for f in faces]))
    assert grown(model, chosen, 40).all()


def test_a_run_ends_where_the_material_or_the_surface_does():
    """A ball in two materials along its equator, and another ball of the first."""
    model = _laid(_ball(0.5, 0, 0, 0), _ball(0.3, 2.0, 0, 0), materials=(0, 0))
    high = model.mesh.points[model.mesh.triangles][:, :, 1].mean(axis=1) > 0
    first = np.arange(len(high)) < len(high) // 2
    model.mesh.triangle_material[first & high] = 1
    at = int(np.flatnonzero(first & high)[5])
    assert np.array_equal(run_of(model, at), first & high)
    assert np.array_equal(run_of(model, len(high) - 1), ~first)
    assert np.array_equal(of_material(model, len(high) - 1), ~(first & high))
    with pytest.raises(InputError, match="no face"):
        run_of(model, len(high))


def test_mixes_lie_on_the_way_from_one_wearer_to_another():
    """Every second is a mix and nothing else: some pair, the plain figure among them, and some share account for all its settings."""
    cast = [{n: float(v) for n, v in wearer.items()} for wearer in CAST.values()]
    made = mixes(cast, 40, seed=5)
    assert made == mixes(cast, 40, seed=5) != mixes(cast, 40, seed=6)
    assert all(-1.0 <= v <= 1.0 for mix in made for v in mix.values())
    names = sorted({n for mix in made for n in mix})
    ends = np.array([[w.get(n, 0.0) for n in names] for w in [*cast, {}]])

    def misses(mix: dict[str, float]) -> float:
        at = np.array([mix.get(n, 0.0) for n in names])
        inside = np.abs(at) < 1.0  # what would go beyond is kept to one
        worst = []
        for a in ends:
            for b in ends:
                way = (b - a)[inside]
                share = float(np.clip(way @ (at - a)[inside] / max(way @ way, 1e-12), -0.25, 1.25))
                worst.append(np.abs((at - a)[inside] - share * way).max(initial=0.0))
        return min(worst)

    assert max(misses(mix) for mix in made[::2]) < 2e-3
    turned = [misses(mix) for mix in made[1::2]]
    assert np.median(turned) > 0.02
    assert max(turned) < 0.6
