"""The pack: valid by Khronos, deforms alone as the application does, reads back whole."""

import io
import json
import subprocess
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import trimesh
from scipy.spatial import KDTree

from tests.formats.gltf_rules import Gltf
from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.clear.pose_fix import with_fix, with_yielding
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shape_values, shaped, standing_at
from wily_heron.core.figure.base.skinning import skin_points
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.model.pack import Pack, PackedPiece
from wily_heron.core.model.steps.bind import Bind, SpringOf
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.worn import dressed_skin, worn_points
from wily_heron.core.motion.clips import clip_named
from wily_heron.core.motion.pose import pose_matrices, posed_body
from wily_heron.core.motion.pose_library import POSES
from wily_heron.formats.pack.read import read_pack
from wily_heron.formats.pack.write import write_pack

DEMO = ("stand", "reach-up", "stride", "sit", "kneel")


@pytest.fixture(scope="module")
def packed(coat, ibbet) -> bytes:
    pieces = (PackedPiece("Oilskin coat", "top", coat, 0.009),)
    return write_pack(Pack(standing_at(ibbet), "Ibbet", pieces, CAST, {p: POSES[p] for p in DEMO}))


def test_the_khronos_validator_finds_no_errors_and_no_warnings(packed: bytes, tmp_path: Path):
    file = tmp_path / "pack.glb"
    file.write_bytes(packed)
    done = subprocess.run(["node", str(Path(__file__).with_name("validate.mjs")), str(file)], capture_output=True, text=True, check=True)
    issues = json.loads(done.stdout)
    assert (issues["numErrors"], issues["numWarnings"]) == (0, 0), issues["messages"][:5]


def _farthest(there: np.ndarray, here: np.ndarray) -> float:
    """The greatest distance from a file vertex (split at seams) to the application's nearest vertex, and back."""
    return max(KDTree(here).query(there)[0].max(), KDTree(there).query(here)[0].max())


@pytest.mark.parametrize("who", list(CAST))
@pytest.mark.parametrize("pose", DEMO)
def test_the_file_alone_deforms_like_the_application(packed: bytes, coat, who: str, pose: str):
    file = Gltf(packed)
    wearer = shaped(figure(), shape_values(figure(), CAST[who]))
    assert _farthest(file.skinned("body", f"{who}/{pose}"), posed_body(wearer, POSES[pose])) < 1e-4
    mine = worn_points(coat, wearer, POSES[pose])
    assert _farthest(file.skinned("piece:oilskin-coat", f"{who}/{pose}"), mine) < 1e-4


@pytest.mark.parametrize("shape", figure().shapes)
def test_each_shape_alone_moves_body_and_piece_in_the_file_as_in_the_application(packed: bytes, coat, ibbet, shape: str):
    file = Gltf(packed)
    names = file.json["meshes"][1]["extras"]["targetNames"]
    assert names[: len(figure().shapes)] == file.json["meshes"][0]["extras"]["targetNames"] == list(figure().shapes)
    at = names.index(shape)
    for mesh in file.json["meshes"]:
        mesh["weights"][at] = 1.0
    values = ibbet.shape.copy()
    values[at] += 1.0
    assert _farthest(file.skinned("body"), shaped(figure(), values).points) < 1e-4
    assert _farthest(file.skinned("piece:oilskin-coat"), coat.at(values)) < 1e-4


def test_another_library_reads_body_and_coat(packed: bytes, coat, ibbet):
    scene = trimesh.load(io.BytesIO(packed), file_type="glb", process=False)
    body = max(scene.geometry.values(), key=lambda g: len(g.vertices))
    assert _farthest(body.vertices, ibbet.points) < 1e-4
    cloth = np.concatenate([g.vertices for name, g in scene.geometry.items() if "oilskin" in name.lower()])
    assert _farthest(cloth, coat.mesh.points) < 1e-4


def test_a_pack_reads_back_whole(packed: bytes, coat, ibbet):
    back = read_pack(packed, "pack.glb")
    piece = back.pieces[0].piece
    assert (back.wearer, back.pieces[0].name, back.pieces[0].ease) == ("Ibbet", "Oilskin coat", 0.009)
    assert len(piece.mesh.points) == len(coat.mesh.points)  # split seams are welded again
    assert len(piece.mesh.triangles) == len(coat.mesh.triangles)
    assert np.abs(back.body.base - ibbet.points).max() < 1e-6  # the body's too, in their order
    assert np.array_equal(back.body.floor, ibbet.body.floor)
    _, at = KDTree(coat.mesh.points).query(piece.mesh.points)
    assert np.abs(piece.deltas - coat.deltas[:, at]).max() < 1e-6
    assert np.abs(back.body.joint_deltas - ibbet.body.joint_deltas).max() < 1e-6
    assert [m.name for m in piece.mesh.materials] == ["oilskin", "brass"]


@pytest.mark.parametrize("harm", ["empty", "short", "text", "no-notes", "cut-binary"])
def test_damaged_packs_are_refused_in_one_sentence(packed: bytes, harm: str):
    data = {"empty": b"", "short": packed[:500], "text": b"not a glb at all, sorry", "cut-binary": packed[:-4000],
            "no-notes": packed.replace(b"wily_heron", b"wily_herox")}[harm]
    with pytest.raises(InputError) as error:
        read_pack(data, "broken.glb")
    assert "broken.glb" in str(error.value)
    assert len(str(error.value)) < 300


