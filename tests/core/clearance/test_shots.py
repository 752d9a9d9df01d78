"""What the production's shots see of what shows: judged by a second library's rays and by cameras on the far side."""

from pathlib import Path

import numpy as np
import pygltflib
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.truth.planted import chest_of, tunic_of, with_dent
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.find.shots import Shot, seen_in
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.space.tree import TriangleTree
from wily_heron.formats.gltf.shots import read_shots, write_shots

FRONT = Shot(name="Jetty", eye=(0.0, 1.1, 3.0), target=(0.0, 1.0, 0.0), lens=0.6)
BACK = Shot(name="Stern", eye=(0.0, 1.1, -3.0), target=(0.0, 1.0, 0.0), lens=0.6)
FEET = Shot(name="Boots", eye=(0.0, 0.1, 1.0), target=(0.0, 0.1, 0.0), lens=0.3)


@pytest.fixture(scope="module")
def poked() -> Dressed:
    tunic = tunic_of(0.008)
    return Dressed(shaped(figure(1), {}), {"tunic": with_dent(tunic, chest_of(tunic), 0.05, 0.014)})


def test_a_poke_at_the_chest_is_seen_from_the_jetty_alone(poked: Dressed):
    plain = poked.measure(POSES["rest"]).figures
    figures = poked.measure(POSES["rest"], shots=[FRONT, BACK, FEET]).figures
    assert figures.area_cm2 == plain.area_cm2 > 1.0  # what shows from all round is what it was
    assert "in_shots_cm2" not in plain
    assert [s.name for s in figures.shots] == ["Jetty", "Stern", "Boots"]
    assert figures.shots[0].area_cm2 == pytest.approx(figures.area_cm2, rel=0.1)
    assert [s.area_cm2 for s in figures.shots[1:]] == [0.0, 0.0]
    assert figures.pairs[0].places[0].shots == ("Jetty",)
    assert poked.measure(POSES["rest"], shots=[BACK, FEET]).figures.in_shots_cm2 == 0.0
    assert poked.measure(POSES["rest"], shots=[]).figures.in_shots_cm2 == 0.0  # shots there are, but none of this cell


def test_what_shots_see_together_is_counted_once(poked: Dressed):
    twice = poked.measure(POSES["rest"], shots=[FRONT, FRONT.model_copy(update={"name": "Again"})]).figures
    assert twice.shots[0].area_cm2 == twice.shots[1].area_cm2 == twice.in_shots_cm2


def test_a_shot_sees_what_a_second_library_says_it_sees():
    body = figure(1)
    tree, scene = TriangleTree(body.base, body.triangles), trimesh.Trimesh(body.base, body.triangles, process=False)
    points, faces = trimesh.sample.sample_surface(scene, 3000, seed=4)
    facing = scene.face_normals[faces]
    shot = Shot(name="Low", eye=(0.9, 0.5, 1.4), target=(0.0, 1.1, 0.0), up=(0.2, 1.0, 0.0), lens=0.5, frame=1.4)
    seen = seen_in([shot], points, facing, [tree])[0]
    camera = trimesh.scene.Camera(resolution=(1400, 1000), fov=np.degrees([2 * np.arctan(1.4 * np.tan(0.25)), 0.5]))
    ahead = np.subtract(shot.target, shot.eye)
    side = np.cross(ahead, shot.up)
    axes = np.stack([side, np.cross(side, ahead), -ahead])
    local = (points - np.array(shot.eye)) @ (axes / np.linalg.norm(axes, axis=1, keepdims=True)).T
    pixel = np.abs(local[:, :2] / -local[:, 2:] @ np.diag(camera.focal))
    way = np.array(shot.eye) - points
    far = np.linalg.norm(way, axis=1)
    towards = np.sum(way * facing, axis=1) / far
    blocked = scene.ray.intersects_any(points + 5e-4 * facing, way / far[:, None])
    truth = (pixel[:, 0] <= 700) & (pixel[:, 1] <= 500) & (local[:, 2] < 0) & (towards > 0.15) & ~blocked
    sure = np.abs(towards - 0.15) > 0.02
    assert 200 < truth.sum() < 2000
    assert (seen == truth)[sure].mean() > 0.995


@given(st.tuples(*[st.floats(-4, 4)] * 3), st.floats(0.05, 2.0), st.floats(0.5, 3.0))
def test_a_camera_comes_back_from_its_file_where_it_stood(eye: tuple, lens: float, frame: float):
    try:
        shot = Shot(name="Lantern", eye=eye, target=(0.1, 1.0, 0.2), lens=lens, frame=frame)
    except ValidationError:
        return  # straight over its target
    (back,) = read_shots(write_shots([shot]), "shots.glb")
    points = np.random.default_rng(2).normal(scale=2.0, size=(400, 3))
    assert (back.within(points) == shot.within(points)).mean() > 0.99
    assert np.allclose(back.eye, shot.eye, atol=1e-4)


def test_cameras_of_any_scene_are_read_where_it_puts_them(tmp_path: Path):
    lens = pygltflib.Camera(type="perspective", perspective=pygltflib.Perspective(yfov=0.7, znear=0.1, aspectRatio=2.39))
    flat = pygltflib.Camera(type="orthographic", orthographic=pygltflib.Orthographic(xmag=1, ymag=1, zfar=9, znear=0.1))
    turn = [0.0, float(np.sin(np.pi / 4)), 0.0, float(np.cos(np.pi / 4))]  # a quarter turn: it looks along -X
    crane = pygltflib.Node(name="crane", translation=[0.0, 1.0, 0.0], rotation=turn, children=[1])
    there = pygltflib.Node(name="Lantern post", camera=0, translation=[0.0, 0.0, 3.0])
    scene = pygltflib.GLTF2(scene=0, scenes=[pygltflib.Scene(nodes=[0, 2])], cameras=[lens, flat],
                            nodes=[crane, there, pygltflib.Node(name="plan", camera=1)])
    scene.save(str(tmp_path / "set.gltf"))
    (shot,) = read_shots((tmp_path / "set.gltf").read_bytes(), "set.gltf")
    assert shot.name == "Lantern post"
    assert np.allclose(shot.eye, (3.0, 1.0, 0.0), atol=1e-5)
    assert np.allclose(np.subtract(shot.target, shot.eye) / 3.0, (-1.0, 0.0, 0.0), atol=1e-5)
    assert (shot.lens, shot.frame) == pytest.approx((0.7, 2.39))
    with pytest.raises(InputError, match="no camera"):
        read_shots(write_shots([]), "empty.glb")


def test_a_place_is_seen_along_the_way_it_is_said_to_be(poked: Dressed):
    cell = poked.measure(POSES["rest"])
    place = cell.figures.pairs[0].places[0]
    eye = tuple(np.array(place.centre) + 2.0 * np.array(place.seen_along))
    shot = Shot(name="Close", eye=eye, target=tuple(place.centre), up=(0.1, 1.0, 0.2), lens=0.3)
    assert poked.measure(POSES["rest"], shots=[shot]).figures.in_shots_cm2 > 0.5 * place.area_cm2
