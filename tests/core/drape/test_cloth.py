"""Cloth against the trade's own tests and against mechanics whose answer is known."""

import numba
import numpy as np
import pytest
from scipy.spatial import KDTree

from bench.cloth_shapes import ball, shadow, sheet_of
from wily_heron.core.drape.cloth import Cloth, Weather, Worn
from wily_heron.core.drape.collider import Collider
from wily_heron.core.drape.colouring import lanes
from wily_heron.core.drape.kernels.self_contact_kernels import pairs
from wily_heron.core.drape.sheet import sheet
from wily_heron.core.drape.swatch import swatch
from wily_heron.core.model.steps.fabric import FABRICS, Fabric

G = 9.81
VACUUM = {"air": 0.0}


def fast(held: np.ndarray) -> Worn:
    rows = np.flatnonzero(held)
    return Worn(rows, np.ones(len(rows)))


def run(cloth: Cloth, frames: int) -> np.ndarray:
    for _ in range(frames):
        cloth.frame()
    return cloth.points


@pytest.mark.parametrize(("rigidity", "side", "width", "times"),
                         [(1e-4, 0.006, 0.025, 1.0), (1e-4, 0.006, 0.10, 1.0), (2.1e-4, 0.007, 0.05, 1.0), (1e-4, 0.006, 0.05, 8.0)])
def test_a_cantilever_gives_back_the_bending_rigidity_it_was_made_with(rigidity: float, side: float, width: float, times: float):
    """Peirce, J. Text. Inst. 21 (1930): G = w c^3, the bending length c from the overhang and the angle of its chord. A fabric of an
    eighth of the rigidity, made eight times as stiff, gives the same."""
    fabric = FABRICS["linen"].model_copy(update={"bend_warp": rigidity / times, "bend_weft": rigidity / times, "damping": 2.0})
    over = 2 * (rigidity / (fabric.weight * G)) ** (1 / 3)
    points, faces = sheet_of(1.25 * over, width, side)
    held = points[:, 0] <= 0.25 * over + side / 2
    clamp = points[held, 0].max() - side / 2  # the last held row bends over half a face
    along = np.tile([1.0, 0, 0], (len(faces), 1))
    cloth = Cloth(sheet(points, faces, fabric, held, along, flat=True, stiffer=np.full(len(points), times)), worn=fast(held),
                  substeps=80, crowd=False)
    now = run(cloth, 96)
    tip = now[points[:, 0] > points[:, 0].max() - 1e-9].mean(axis=0)
    angle = np.arctan2(-tip[1], tip[0] - clamp)
    length = (points[:, 0].max() - clamp) * (np.cos(angle / 2) / (8 * np.tan(angle))) ** (1 / 3)
    assert length**3 * fabric.weight * G == pytest.approx(rigidity, rel=0.08)
    assert cloth.bending_met > 0.9


@pytest.mark.slow("core/drape")
def test_a_hanging_sheet_of_ten_thousand_stretches_as_the_linear_solution_says():
    fabric = FABRICS["linen"]
    points, faces = sheet_of(1.0, 1.0, 0.0108, hanging=True)
    assert 9_500 < len(points) < 10_800
    cloth = Cloth(sheet(points, faces, fabric, points[:, 1] > -1e-6), worn=fast(points[:, 1] > -1e-6))
    run(cloth, 60)
    below = 1 + cloth.x[cloth.sheet.threads][:, :, 1].mean(axis=1)
    linear = fabric.weight * G * below / fabric.warp  # the weight below a thread over its stiffness
    off = np.abs(cloth.strain() - linear)
    assert off.mean() < 0.003
    assert off.max() < 0.015


def coefficient(name: str, side: float = 0.008) -> float:
    """The drape coefficient by ISO 9073-9, its shadow counted dot by dot."""
    hung = swatch(FABRICS[name], side)
    share = (shadow(hung.points, hung.triangles) - np.pi * 0.09**2) / (np.pi * (0.15**2 - 0.09**2))
    assert hung.coefficient == pytest.approx(share, abs=0.003)
    return share


@pytest.mark.slow("core/drape")
def test_drape_coefficients_are_ordered_as_cloths_are_and_lie_where_they_are_published():
    # Collier, Clothing Text. Res. J. 10 (1991); Cusick, J. Text. Inst. 59 (1968); Hu, Structure and mechanics of woven fabrics (2004)
    ranges = {"fine knit": (0.10, 0.35), "wool suiting": (0.25, 0.55), "cotton shirting": (0.35, 0.75), "linen": (0.40, 0.80),
              "denim": (0.60, 0.90), "leather": (0.80, 0.99)}
    found = {name: coefficient(name) for name in ranges}
    assert list(found) == sorted(found, key=lambda name: found[name])
    for name, (low, high) in ranges.items():
        assert low <= found[name] <= high, name


