# The USD library has no type stubs:
# pyright: reportAttributeAccessIssue=false
"""A model to USD: polygons, preview-surface materials, UsdSkel weights, blend shapes and clips; .usda, .usdc or a .usdz package."""

import tempfile
from pathlib import Path

import numpy as np
from pxr import Gf, Kind, Sdf, Usd, UsdGeom, UsdShade, UsdSkel, Vt

from ...core.figure.base.skeleton import Skeleton
from ...core.mesh.mesh import Material
from ...core.mesh.normals import vertex_normals
from ...core.mesh.ops.folds import corner_normals
from ...core.mesh.polygons import polygon_corners
from ...core.model.model import Model
from ...core.motion.motion import Motion
from ..images.texture_files import texture_files


def write_usd(model: Model, ending: str) -> dict[str, bytes]:
    """Return the files of the model by name: `piece` with `ending` and, but for .usdz, its textures. Metres, Y up."""
    files = texture_files(model.textures)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for file, data in files.values():
            (folder / file).write_bytes(data)
        layer = folder / f"piece{'.usdc' if ending == '.usdz' else ending}"
        _write(model, layer, {texture: file for texture, (file, _) in files.items()})
        if ending != ".usdz":
            return {layer.name: layer.read_bytes(), **dict(files.values())}
        package = Sdf.ZipFileWriter.CreateNew(str(folder / "piece.usdz"))
        for file in (layer.name, *(file for file, _ in files.values())):  # the layer comes first, as the package format asks
            package.AddFile(str(folder / file), file)
        package.Save()
        return {"piece.usdz": (folder / "piece.usdz").read_bytes()}


def _write(model: Model, path: Path, files: dict[str, str]) -> None:
    stage = Usd.Stage.CreateNew(str(path))
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    rigged = model.skeleton if model.skin is not None else None
    root = UsdSkel.Root.Define(stage, "/piece") if rigged or model.morphs else UsdGeom.Xform.Define(stage, "/piece")
    Usd.ModelAPI(root.GetPrim()).SetKind(Kind.Tokens.component)
    stage.SetDefaultPrim(root.GetPrim())
    materials = [_material(stage, k, m, files) for k, m in enumerate(model.mesh.materials)]
    paths = _joint_paths(rigged) if rigged else []
    if rigged or model.morphs:
        _skeleton(stage, rigged, paths, model.clips)
    taken: list[str] = []
    held = np.unique(model.triangle_object)
    for k in held.tolist():
        part = model.part(model.triangle_object == k) if len(held) > 1 else model
        own = [materials[model.mesh.materials.index(m)] for m in part.mesh.materials]
        _mesh(stage, part, _name(model.objects[k], taken), own, bool(rigged))
    stage.GetRootLayer().Save()


def _name(text: str, taken: list[str]) -> str:
    made = (Sdf.Path.IsValidIdentifier(text) and text) or "".join(c if c.isascii() and c.isalnum() else "_" for c in text) or "part"
    made = f"_{made}" if made[0].isdigit() else made
    base, n = made, 2
    while made in taken:
        made, n = f"{base}_{n}", n + 1
    taken.append(made)
    return made


def _joint_paths(skeleton: Skeleton) -> list[str]:
    taken: list[str] = []
    names = [_name(n, taken) for n in skeleton.names]
    paths: list[str] = []
    for name, parent in zip(names, skeleton.parents, strict=True):
        paths.append(f"{paths[parent]}/{name}" if parent >= 0 else name)
    return paths


def _moved(places: np.ndarray) -> list[Gf.Matrix4d]:
    return [Gf.Matrix4d(1.0).SetTranslate(Gf.Vec3d(*map(float, p))) for p in places]