@pytest.fixture(scope="module")
def outfit(coat, ibbet) -> Pack:
    """The coat on eight joints a vertex with buttons and a corrective for kneeling, a hat on the skull, a lantern on a spring."""
    plain = replace(coat, skin=None, deltas=None, riders=None, correctives=(), fixes=None)
    eight = run_step(run_step(plain, ibbet, Bind(most=8)), ibbet, Follow())
    move = np.zeros_like(coat.mesh.points)
    move[coat.mesh.points[:, 1] < 0.9] = [0.0, 0.01, 0.03]
    eight = with_fix(eight, ibbet.body, POSES["kneel"], move, "Kneeling")
    given = np.zeros_like(ibbet.points)
    given[np.abs(ibbet.points[:, 1] - 1.0) < 0.06] = [0.0, 0.0, -0.008]
    eight = with_yielding(with_yielding(eight, ibbet.body, POSES["kneel"], given), ibbet.body, None, 0.25 * given)
    small = replace(plain, mesh=coat.mesh.moved((coat.mesh.points - coat.mesh.points.mean(axis=0)) * 0.15 + [0.45, 0.8, 0.05]))
    hat = run_step(run_step(small, ibbet, Bind(source="joint", joint="skullbase")), ibbet, Follow())
    lantern = run_step(run_step(small, ibbet, Bind(source="joint", joint="l_radiocarpal", spring=SpringOf(links=3))), ibbet, Follow())
    pieces = tuple(PackedPiece(n, "top", p) for n, p in (("Coat", eight), ("Hat", hat), ("Lantern", lantern)))
    walk = clip_named("walk", ibbet.skeleton)
    return Pack(standing_at(ibbet), "Ibbet", pieces, CAST, {p: POSES[p] for p in ("kneel", "sit")}, motions=(walk,))


@pytest.fixture(scope="module")
def full(outfit: Pack) -> bytes:
    return write_pack(outfit)


@pytest.mark.slow("formats", "core/model")
def test_own_joints_eight_weights_and_correctives_pass_the_validator(full: bytes, tmp_path: Path):
    test_the_khronos_validator_finds_no_errors_and_no_warnings(full, tmp_path)


@pytest.mark.parametrize("who", list(CAST))
@pytest.mark.parametrize("pose", ["kneel", "sit"])
@pytest.mark.parametrize("name", ["Coat", "Hat", "Lantern"])
def test_correctives_parts_and_springs_in_the_file_are_the_applications(full: bytes, outfit: Pack, who: str, pose: str, name: str):
    piece = outfit.dressed()[name]
    mine = worn_points(piece, shaped(figure(), shape_values(figure(), CAST[who])), POSES[pose])
    assert _farthest(Gltf(full).skinned(f"piece:{name.lower()}", f"{who}/{pose}"), mine) < 1e-4


def _skin(pieces, wearer, pose: str) -> np.ndarray:
    return skin_points(dressed_skin(pieces, wearer, POSES[pose]), wearer.body.skin, pose_matrices(wearer, POSES[pose]))


@pytest.mark.parametrize("pose", ["kneel", "sit"])
def test_the_skin_gives_way_in_the_file_as_in_the_application_and_reads_back(full: bytes, outfit: Pack, pose: str):
    wearer, pieces = shaped(figure(), shape_values(figure(), CAST["Corvane"])), list(outfit.dressed().values())
    here = _skin(pieces, wearer, pose)
    assert np.linalg.norm(here - posed_body(wearer, POSES[pose]), axis=1).max() > 0.0015
    assert _farthest(Gltf(full).skinned("body", f"Corvane/{pose}"), here) < 1e-4
    back = read_pack(full, "full.glb")
    again = shaped(back.body, shape_values(back.body, CAST["Corvane"]))
    assert back.body.shapes == outfit.body.shapes
    assert _farthest(_skin(list(back.dressed().values()), again, pose), here) < 2e-4


def test_a_rigid_piece_hangs_from_its_joint_and_a_swinging_one_moves_through_a_motion(full: bytes):
    file = Gltf(full)
    assert file.node("piece:hat") in file.json["nodes"][file.node("skullbase")]["children"]
    walk = file.clip("walk")
    links = [file.node(f"part:lantern:{k}") for k in (1, 2, 3)]
    turns = [walk[n, "rotation"] for n in links]
    assert all(np.abs(np.linalg.norm(t, axis=1) - 1).max() < 1e-5 for t in turns)
    assert max(float(np.ptp(t, axis=0).max()) for t in turns) > 0.02
    assert all((np.sum(t[1:] * t[:-1], axis=1) > 0).all() for t in turns)  # never the long way round


def test_own_joints_and_correctives_read_back(full: bytes, outfit: Pack):
    back = read_pack(full, "full.glb")
    for name in ("Coat", "Hat", "Lantern"):
        mine, read = outfit.dressed()[name], back.dressed()[name]
        for pose in ("kneel", "sit", "stride"):
            wearer = shaped(figure(), CAST["Corvane"])
            again = shaped(back.body, shape_values(back.body, CAST["Corvane"]))
            assert _farthest(worn_points(read, again, POSES[pose]), worn_points(mine, wearer, POSES[pose])) < 2e-4
