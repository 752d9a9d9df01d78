"""Texture coordinates of the body, and relief made real on them."""

import io

import numpy as np
import pytest
from PIL import Image

from wily_heron.core.errors import InputError
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.make.unwrap import flatten, on_a_disc
from wily_heron.core.figure.relief import heights_of_normals, with_relief
from wily_heron.core.mesh.normals import vertex_normals
from wily_heron.formats.heights import read_heights


def double_areas(uv: np.ndarray) -> np.ndarray:
    a, b, c = uv[:, 0], uv[:, 1], uv[:, 2]
    return (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])


def test_texture_coordinates_do_not_overlap():
    uv = figure(1).corner_uv.astype(np.float64)
    assert uv.min() >= 0
    assert uv.max() <= 1
    size, seen = 1600, np.zeros((1600, 1600), np.int32)
    for tri in uv * size:
        low, high = np.floor(tri.min(axis=0)).astype(int), np.ceil(tri.max(axis=0)).astype(int) + 1
        x, y = np.meshgrid(np.arange(low[0], high[0]) + 0.5, np.arange(low[1], high[1]) + 0.5)
        inside = np.ones(x.shape, bool)
        for p, q in ((tri[0], tri[1]), (tri[1], tri[2]), (tri[2], tri[0])):
            inside &= (q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0]) > 1e-6
        seen[low[1]:high[1], low[0]:high[0]] += inside[: size - low[1], : size - low[0]]
    assert (seen > 1).sum() == 0
    assert 0.35 < (seen > 0).mean() < 0.9  # and they fill a fair part of the square


def test_a_quarter_cylinder_is_laid_flat_without_distortion():
    u, v = np.meshgrid(np.linspace(0, np.pi / 2, 24), np.linspace(0, 1, 16))
    points = np.stack([np.sin(u), v, np.cos(u)], axis=-1).reshape(-1, 3)
    corner = np.array([[r * 24 + c, r * 24 + c + 1, (r + 1) * 24 + c + 1, (r + 1) * 24 + c] for r in range(15) for c in range(23)])
    triangles = np.concatenate([corner[:, [0, 1, 2]], corner[:, [0, 2, 3]]])
    flat = flatten(points, triangles)
    edges = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]]])
    long = [np.linalg.norm(p[edges[:, 0]] - p[edges[:, 1]], axis=1) for p in (flat, points)]
    stretch = long[0] / long[1]
    assert np.abs(stretch - 1).max() < 0.01
    assert (double_areas(on_a_disc(points, triangles)[triangles]) > 0).all()


def test_relief_lifts_the_skin_where_the_map_is_white():
    body = figure(2)
    heights = np.zeros((512, 512))
    u, v = body.corner_uv[body.triangles.shape[0] // 2, 0]
    row, column = int((1 - v) * 512), int(u * 512)
    heights[max(row - 12, 0):row + 12, max(column - 12, 0):column + 12] = 1.0
    raised = with_relief(body, heights, 0.005)
    along = np.sum((raised.base - body.base) * vertex_normals(body.base, body.triangles), axis=1)
    assert along.max() == pytest.approx(0.005, rel=0.05)
    assert (along > 0.002).mean() < 0.05
    assert np.abs(with_relief(body, np.full((64, 64), 0.4), 0.01).base - body.base).max() < 1e-6


def test_a_normal_map_gives_back_the_hill_it_was_made_from():
    y, x = np.mgrid[0:128, 0:128] / 128.0
    hill = np.exp(-((x - 0.5) ** 2 + (y - 0.5) ** 2) / 0.02)
    down, right = np.gradient(8 * hill)
    normals = np.stack([-right, down, np.ones_like(right)], axis=-1)
    normals /= np.linalg.norm(normals, axis=-1, keepdims=True)
    found = heights_of_normals(normals)
    assert np.abs(found - hill / hill.max()).max() < 0.03


def test_what_is_no_picture_is_refused():
    with pytest.raises(InputError, match="not a picture"):
        read_heights(b"height of a letter", "relief.png")
    out = io.BytesIO()
    Image.fromarray(np.full((4, 4), 40000, np.uint16)).save(out, "PNG")
    assert read_heights(out.getvalue(), "deep.png") == pytest.approx(np.full((4, 4), 40000 / 65535))