def _skeleton(stage: Usd.Stage, rigged: Skeleton | None, paths: list[str], clips: tuple[Motion, ...]) -> None:
    skeleton = UsdSkel.Skeleton.Define(stage, "/piece/skeleton")
    if rigged is None:  # blend shapes alone still need a skeleton to be bound to
        rigged, paths = Skeleton(("root",), np.array([-1]), np.zeros((1, 3))), ["root"]
    offsets = rigged.positions - np.where(rigged.parents[:, None] >= 0, rigged.positions[np.maximum(rigged.parents, 0)], 0.0)
    skeleton.CreateJointsAttr(paths)
    skeleton.CreateBindTransformsAttr(Vt.Matrix4dArray(_moved(rigged.positions)))
    skeleton.CreateRestTransformsAttr(Vt.Matrix4dArray(_moved(offsets)))
    rates = [1.0 / c.seconds for c in clips]
    if clips:
        stage.SetTimeCodesPerSecond(rates[0])
        stage.SetFramesPerSecond(rates[0])
        stage.SetStartTimeCode(0)
        stage.SetEndTimeCode(max(len(c.rotations) for c in clips) - 1)
    taken = ["skeleton"]
    for k, clip in enumerate(clips):
        animation = UsdSkel.Animation.Define(stage, f"/piece/skeleton/{_name(clip.name, taken)}")
        animation.CreateJointsAttr([paths[rigged.index(n)] for n in clip.names])
        animation.CreateScalesAttr(Vt.Vec3hArray([Gf.Vec3h(1, 1, 1)] * len(clip.names)))
        turns, moves = animation.CreateRotationsAttr(), animation.CreateTranslationsAttr()
        for frame, rotations in enumerate(clip.rotations):
            at = frame * rates[0] * clip.seconds
            turns.Set(Vt.QuatfArray([Gf.Quatf(float(q[3]), float(q[0]), float(q[1]), float(q[2])) for q in rotations]), at)
            places = clip.offsets.copy()
            places[0] += clip.root[frame]
            moves.Set(Vt.Vec3fArray.FromNumpy(places.astype(np.float32)), at)
        if k == 0:
            UsdSkel.BindingAPI.Apply(skeleton.GetPrim()).CreateAnimationSourceRel().SetTargets([animation.GetPath()])


def _mesh(stage: Usd.Stage, part: Model, name: str, materials: list[UsdShade.Material], rigged: bool) -> None:
    mesh = UsdGeom.Mesh.Define(stage, f"/piece/{name}")
    prim, source = mesh.GetPrim(), part.mesh
    corners, sizes = polygon_corners(source)
    index = source.triangles.ravel()[corners].astype(np.int32)
    points = np.ascontiguousarray(source.points, np.float32)
    mesh.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(points))
    mesh.CreateFaceVertexCountsAttr(Vt.IntArray.FromNumpy(sizes.astype(np.int32)))
    mesh.CreateFaceVertexIndicesAttr(Vt.IntArray.FromNumpy(index))
    mesh.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
    mesh.CreateDoubleSidedAttr(True)
    mesh.CreateExtentAttr(Vt.Vec3fArray.FromNumpy(np.array([points.min(axis=0), points.max(axis=0)], np.float32)))
    if source.corner_fold is None:
        mesh.CreateNormalsAttr(Vt.Vec3fArray.FromNumpy(vertex_normals(points, source.triangles).astype(np.float32)))
        mesh.SetNormalsInterpolation(UsdGeom.Tokens.vertex)
    else:
        normals, at = corner_normals(source)
        mesh.CreateNormalsAttr(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(normals[at.ravel()[corners]])))
        mesh.SetNormalsInterpolation(UsdGeom.Tokens.faceVarying)
    if source.corner_uv is not None:
        api = UsdGeom.PrimvarsAPI(prim)
        uv = api.CreatePrimvar("st", Sdf.ValueTypeNames.TexCoord2fArray, UsdGeom.Tokens.faceVarying)
        places, rows = np.unique(source.corner_uv.reshape(-1, 2)[corners], axis=0, return_inverse=True)
        uv.Set(Vt.Vec2fArray.FromNumpy(np.ascontiguousarray(places, np.float32)))
        uv.SetIndices(Vt.IntArray.FromNumpy(rows.ravel().astype(np.int32)))
    of_face = source.triangle_material[corners[np.cumsum(sizes) - sizes] // 3]
    used = np.unique(of_face).tolist()
    if len(used) == 1:
        UsdShade.MaterialBindingAPI.Apply(prim).Bind(materials[used[0]])
    taken: list[str] = []
    for m in used if len(used) > 1 else ():
        rows = Vt.IntArray.FromNumpy(np.flatnonzero(of_face == m).astype(np.int32))
        subset = UsdGeom.Subset.CreateGeomSubset(mesh, _name(source.materials[m].name, taken), UsdGeom.Tokens.face, rows, "materialBind",
                                                 UsdGeom.Tokens.partition)
        UsdShade.MaterialBindingAPI.Apply(subset.GetPrim()).Bind(materials[m])
    if rigged or part.morphs:
        _bind(stage, prim, part, rigged)


def _bind(stage: Usd.Stage, prim: Usd.Prim, part: Model, rigged: bool) -> None:
    api = UsdSkel.BindingAPI.Apply(prim)
    api.CreateSkeletonRel().SetTargets([Sdf.Path("/piece/skeleton")])
    if rigged and part.skin is not None:
        api.CreateGeomBindTransformAttr(Gf.Matrix4d(1.0))
        api.CreateJointIndicesPrimvar(False, 4).Set(Vt.IntArray.FromNumpy(part.skin.joints.ravel().astype(np.int32)))
        api.CreateJointWeightsPrimvar(False, 4).Set(Vt.FloatArray.FromNumpy(part.skin.weights.ravel().astype(np.float32)))
    taken: list[str] = []
    targets = []
    for name, moves in zip(part.morphs, part.deltas, strict=True):
        rows = np.flatnonzero(np.abs(moves).max(axis=1) > 1e-8)
        shape = UsdSkel.BlendShape.Define(stage, f"{prim.GetPath()}/{_name(name, taken)}")
        shape.CreateOffsetsAttr(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(moves[rows], np.float32)))
        shape.CreatePointIndicesAttr(Vt.IntArray.FromNumpy(rows.astype(np.int32)))
        targets.append(shape.GetPath())
    if targets:
        api.CreateBlendShapesAttr([str(n) for n in part.morphs])
        api.CreateBlendShapeTargetsRel().SetTargets(targets)


