"""The pack: valid by Khronos, deforms alone as the application does, reads back whole."""

import io
import json
import subprocess
from pathlib import Path

import numpy as np
import pytest
import trimesh
from scipy.spatial import KDTree

from tests.formats.gltf_rules import Gltf
from wily_heron.core.errors import InputError
from wily_heron.core.figure.body import shape_values, shaped, standing_at
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.pose import posed_body
from wily_heron.core.figure.pose_library import POSES
from wily_heron.core.piece.pack import Pack, PackedPiece
from wily_heron.core.piece.worn import worn_points
from wily_heron.formats.pack_read import read_pack
from wily_heron.formats.pack_write import write_pack

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
