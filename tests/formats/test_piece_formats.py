"""Files of other programs are read right, ours are read right by another library, and hostile files get one clear line."""

import base64
import io
import json
import struct
import time
import zipfile

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from wily_heron.core.errors import InputError
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.formats.piece_read import read_piece
from wily_heron.formats.ply import write_ply
from wily_heron.formats.stl import write_stl

HAT = trimesh.creation.annulus(0.09, 0.16, 0.02, sections=40)


@pytest.mark.parametrize(("ending", "kind"), [("ply", {"encoding": "ascii"}), ("ply", {"encoding": "binary"}), ("stl", {}),
                                              ("stl_ascii", {}), ("glb", {}), ("obj", {})])
def test_what_another_library_wrote_is_read_alike(ending: str, kind: dict):
    data = HAT.export(file_type=ending, **kind)
    mesh = read_piece(data if isinstance(data, bytes) else data.encode(), f"hat.{ending.split('_')[0]}")
    mine = trimesh.Trimesh(mesh.points, mesh.triangles, process=False)
    assert mine.is_watertight
    assert (len(mesh.points), len(mesh.triangles)) == (len(HAT.vertices), len(HAT.faces))
    assert mine.volume == pytest.approx(HAT.volume, rel=1e-5)
    assert np.allclose(mine.bounds, HAT.bounds, atol=1e-6)


@pytest.mark.parametrize(("write", "ending"), [(write_ply, "ply"), (write_stl, "stl")])
def test_another_library_reads_ours_alike(write, ending: str):
    mesh = Mesh(HAT.vertices.astype(np.float32), HAT.faces.astype(np.int32))
    other = trimesh.load(io.BytesIO(write(mesh)), file_type=ending)
    assert other.is_watertight
    assert other.volume == pytest.approx(HAT.volume, rel=1e-5)


def test_a_gltf_scene_stands_where_its_nodes_put_it_with_its_materials():
    turn = trimesh.transformations.rotation_matrix(0.7, [0, 1, 0])
    scene = trimesh.Scene()
    red = trimesh.visual.TextureVisuals(material=trimesh.visual.material.PBRMaterial("felt", baseColorFactor=[255, 0, 0, 255]))
    box = trimesh.creation.box((0.1, 0.2, 0.3))
    box.visual = red
    scene.add_geometry(box, transform=turn @ trimesh.transformations.translation_matrix([1, 2, 3]))
    scene.add_geometry(HAT, transform=trimesh.transformations.translation_matrix([0, 1.6, 0]))
    mesh = read_piece(scene.export(file_type="glb"), "two.glb")
    mine = trimesh.Trimesh(mesh.points, mesh.triangles, process=False)
    assert np.allclose(mine.bounds, scene.bounds, atol=1e-5)
    assert mine.is_watertight
    assert "felt" in [m.name for m in mesh.materials]
    felt = mesh.triangle_material == [m.name for m in mesh.materials].index("felt")
    assert felt.sum() == 12


def test_seams_split_for_texture_are_joined_and_their_coordinates_kept():
    box = trimesh.creation.box()
    split = trimesh.Trimesh(box.vertices[box.faces.ravel()], np.arange(36).reshape(-1, 3), process=False)
    split.visual = trimesh.visual.TextureVisuals(uv=np.random.default_rng(0).random((36, 2)))
    mesh = read_piece(split.export(file_type="glb"), "box.glb")
    assert len(mesh.points) == 8
    assert mesh.corner_uv is not None
    assert np.allclose(np.sort(mesh.corner_uv.reshape(-1, 2), axis=0), np.sort(split.visual.uv, axis=0), atol=1e-5)


def test_polygons_of_a_ply_keep_their_polygon():
    text = ("ply\nformat ascii 1.0\nelement vertex 5\nproperty float x\nproperty float y\nproperty float z\nelement face 2\n"
            "property list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n1 1 0\n0 1 0\n0 2 0\n4 0 1 2 3\n3 3 2 4\n")
    mesh = read_piece(text.encode(), "quad.ply")
    assert mesh.triangles.tolist() == [[0, 1, 2], [0, 2, 3], [3, 2, 4]]
    assert mesh.polygon.tolist() == [0, 0, 1]


def test_a_zip_is_read_with_its_materials():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("../../hat.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl felt\nf 1 2 3\n")
        z.writestr("maps/hat.mtl", "newmtl felt\nKd 0.2 0.4 0.6\n")
    mesh = read_piece(out.getvalue(), "hat.zip")
    assert mesh.materials[0].colour == (0.2, 0.4, 0.6)


def _glb(scene: dict, raw: bytes = b"") -> bytes:
    text = json.dumps({"asset": {"version": "2.0"}, **scene}).encode()
    text += b" " * (-len(text) % 4)
    head = struct.pack("<4sIII4s", b"glTF", 2, 28 + len(text) + len(raw), len(text), b"JSON")
    return head + text + struct.pack("<I4s", len(raw), b"BIN\0") + raw