@pytest.mark.slow("core/drape")
def test_the_drape_of_a_disc_does_not_depend_on_its_mesh():
    fine, middle, coarse = (coefficient("linen", side) for side in (0.006, 0.008, 0.012))
    assert fine == pytest.approx(middle, rel=0.10)
    assert coarse == pytest.approx(middle, rel=0.10)


def slope(degrees: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A plane of 3 m tilted about Z, and the way down it."""
    a = np.radians(degrees)
    down = np.array([np.cos(a), -np.sin(a), 0.0])
    u, v = np.meshgrid(np.linspace(-1.5, 1.5, 7), np.linspace(-1.5, 1.5, 7))
    points = u.reshape(-1, 1) * down + v.reshape(-1, 1) * np.array([0.0, 0.0, 1.0])
    i = np.arange(49).reshape(7, 7)
    quad = np.stack([i[:-1, :-1], i[1:, :-1], i[1:, 1:], i[:-1, 1:]], axis=-1).reshape(-1, 4)
    faces = np.concatenate([quad[:, [0, 1, 2]], quad[:, [0, 2, 3]]]).astype(np.int32)
    return points, faces, down


@pytest.mark.parametrize("degrees", [18.0, 35.0])
def test_cloth_on_a_slope_slides_as_coulomb_says(degrees: float):
    fabric = FABRICS["linen"].model_copy(update={"friction": 0.5, "damping": 0.0})
    plane, faces, down = slope(degrees)
    normal = np.cross([0.0, 0.0, 1.0], down)
    flat, cloth_faces = sheet_of(0.3, 0.3, 0.03)
    patch = (flat[:, :1] - 0.15) * down + (flat[:, 2:] - 0.15) * np.array([0.0, 0.0, 1.0])
    cloth = Cloth(sheet(patch, cloth_faces, fabric, flat=True), Collider(plane, faces), weather=Weather(**VACUUM), crowd=False)
    cloth.x += (cloth.thick - 1e-4)[:, None] * normal
    slid = []
    for _ in range(24):
        cloth.collider.go_to(plane)
        cloth.frame()
        slid.append(float((cloth.v @ down).mean()))
    pull = G * (np.sin(np.radians(degrees)) - 0.5 * np.cos(np.radians(degrees)))
    assert slid[-1] - slid[11] == pytest.approx(max(pull, 0.0) * 0.5, abs=0.03 * G)


def test_in_a_vacuum_a_sheet_falls_as_a_stone_and_turns_no_momentum_into_itself():
    points, faces = sheet_of(0.4, 0.4, 0.02)
    fabric = FABRICS["wool suiting"].model_copy(update={"damping": 0.0})
    cloth = Cloth(sheet(points, faces, fabric, flat=True), weather=Weather(**VACUUM), crowd=False)
    push = np.random.default_rng(2).normal(0, 0.4, cloth.v.shape)
    cloth.v[:] = push
    mass = cloth.sheet.mass
    before = mass @ push
    run(cloth, 24)
    after = mass @ cloth.v
    assert np.allclose(after[[0, 2]], before[[0, 2]], atol=1e-9)
    assert after[1] == pytest.approx(before[1] - mass.sum() * G, abs=1e-9)


def test_without_gravity_a_bent_sheet_that_rests_so_stays_as_it_is():
    points, faces = sheet_of(0.3, 0.2, 0.012)
    curved = np.stack([0.1 * np.sin(points[:, 0] / 0.1), 0.1 * np.cos(points[:, 0] / 0.1), points[:, 2]], axis=1)
    cloth = Cloth(sheet(curved, faces, FABRICS["canvas"]), weather=Weather(gravity=0.0))
    assert np.abs(run(cloth, 12) - curved).max() < 2e-4


def test_two_threads_give_bit_for_bit_what_one_gives():
    points, faces = sheet_of(0.5, 0.5, 0.015, hanging=True)
    sphere, round_faces = ball(0.12)

    def fall(threads: int) -> np.ndarray:
        numba.set_num_threads(threads)
        cloth = Cloth(sheet(points, faces, FABRICS["linen"], points[:, 1] > -1e-6), Collider(sphere + [0.25, -0.3, -0.1], round_faces),
                      fast(points[:, 1] > -1e-6), Weather(wind=np.array([0.0, 0.0, 4.0])))
        for k in range(12):
            cloth.collider.go_to(sphere + [0.25, -0.3, -0.1 + 0.02 * k])
            cloth.frame()
        return cloth.points

    most = numba.get_num_threads()
    try:
        assert np.array_equal(fall(1), fall(min(2, most)))
    finally:
        numba.set_num_threads(most)


def test_a_ball_at_seven_metres_a_second_does_not_pass_through_a_curtain():
    points, faces = sheet_of(0.8, 0.8, 0.016, hanging=True)
    sphere, round_faces = ball(0.1)
    at = np.array([0.4, -0.45, -0.25])
    cloth = Cloth(sheet(points, faces, FABRICS["linen"]), Collider(sphere + at, round_faces))
    for _ in range(4):
        at = at + [0.0, 0.0, 7.0 / 24]
        cloth.collider.go_to(sphere + at)
        cloth.frame()
        inside = 0.1 - np.linalg.norm(cloth.x - at, axis=1)
        centres = 0.1 - np.linalg.norm(cloth.x[cloth.sheet.triangles].mean(axis=1) - at, axis=1)
        assert inside.max() < 0.0015
        assert centres.max() < 0.0015
    before = points[np.hypot(points[:, 0] - 0.4, points[:, 1] + 0.45) < 0.05]
    assert len(before)
    struck = cloth.points[np.hypot(points[:, 0] - 0.4, points[:, 1] + 0.45) < 0.05]
    assert (struck[:, 2] > at[2]).all()  # it is pushed along before the ball


def test_a_fabric_that_is_no_cloth_is_refused():
    with pytest.raises(ValueError, match="weight"):
        Fabric(**{**FABRICS["linen"].model_dump(), "weight": 0.0})


@pytest.mark.parametrize(("degrees", "off"), [(0, 1.0), (45, 0.25), (90, 1.0)])
def test_a_strip_hung_on_the_bias_gives_as_kilby_says_and_along_the_threads_hardly(degrees: int, off: float):
    """Kilby, J. Text. Inst. 54 (1963): 1/E of a strip cut at an angle to the warp."""
    fabric = FABRICS["linen"].model_copy(update={"damping": 3.0})
    points, faces = sheet_of(0.15, 1.0, 0.02, hanging=True)
    held, low = points[:, 1] > -1e-6, points[:, 1] < points[:, 1].min() + 1e-6
    turn = np.radians(degrees)
    cloth = Cloth(sheet(points, faces, fabric, held, np.tile([np.sin(turn), np.cos(turn), 0.0], (len(faces), 1)), flat=True),
                  worn=fast(held), substeps=80, crowd=False)
    longer = (points[low, 1] - run(cloth, 72)[low, 1]).mean()
    c = np.cos(turn) ** 2
    linear = 0.5 * fabric.weight * G * (c**2 / fabric.warp + (1 - c) ** 2 / fabric.weft + c * (1 - c) / fabric.shear)
    assert longer == pytest.approx(linear, rel=off, abs=2e-4)
    assert cloth.shear_met > 0.9


@pytest.mark.parametrize("degrees", [0, 30, 45, 60, 90, 135])
def test_a_sheet_strained_or_bent_in_any_direction_stores_what_an_orthotropic_one_does(degrees: int):
    fabric = FABRICS["linen"].model_copy(update={"shear": 4000.0})
    points, faces = sheet_of(0.5, 0.5, 0.02)
    cloth = sheet(points, faces, fabric, None, np.tile([1.0, 0, 0], (len(faces), 1)), flat=True)
    x = cloth.points
    way = np.array([np.cos(np.radians(degrees)), 0.0, np.sin(np.radians(degrees))])
    c, s = way[0] ** 2, way[2] ** 2
    pulled = x + 1e-3 * (x @ way)[:, None] * way
    a, b, c3 = pulled[cloth.faces.rows].transpose(1, 0, 2)
    warp, weft = (cloth.weave[:, [k]] * (b - a) + cloth.weave[:, [k + 1]] * (c3 - a) for k in (0, 2))
    off = np.stack([np.linalg.norm(warp, axis=1) - 1, np.linalg.norm(weft, axis=1) - 1, np.sum(warp * weft, axis=1)], axis=1)
    stretched = 0.5 * np.sum(off**2 / cloth.soft)
    along = fabric.warp * c * c + 4 * fabric.shear * c * s + fabric.weft * s * s
    assert stretched == pytest.approx(0.5 * along * 1e-6 * 0.25, rel=0.08)
    high = x + 0.5 * ((x @ way) ** 2)[:, None] * [0.0, 1.0, 0.0]  # a cylinder of curvature 1/m across the way
    off = np.einsum("bk,bka->ba", cloth.weight, high[cloth.bends.rows])
    inner = (np.abs(x[cloth.bends.rows].mean(axis=1)[:, [0, 2]] - 0.25) < 0.2).all(axis=1)
    bent = 0.5 * np.sum(np.sum(off**2, axis=1)[inner] / cloth.bend_soft[inner])
    rigid = fabric.bend_warp * c * c + 2 * np.sqrt(fabric.bend_warp * fabric.bend_weft) * c * s + fabric.bend_weft * s * s
    assert bent == pytest.approx(0.5 * rigid * 0.16, rel=0.10)


def test_pressure_pads_a_sheet_out_as_newton_says():
    points, faces = sheet_of(0.4, 0.4, 0.04)
    fabric = FABRICS["linen"]
    still = fabric.model_copy(update={"damping": 0.0})
    cloth = Cloth(sheet(points, faces, still, flat=True), weather=Weather(gravity=0.0, **VACUUM), crowd=False)
    cloth.pressure[:] = 2.0
    way = np.cross(points[faces[0, 1]] - points[faces[0, 0]], points[faces[0, 2]] - points[faces[0, 0]])
    way /= np.linalg.norm(way)
    for _ in range(6):
        now = cloth.frame()
    t = 6 / 24
    assert np.allclose((now - points) @ way, 0.5 * 2.0 / fabric.weight * t * (t + t / 120), rtol=2e-3)  # substeps end with their speed


@pytest.mark.parametrize("rays", [9, 200])
def test_constraints_side_by_side_share_no_vertex_and_none_is_left_out(rays: int):
    """The hub of a wheel of 200 spokes has more faces than a block has colours to tell apart."""
    turn = np.linspace(0, 2 * np.pi, rays, endpoint=False)
    rim = np.column_stack([np.cos(turn), np.sin(turn), np.zeros(rays)])
    points = np.vstack([[[0.0, 0.0, 0.0]], rim, 1.2 * rim])
    one = 1 + np.arange(rays)
    two = np.roll(one, -1)
    faces = np.vstack([np.column_stack([0 * one, one, two]), np.column_stack([one, one + rays, two]),
                       np.column_stack([two, one + rays, two + rays])]).astype(np.int32)
    wheel = sheet(points, faces, FABRICS["linen"])
    for part in (wheel.faces, wheel.bends, wheel.links):
        laid = lanes(part, len(points))
        held = [laid.at[b, :used] for b, used in enumerate(laid.used)]
        assert sorted(np.concatenate(held)) == list(range(len(part.rows)))
        half = [np.repeat(np.arange(3), np.diff(part.split))[at] for at in held]
        assert all(len(set(h)) == 1 for h in half)
        assert [h[0] for h in half] == list(np.repeat(np.arange(3), np.diff(laid.split)))
        assert all(len(np.unique(part.rows[at])) == part.rows[at].size for at in held)
        assert np.array_equal(np.moveaxis(laid.rows, 1, 2), part.rows[laid.at])


def test_the_pairs_that_are_near_are_those_another_library_finds():
    rng = np.random.default_rng(11)
    reach, gap = 0.011, 0.006
    for count, room in ((3, 0.01), (4000, 0.25), (4000, 3.0)):  # one cell, many about nought, and so far apart that places are shared
        x = rng.uniform(-room, room, (count, 3)) * (1.0, 1.0, 0.2)
        ends, apart, split = pairs(x, 10 * x, np.full(count, gap), reach, 0.0, np.full(count, -1), np.array([0, count // 3, count]))
        assert {tuple(e) for e in np.sort(ends, axis=1).tolist()} == KDTree(x).query_pairs(reach)
        half = (ends >= count // 3).sum(axis=1)  # of the first, of the second, then across
        assert np.array_equal(half, np.repeat([0, 2, 1], np.diff(split)))
        assert len(ends) == len({tuple(e) for e in np.sort(ends, axis=1).tolist()})
        assert apart == pytest.approx(np.minimum(gap, 9.0 * np.linalg.norm(x[ends[:, 0]] - x[ends[:, 1]], axis=1)))
