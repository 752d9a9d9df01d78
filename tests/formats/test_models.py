# The USD library has no type stubs:
# pyright: reportAttributeAccessIssue=false
"""What a file brings along (weights, morphs, materials, textures, folds, polygons, clips) goes out and comes back unharmed, and the
general libraries for these formats read ours alike and are read alike."""

import io
import json
import subprocess
from pathlib import Path

import meshio
import numpy as np
import OpenEXR
import pygltflib
import pytest
import trimesh
from PIL import Image
from pxr import Gf, Sdf, Usd, UsdGeom, UsdShade, UsdSkel, UsdValidation, Vt
from scipy.spatial import KDTree

from wily_heron.core.errors import InputError
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.mesh import Material, Mesh
from wily_heron.core.mesh.ops.folds import corner_normals
from wily_heron.core.mesh.ops.subset import turned_over
from wily_heron.core.mesh.polygons import polygon_corners
from wily_heron.core.model.model import MIRRORED, Model, Texture
from wily_heron.core.motion.clips import clip_named
from wily_heron.formats.images.textures import drawable, read_texture
from wily_heron.formats.model_write import WRITTEN, write_model
from wily_heron.formats.piece_read import read_model

VALIDATE = Path(__file__).with_name("validate.mjs")
WHOLE = (".glb", ".usda", ".usdc", ".usdz")


def picture(kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.random.default_rng(3).integers(0, 255, (24, 32, 3), np.uint8)).save(out, kind)
    return out.getvalue()