def _material(stage: Usd.Stage, number: int, material: Material, files: dict[str, str]) -> UsdShade.Material:
    name = _name(material.name, [])
    path = f"/piece/materials/{name}" if not stage.GetPrimAtPath(f"/piece/materials/{name}") else f"/piece/materials/{name}_{number}"
    UsdGeom.Scope.Define(stage, "/piece/materials")
    made = UsdShade.Material.Define(stage, path)
    shader = UsdShade.Shader.Define(stage, f"{path}/surface")
    shader.CreateIdAttr("UsdPreviewSurface")
    shader.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).Set(Gf.Vec3f(*material.colour))
    shader.CreateInput("roughness", Sdf.ValueTypeNames.Float).Set(float(material.roughness))
    shader.CreateInput("metallic", Sdf.ValueTypeNames.Float).Set(float(material.metal))
    made.CreateSurfaceOutput().ConnectToSource(shader.ConnectableAPI(), "surface")
    wanted = ((material.colour_map, "diffuseColor", "rgb", "sRGB"), (material.normal_map, "normal", "rgb", "raw"),
              (material.rough_map, "roughness", "g", "raw"), (material.rough_map, "metallic", "b", "raw"))
    if not any(texture in files for texture, *_ in wanted):
        return made
    reader = UsdShade.Shader.Define(stage, f"{path}/place")
    reader.CreateIdAttr("UsdPrimvarReader_float2")
    reader.CreateInput("varname", Sdf.ValueTypeNames.String).Set("st")
    for texture, target, channel, space in wanted:
        if texture not in files:
            continue
        sampler = UsdShade.Shader.Define(stage, f"{path}/{target}_texture")
        sampler.CreateIdAttr("UsdUVTexture")
        sampler.CreateInput("file", Sdf.ValueTypeNames.Asset).Set(Sdf.AssetPath(f"./{files[texture]}"))
        sampler.CreateInput("sourceColorSpace", Sdf.ValueTypeNames.Token).Set(space)
        sampler.CreateInput("st", Sdf.ValueTypeNames.Float2).ConnectToSource(reader.CreateOutput("result", Sdf.ValueTypeNames.Float2))
        for axis in ("wrapS", "wrapT"):
            sampler.CreateInput(axis, Sdf.ValueTypeNames.Token).Set("repeat")
        if target == "diffuseColor":  # the plain colour tints the picture
            sampler.CreateInput("scale", Sdf.ValueTypeNames.Float4).Set(Gf.Vec4f(*material.colour, 1.0))
        if target == "normal":
            sampler.CreateInput("scale", Sdf.ValueTypeNames.Float4).Set(Gf.Vec4f(2, 2, 2, 1))
            sampler.CreateInput("bias", Sdf.ValueTypeNames.Float4).Set(Gf.Vec4f(-1, -1, -1, 0))
        kind = {"rgb": Sdf.ValueTypeNames.Float3, "g": Sdf.ValueTypeNames.Float, "b": Sdf.ValueTypeNames.Float}[channel]
        value = Sdf.ValueTypeNames.Normal3f if target == "normal" else None
        shader.CreateInput(target, value or (Sdf.ValueTypeNames.Color3f if channel == "rgb" else Sdf.ValueTypeNames.Float)).ConnectToSource(
            sampler.CreateOutput(channel, kind))
    return made
