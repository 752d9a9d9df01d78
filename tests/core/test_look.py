"""Pictures: what is drawn is where and as large as geometry says."""

import igl
import numpy as np
import pytest
import trimesh

from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.look.picture import Sitter, View, picture
from wily_heron.core.look.portrait import CORAL, cell_portrait
from wily_heron.core.motion.pose_library import POSES

BALL = trimesh.creation.icosphere(subdivisions=4, radius=0.5)


@pytest.mark.slow("core/look")
def test_a_ball_covers_the_disc_it_should():
    image = picture([Sitter(BALL.vertices, BALL.faces, (1, 1, 1))], View((0, 0, 0), 2.0), (200, 200), alpha=True)
    covered = image[:, :, 3].sum() / 255 / 200**2 * 4.0
    assert covered == pytest.approx(np.pi * 0.25, rel=0.01)


def test_the_nearer_ball_hides_the_farther_from_either_side():
    red, blue = np.asarray(BALL.vertices) + [0, 0, 1], np.asarray(BALL.vertices) - [0, 0, 1]
    pair = [Sitter(red, BALL.faces, (1, 0, 0)), Sitter(blue, BALL.faces, (0, 0, 1))]
    front = picture(pair, View((0, 0, 0), 2.0), (60, 60))[30, 30]
    back = picture(pair, View((0, 0, 0), 2.0, yaw=np.pi), (60, 60))[30, 30]
    assert front[0] > 100 > front[2]
    assert back[2] > 100 > back[0]


@pytest.mark.parametrize(("yaw", "pitch"), [(0.0, 0.0), (0.7, 0.3), (2.4, -0.9), (-1.9, 1.2)])
def test_every_pixel_shows_what_a_ray_through_it_meets_first(yaw: float, pitch: float):
    """Three shapes through one another, against libigl's rays; the order they are given in does not matter."""
    shapes = [trimesh.creation.torus(0.45, 0.16, major_sections=24, minor_sections=9), trimesh.creation.box((0.5, 0.9, 0.3)),
              trimesh.creation.icosphere(subdivisions=2, radius=0.36)]
    turns = trimesh.transformations.random_rotation_matrix(np.array([0.3, 0.6, 0.9]))
    meshes = [(np.asarray(m.vertices) @ turns[:3, :3].T, np.asarray(m.faces, np.int32)) for m in shapes]
    view, size = View((0.02, -0.01, 0.05), 1.6, yaw, pitch), 48
    sitters = [Sitter(points, faces, colour) for (points, faces), colour in zip(meshes, np.eye(3), strict=True)]
    image = picture(sitters, view, (size, size), background=(0.5, 0.5, 0.5), supersample=1).astype(int)
    assert np.array_equal(image, picture(sitters[::-1], view, (size, size), background=(0.5, 0.5, 0.5), supersample=1))
    right, up, towards = view.axes()
    told, met = [], []
    for y in range(size):
        for x in range(size):
            across, rise = (x + 0.5 - size / 2) * 1.6 / size, (size / 2 - y - 0.5) * 1.6 / size
            begin = np.asarray(view.centre) + across * right + rise * up + 3 * towards
            far = [min((hit[1] for hit in igl.ray_mesh_intersect(begin, -towards, points, faces)), default=np.inf)
                   for points, faces in meshes]
            if np.sort(far)[0] < np.sort(far)[1] - 1e-3 or not np.isfinite(far).any():  # not where two shapes meet
                pixel = image[y, x]
                told.append(int(pixel.argmax()) if pixel.max() > pixel.min() else -1)
                met.append(int(np.argmin(far)) if np.isfinite(far).any() else -1)
    assert len(set(met)) == 4
    assert np.mean(np.array(told) != np.array(met)) < 0.002  # a ray along an edge may pass on either side of it


def test_what_shows_through_is_ringed_in_coral(coat):
    dressed = Dressed(shaped(figure(), CAST["Old Moss"]), {"coat": coat})
    coral = (np.array(CORAL) * 255).astype(int)

    def ringed(pose: str) -> int:
        image = cell_portrait(dressed, dressed.measure(POSES[pose]), (180, 240)).astype(int)
        return int((np.abs(image - coral).max(axis=2) < 12).sum())

    assert ringed("stand") == 0
    assert ringed("kneel") > 30