def _bomb() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("hat.obj", b"0" * 60_000_000)
    return out.getvalue()


_POSITION = {"componentType": 5126, "type": "VEC3"}
HOSTILE = {
    "empty.ply": b"", "empty.stl": b"", "empty.glb": b"", "empty.gltf": b"", "empty.zip": b"",
    "cut.ply": HAT.export(file_type="ply")[:-100], "cut.stl": HAT.export(file_type="stl")[:-70],
    "cut.glb": HAT.export(file_type="glb")[:-400],
    "huge.ply": b"ply\nformat binary_little_endian 1.0\nelement vertex 4000000000\nproperty float x\nend_header\n",
    "many.ply": b"ply\nformat binary_little_endian 1.0\nelement vertex 40000000\nproperty float x\nproperty float y\nproperty float z\n"
                b"element face 3\nproperty list uchar int vertex_indices\nend_header\n1234",
    "beyond.ply": b"ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\n"
                  b"property list uchar int vertex_indices\nend_header\n0 0 0 1 0 0 0 1 0 3 0 1 7\n",
    "negative.ply": b"ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\n"
                    b"property list uchar int vertex_indices\nend_header\n0 0 0 1 0 0 0 1 0 3 0 1 -1\n",
    "nan.ply": b"ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\n"
               b"property list uchar int vertex_indices\nend_header\n0 0 0 1 0 nan 0 1 0 3 0 1 2\n",
    "count.stl": b"\0" * 80 + (4_000_000_000).to_bytes(4, "little"),
    "nan.stl": b"solid x\nfacet\nvertex 0 0 nan\nvertex 1 0 0\nvertex 0 1 0\nendfacet\nendsolid\n",
    "cyclic.glb": _glb({"scene": 0, "scenes": [{"nodes": [0]}], "nodes": [{"children": [1]}, {"children": [0]}]}),
    "deep.glb": _glb({"scenes": [{"nodes": [0]}], "nodes": [{"children": [i + 1]} for i in range(3000)] + [{}]}),
    "nomesh.glb": _glb({"scenes": [{"nodes": [0]}], "nodes": [{"mesh": 4}], "meshes": []}),
    "absurd.glb": _glb({"nodes": [{"mesh": 0}], "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
                        "accessors": [{**_POSITION, "count": 2_000_000_000}]}),
    "outside.glb": _glb({
        "nodes": [{"mesh": 0}], "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
        "accessors": [{**_POSITION, "count": 9, "bufferView": 0}], "bufferViews": [{"buffer": 0, "byteLength": 4}]}, b"1234"),
    "numbers.glb": _glb({"nodes": 7, "meshes": "none"}),
    "elsewhere.gltf": json.dumps({"asset": {"version": "2.0"}, "buffers": [{"uri": "file:///etc/passwd", "byteLength": 4}]}).encode(),
    "fetched.gltf": json.dumps({"asset": {"version": "2.0"}, "buffers": [{"uri": "http://marsh.example/x.bin", "byteLength": 4}]}).encode(),
    "data.gltf": json.dumps({"buffers": [{"uri": "data:;base64," + base64.b64encode(b"x").decode() + "!!"}]}).encode(),
    "nested.gltf": b"[" * 100_000, "bomb.zip": _bomb(), "letter.zip": b"PK\x03\x04 dear sir", "piece.exe": b"MZ",
}


@pytest.mark.parametrize("name", HOSTILE)
def test_a_hostile_file_gets_one_clear_line_at_once(name: str):
    start = time.monotonic()
    with pytest.raises(InputError) as caught:
        read_piece(HOSTILE[name], name)
    assert caught.value.what
    assert caught.value.todo
    assert "\n" not in str(caught.value)
    assert time.monotonic() - start < 5


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(["ply", "stl", "glb", "obj"]), st.integers(0, 2**32 - 1))
def test_a_file_with_bytes_changed_is_read_or_refused_never_worse(ending: str, seed: int):
    rng = np.random.default_rng(seed)
    data = bytearray(_EXPORTED[ending])
    for at in rng.integers(0, len(data), rng.integers(1, 12)):
        data[at] = rng.integers(0, 256)
    try:
        mesh = read_piece(bytes(data), f"hat.{ending}")
    except InputError:
        return
    assert np.isfinite(mesh.points).all()
    assert len(mesh.triangles) == 0 or 0 <= mesh.triangles.min() <= mesh.triangles.max() < len(mesh.points)


_EXPORTED = {e: (d if isinstance(d, bytes) else d.encode()) for e in ("ply", "stl", "glb", "obj") for d in [HAT.export(file_type=e)]}
