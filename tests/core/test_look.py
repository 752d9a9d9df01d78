"""Pictures: what is drawn is where and as large as geometry says."""

import numpy as np
import pytest
import trimesh

from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.figure.body import shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.pose_library import POSES
from wily_heron.core.look.picture import Sitter, View, picture
from wily_heron.core.look.portrait import CORAL, cell_portrait

BALL = trimesh.creation.icosphere(subdivisions=4, radius=0.5)


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


def test_what_shows_through_is_ringed_in_coral(coat):
    dressed = Dressed(shaped(figure(), CAST["Old Moss"]), {"coat": coat})
    coral = (np.array(CORAL) * 255).astype(int)

    def ringed(pose: str) -> int:
        image = cell_portrait(dressed, dressed.measure(POSES[pose]), (180, 240)).astype(int)
        return int((np.abs(image - coral).max(axis=2) < 12).sum())

    assert ringed("stand") == 0
    assert ringed("kneel") > 30