def suit() -> Model:
    """A whole person as a model: quads, two materials, one textured, 62 joints, three morphs, a clip."""
    body = figure(1)
    quads = np.repeat(np.arange(len(body.triangles) // 2), 2).astype(np.int32)
    materials = (Material("weave", (0.5, 0.4, 0.3), 0.7, 0.0, "weave.png"), Material("horn", (0.1, 0.2, 0.3), 0.25, 0.5))
    fold = np.zeros((len(body.triangles), 3), np.uint8)
    fold[body.triangles == 700] = np.arange((body.triangles == 700).sum()) // 2  # one point is a sharp corner
    mesh = Mesh(body.base, body.triangles, body.corner_uv, (quads % 2).astype(np.int32), quads, materials, fold)
    shapes = [body.shapes.index(n) for n in ("stature", "girth", "leg_length")]
    return Model(mesh, body.skeleton, body.skin, tuple(body.shapes[k] for k in shapes), body.deltas[shapes],
                 (clip_named("walk", body.skeleton),), (Texture("weave.png", picture(), "image/png"),), ("suit",))


def there_and_back(model: Model, ending: str) -> Model:
    files = write_model(model, ending, "suit")
    first = next(iter(files))
    return read_model(files[first], first, {name.lower(): data for name, data in files.items()})


def rows_of(back: Model, model: Model) -> np.ndarray:
    gap, row = KDTree(back.mesh.points).query(model.mesh.points)
    assert gap.max() < 2e-6
    return row


def weights(model: Model, names: tuple[str, ...]) -> np.ndarray:
    assert model.skin is not None
    assert model.skeleton is not None
    out = np.zeros((len(model.mesh.points), len(names)))
    joints = np.array([names.index(n) for n in model.skeleton.names])
    np.add.at(out, (np.arange(len(out))[:, None], joints[model.skin.joints]), model.skin.weights)
    return out


@pytest.mark.parametrize("ending", WHOLE)
def test_all_that_a_model_holds_survives_writing_and_reading(ending: str):
    model = suit()
    back = there_and_back(model, ending)
    row = rows_of(back, model)
    assert back.skeleton is not None
    assert model.skeleton is not None
    assert np.abs(weights(back, model.skeleton.names)[row] - weights(model, model.skeleton.names)).max() < 1e-6
    mine = dict(zip(model.skeleton.names, model.skeleton.positions, strict=True))
    assert max(np.abs(mine[n] - p).max() for n, p in zip(back.skeleton.names, back.skeleton.positions, strict=True)) < 1e-6
    for name, moves in zip(model.morphs, model.deltas, strict=True):
        assert np.abs(back.deltas[back.morphs.index(name)][row] - moves).max() < 1e-6
    assert sorted(m.name for m in back.mesh.materials) == ["horn", "weave"]
    weave = next(m for m in back.mesh.materials if m.name == "weave")
    assert np.allclose(weave.colour, (0.5, 0.4, 0.3), atol=1e-6)
    assert weave.colour_map == "weave.png"
    assert back.textures[0].data == picture()
    assert not back.missing()
    clip, played = model.clips[0], back.clips[0]
    assert len(played.rotations) == len(clip.rotations)
    assert played.seconds == pytest.approx(clip.seconds, rel=1e-5)
    knee, other = clip.names.index("l_knee"), played.names.index("l_knee")
    assert np.abs(np.sum(clip.rotations[:, knee] * played.rotations[:, other], axis=1)).min() > 1 - 1e-6


@pytest.mark.parametrize("ending", [*WHOLE, ".obj"])
def test_texture_places_folds_and_polygons_survive(ending: str):
    model = suit()
    back = there_and_back(model, ending)
    row = rows_of(back, model)

    def corners(mesh: Mesh, points: np.ndarray) -> np.ndarray:
        assert mesh.corner_uv is not None
        return np.concatenate([points[mesh.triangles].reshape(-1, 1), mesh.corner_uv.reshape(-1, 2)], axis=1)

    onto = np.empty(len(row), int)
    onto[row] = np.arange(len(row))
    theirs, mine = corners(back.mesh, onto), corners(model.mesh, np.arange(len(row)))
    assert max(KDTree(a).query(b)[0].max() for a, b in ((theirs, mine), (mine, theirs))) < 2e-5
    assert back.mesh.corner_fold is not None
    sharp = back.mesh.corner_fold[back.mesh.triangles == row[700]]
    assert len(np.unique(sharp)) == len(np.unique(model.mesh.corner_fold[model.mesh.triangles == 700]))
    if ending != ".glb":  # which holds triangles alone
        _, sizes = polygon_corners(back.mesh)
        assert (sizes == 4).all()
        assert len(sizes) == len(model.mesh.triangles) // 2


@pytest.mark.parametrize("ending", WRITTEN)
def test_shape_survives_in_every_format(ending: str):
    model = suit()
    back = trimesh.Trimesh(*(lambda m: (m.points, m.triangles))(there_and_back(model, ending).mesh), process=False)
    assert back.is_watertight
    assert back.volume == pytest.approx(trimesh.Trimesh(model.mesh.points, model.mesh.triangles, process=False).volume, rel=1e-5)


def test_polygons_come_back_from_fans_also_when_turned_over():
    corner = np.array([[np.cos(a), np.sin(a), 0] for a in np.linspace(0, 2 * np.pi, 7)[:-1]], np.float32)
    fan = np.array([[0, k, k + 1] for k in range(1, 5)], np.int32)
    mesh = Mesh(corner, fan, polygon=np.zeros(4, np.int32))
    for m, way in ((mesh, 1), (turned_over(mesh, np.ones(4, bool)), -1)):
        at, sizes = polygon_corners(m)
        ring = m.triangles.ravel()[at]
        assert sizes.tolist() == [6]
        assert (np.diff(np.append(ring, ring[0])) % 6 == way % 6).all()


def test_a_mirrored_model_moves_as_the_mirror_image():
    model = suit()
    flipped = model.turned(MIRRORED)
    assert trimesh.Trimesh(flipped.mesh.points, flipped.mesh.triangles, process=False).volume > 0
    q, m = model.clips[0].rotations[5], flipped.clips[0].rotations[5]
    assert np.allclose(m, q * [1, -1, -1, 1])  # seen in a mirror across x = 0


def test_the_general_gltf_library_reads_ours_alike():
    model = suit()
    data = write_model(model, ".glb")["piece.glb"]
    doc = pygltflib.GLTF2().load_from_bytes(data)
    assert doc.images[0].mimeType == "image/png"
    view = doc.bufferViews[doc.images[0].bufferView]
    assert doc.binary_blob()[view.byteOffset:view.byteOffset + view.byteLength] == picture()
    assert [doc.nodes[j].name for j in doc.skins[0].joints] == list(model.skeleton.names)
    assert doc.meshes[0].extras["targetNames"] == list(model.morphs)
    assert {m.name for m in doc.materials} == {"weave", "horn"}


def test_the_khronos_validator_finds_nothing_in_ours(tmp_path):
    path = tmp_path / "suit.glb"
    path.write_bytes(write_model(suit(), ".glb", "suit")["suit.glb"])
    done = subprocess.run(["node", str(VALIDATE), str(path)], capture_output=True, text=True, check=True)
    issues = json.loads(done.stdout)
    assert (issues["numErrors"], issues["numWarnings"]) == (0, 0), issues["messages"]


def test_what_the_general_gltf_library_writes_is_read_alike():
    """A rod of two joints made by hand: unsigned bytes, normalised weights, a sidecar buffer and picture."""
    points = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 2, 0]], np.float32)
    faces, joints = np.array([[0, 1, 2], [2, 1, 3]], np.uint16), np.array([[0, 1, 0, 0]] * 4, np.uint8)
    shares = np.array([[255, 0, 0, 0], [255, 0, 0, 0], [128, 127, 0, 0], [0, 255, 0, 0]], np.uint8)
    inverse = np.tile(np.eye(4, dtype=np.float32), (2, 1, 1))
    inverse[1, 3, :3] = [0, -1, 0]
    arrays = [points, faces, joints, shares, inverse, np.array([[0, 0], [1, 0], [0, 1], [0, .5]], np.float32)]
    kinds = [("VEC3", 5126), ("SCALAR", 5123), ("VEC4", 5121), ("VEC4", 5121), ("MAT4", 5126), ("VEC2", 5126)]
    doc, raw = pygltflib.GLTF2(asset=pygltflib.Asset(version="2.0"), scene=0), b""
    for array, (kind, component) in zip(arrays, kinds, strict=True):
        doc.bufferViews.append(pygltflib.BufferView(buffer=0, byteOffset=len(raw), byteLength=array.nbytes))
        count = array.size if kind == "SCALAR" else len(array)
        doc.accessors.append(pygltflib.Accessor(bufferView=len(doc.accessors), componentType=component, count=count, type=kind,
                                                normalized=array is shares))
        raw += array.tobytes() + b"\0" * (-array.nbytes % 4)
    doc.buffers.append(pygltflib.Buffer(uri="rod.bin", byteLength=len(raw)))
    doc.images.append(pygltflib.Image(uri="maps/Weave%20one.PNG"))
    doc.textures.append(pygltflib.Texture(source=0))
    doc.materials.append(pygltflib.Material(name="weave", pbrMetallicRoughness=pygltflib.PbrMetallicRoughness(
        baseColorTexture=pygltflib.TextureInfo(index=0), roughnessFactor=0.4, metallicFactor=0.0)))
    attributes = pygltflib.Attributes(POSITION=0, JOINTS_0=2, WEIGHTS_0=3, TEXCOORD_0=5)
    doc.meshes.append(pygltflib.Mesh(primitives=[pygltflib.Primitive(attributes=attributes, indices=1, material=0)]))
    doc.nodes += [pygltflib.Node(name="Hip", children=[1]), pygltflib.Node(name="Knee", translation=[0, 1, 0]),
                  pygltflib.Node(name="rod", mesh=0, skin=0, translation=[9, 9, 9])]  # a skinned mesh stands where its joints are
    doc.skins.append(pygltflib.Skin(joints=[0, 1], inverseBindMatrices=4))
    doc.scenes.append(pygltflib.Scene(nodes=[0, 2]))
    text = doc.to_json().encode()
    model = read_model(text, "rod.gltf", {"rod.bin": raw, "weave one.png": picture()})
    assert model.skeleton.names == ("Hip", "Knee")
    assert np.allclose(model.skeleton.positions, [[0, 0, 0], [0, 1, 0]])
    assert np.allclose(model.mesh.points.max(axis=0), [1, 2, 0])
    row = int(np.argmax(model.mesh.points[:, 1]))
    assert model.skin.joints[row, np.argmax(model.skin.weights[row])] == 1
    assert model.mesh.materials[0].roughness == pytest.approx(0.4)
    assert model.textures[0].data == picture()
    assert read_model(text, "rod.gltf", {"rod.bin": raw}).missing() == ("weave one.png",)
    with pytest.raises(InputError, match=r"rod\.bin"):
        read_model(text, "rod.gltf")


