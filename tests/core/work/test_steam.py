"""Steam: creases of a region relaxed."""

import numpy as np
import pytest

from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.bench.steps.work.steam import Steam
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.work import WorkReport

WEARER = shaped(figure(1), {})
STEP = 0.004


def _sheet(height) -> Piece:
    """A sheet of 60 by 40 cm in squares of 4 mm, cut alternately, `height` metres of x out of its plane."""
    nx, ny = 151, 101
    x, y = np.meshgrid(np.arange(nx) * STEP, np.arange(ny) * STEP, indexing="ij")
    points = np.stack([x, y, height(x)], axis=2).reshape(-1, 3).astype(np.float32)
    a = (np.arange(nx - 1)[:, None] * ny + np.arange(ny - 1)[None]).ravel()
    b, c, d = a + ny, a + 1, a + ny + 1
    flip = ((np.arange(nx - 1)[:, None] + np.arange(ny - 1)[None]) % 2).ravel() == 1
    first = np.where(flip[:, None], np.stack([a, b, d], 1), np.stack([a, b, c], 1))
    second = np.where(flip[:, None], np.stack([a, d, c], 1), np.stack([b, d, c], 1))
    return Piece(Mesh(points, np.concatenate([first, second]).astype(np.int32)), WEARER.shape)


def _kept(width: float, crease: float) -> float:
    """The share of a wave of some width that is left in the middle of a sheet, all of it steamed."""
    wave = lambda x: 0.0005 * np.sin(2 * np.pi * x / width)  # noqa: E731
    piece = _sheet(wave)
    rows = tuple(range(0, len(piece.mesh.points), 7))
    made = run_step(piece, WEARER, Steam(rows=rows, radius=0.5, crease=crease, amount=1.0))
    x, y, z = made.mesh.points.T.astype(float)
    middle = (abs(x - 0.3) < 0.15) & (abs(y - 0.2) < 0.1)
    return float((z * wave(x))[middle].sum() / (wave(x) ** 2)[middle].sum())


@pytest.mark.parametrize(("width", "crease"), [(0.03, 0.06), (0.06, 0.06), (0.15, 0.06), (0.04, 0.02)])
def test_a_fold_keeps_of_its_height_what_its_width_says(width: float, crease: float):
    assert _kept(width, crease) == pytest.approx(1 / (1 + (crease / width) ** 4), abs=0.01)  # measured: within 0.006


def test_what_lies_beyond_the_radius_and_the_borders_stay_where_they_are():
    piece = _sheet(lambda x: 0.001 * np.sin(2 * np.pi * x / 0.02))
    points = piece.mesh.points
    at = int(np.argmin(np.linalg.norm(points[:, :2] - [0.05, 0.2], axis=1)))
    made = run_step(piece, WEARER, Steam(rows=(at,), radius=0.1, crease=0.06))
    moved = np.linalg.norm(made.mesh.points - points, axis=1)
    assert moved[np.linalg.norm(points - points[at], axis=1) > 0.1].max() == 0
    assert moved[points[:, 0] == 0].max() < 1e-6
    assert moved[at] > 2e-4
    assert made.report_of(WorkReport).touched == (moved > 0).sum()


def test_protected_cloth_is_not_steamed_and_a_region_cut_away_is_told():
    piece = _sheet(lambda x: 0.001 * np.sin(2 * np.pi * x / 0.02))
    held = Piece(piece.mesh, WEARER.shape, protect=np.ones(len(piece.mesh.points), np.float32))
    assert np.array_equal(run_step(held, WEARER, Steam(rows=(900,))).mesh.points, piece.mesh.points)
    with pytest.raises(InputError, match="cut away"):
        run_step(piece, WEARER, Steam(rows=(10**6,)))