@pytest.mark.parametrize("ending", [".usda", ".usdc", ".usdz"])
def test_usds_own_validators_find_nothing_in_ours(ending: str, tmp_path):
    for name, data in write_model(suit(), ending, "suit").items():
        (tmp_path / name).write_bytes(data)
    stage = Usd.Stage.Open(str(tmp_path / f"suit{ending}"))
    context = UsdValidation.ValidationContext(UsdValidation.ValidationRegistry().GetOrLoadAllValidators())
    assert [f"{e.GetName()} {e.GetMessage()}" for e in context.Validate(stage)] == []
    mesh = UsdGeom.Mesh(stage.GetPrimAtPath("/piece/suit"))
    assert len(mesh.GetPointsAttr().Get()) == len(suit().mesh.points)
    root = UsdSkel.Root(stage.GetPrimAtPath("/piece"))
    cache = UsdSkel.Cache()
    cache.Populate(root, Usd.PrimDefaultPredicate)
    query = cache.GetSkinningQuery(mesh.GetPrim())
    assert query.HasJointInfluences()
    assert query.HasBlendShapes()
    rest = np.array(mesh.GetPointsAttr().Get())
    bones = cache.GetSkelQuery(UsdSkel.Skeleton(stage.GetPrimAtPath("/piece/skeleton")))
    points = Vt.Vec3fArray.FromNumpy(rest.copy())
    assert query.ComputeSkinnedPoints(bones.ComputeSkinningTransforms(Usd.TimeCode(0)), points, Usd.TimeCode(0))
    assert np.abs(np.array(points) - rest).max() > 0.05  # the walk's first frame is no rest pose
    assert stage.GetPrimAtPath("/piece/materials/weave/diffuseColor_texture")


def test_a_stage_made_with_usds_own_library_is_read_in_metres_and_upright(tmp_path):
    path = tmp_path / "made.usda"
    stage = Usd.Stage.CreateNew(str(path))
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.z)
    UsdGeom.SetStageMetersPerUnit(stage, 0.01)
    above = UsdGeom.Xform.Define(stage, "/set")
    above.AddTranslateOp().Set(Gf.Vec3d(0, 0, 100))
    mesh = UsdGeom.Mesh.Define(stage, "/set/hat")
    mesh.CreatePointsAttr([(0, 0, 0), (10, 0, 0), (10, 0, 20), (0, 0, 20), (5, 0, 30)])
    mesh.CreateFaceVertexCountsAttr([4, 3])
    mesh.CreateFaceVertexIndicesAttr([0, 1, 2, 3, 3, 2, 4])
    mesh.CreateOrientationAttr(UsdGeom.Tokens.leftHanded)
    felt = UsdShade.Material.Define(stage, "/set/felt")
    shader = UsdShade.Shader.Define(stage, "/set/felt/surface")
    shader.CreateIdAttr("UsdPreviewSurface")
    shader.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).Set(Gf.Vec3f(0.2, 0.3, 0.4))
    felt.CreateSurfaceOutput().ConnectToSource(shader.ConnectableAPI(), "surface")
    UsdShade.MaterialBindingAPI.Apply(mesh.GetPrim()).Bind(felt)
    stage.GetRootLayer().Save()
    model = read_model(path.read_bytes(), path.name)
    assert np.allclose(model.mesh.points.max(axis=0), [0.1, 1.3, 0.0], atol=1e-6)
    assert polygon_corners(model.mesh)[1].tolist() == [4, 3]
    assert np.allclose(corner_normals(model.mesh)[0], [0, 0, -1], atol=1e-6)  # up turned from Z, wound the other way: it faces back
    assert model.mesh.materials[0].name == "felt"
    assert np.allclose(model.mesh.materials[0].colour, (0.2, 0.3, 0.4))


@pytest.mark.parametrize("ending", [".ply", ".stl", ".obj"])
def test_another_mesh_library_reads_and_writes_alike(ending: str, tmp_path):
    hat = trimesh.creation.annulus(0.09, 0.16, 0.02, sections=40)
    mine = Model(Mesh(hat.vertices.astype(np.float32), hat.faces.astype(np.int32)))
    path = tmp_path / f"hat{ending}"
    path.write_bytes(write_model(mine, ending, "hat")[path.name])
    theirs = meshio.read(path)
    assert len(theirs.cells_dict["triangle"]) == len(hat.faces)
    meshio.Mesh(hat.vertices, [("triangle", hat.faces)]).write(path)
    back = read_model(path.read_bytes(), path.name).mesh
    assert trimesh.Trimesh(back.points, back.triangles, process=False).volume == pytest.approx(hat.volume, rel=1e-5)


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP"])
def test_textures_are_told_by_their_bytes_and_can_be_drawn(kind: str):
    texture = read_texture(picture(kind), "weave")
    assert texture.media == f"image/{kind.lower()}"
    assert Image.open(io.BytesIO(drawable(texture))).size == (32, 24)


def test_an_exr_keeps_its_light_and_is_drawn_with_the_srgb_curve(tmp_path):
    path = tmp_path / "light.exr"
    grey = np.full((6, 9), 0.2159, np.float32)
    head = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}
    OpenEXR.File(head, {"R": grey, "G": grey, "B": grey}).write(str(path))
    texture = read_texture(path.read_bytes(), "light.exr")
    assert texture.media == "image/x-exr"
    shown = np.asarray(Image.open(io.BytesIO(drawable(texture))))
    assert shown.shape == (6, 9, 3)
    assert np.abs(shown.astype(int) - 128).max() <= 1  # linear 0.2159 is sRGB 0.502


@pytest.mark.parametrize("said", ["weave.png", "C:\\old\\maps\\Weave.PNG", "../../maps/weave.png", "-bm 0.5 http://marsh.example/weave.png"])
def test_a_texture_of_the_upload_is_found_by_name_wherever_the_file_says_it_lay(said: str):
    obj = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl felt\nf 1/1 2/2 3/3\n"
    model = read_model(obj, "cap.obj", {"cap.mtl": f"newmtl felt\nmap_Kd {said}\n".encode(), "weave.png": picture()})
    assert model.mesh.materials[0].colour_map == "weave.png"
    assert model.textures[0].data == picture()
    assert read_model(obj, "cap.obj", {"cap.mtl": f"newmtl felt\nmap_Kd {said}\n".encode()}).missing() == ("weave.png",)
