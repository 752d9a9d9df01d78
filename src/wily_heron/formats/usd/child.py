# The USD library has no type stubs:
# pyright: reportAttributeAccessIssue=false
"""The part of reading USD that runs in a process of its own, so that a hostile file cannot take the house down.

`python -m wily_heron.formats.usd.child LAYER OUT` opens the one layer LAYER (nothing it refers to is followed), and writes plain
arrays and notes to OUT (.npz). What is wrong is written as the note `problem`.
"""

import json
import resource
import sys

import numpy as np

_MEMORY = 4 * 2**30
_FRAMES, _JOINTS, _MOST = 5000, 1000, 8_000_000


class _Wrong(Exception):
    """The file cannot be used; the text says why."""


def main() -> None:
    """Read the layer named on the command line."""
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY, _MEMORY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    source, out = sys.argv[1:3]
    arrays: dict[str, np.ndarray] = {}
    try:
        notes = _read(source, arrays)
    except _Wrong as wrong:
        notes, arrays = {"problem": str(wrong)}, {}
    except MemoryError:
        notes, arrays = {"problem": "it asks for more than 4 GB of memory"}, {}
    except Exception as error:  # whatever the library raises on damage
        notes, arrays = {"problem": f"it cannot be read ({type(error).__name__})"}, {}
    with open(out, "wb") as file:
        np.savez(file, **{"notes": np.frombuffer(json.dumps(notes).encode(), np.uint8), **arrays})


def _read(source: str, arrays: dict[str, np.ndarray]) -> dict:
    from pxr import Sdf, Usd, UsdGeom, UsdSkel

    layer = Sdf.Layer.FindOrOpen(source)
    if layer is None:
        raise _Wrong("it cannot be opened as USD")
    outside = [p for p in layer.GetCompositionAssetDependencies() if p]
    if outside:
        raise _Wrong(f"parts of it lie in other files ({outside[0][:60]})")
    stage = Usd.Stage.Open(layer, Usd.Stage.LoadNone)
    if any(prim.HasMetadata("clips") for prim in stage.TraverseAll()):
        raise _Wrong("its animation lies in other files (value clips)")
    skeletons = UsdSkel.Cache()
    for prim in stage.Traverse(Usd.TraverseInstanceProxies()):
        if prim.IsA(UsdSkel.Root):
            skeletons.Populate(UsdSkel.Root(prim), Usd.TraverseInstanceProxies())
    time = Usd.TimeCode.Default()
    xforms = UsdGeom.XformCache(time)
    notes: dict = {"metres": UsdGeom.GetStageMetersPerUnit(stage), "up": str(UsdGeom.GetStageUpAxis(stage)).lower(), "meshes": [],
                   "materials": {}, "skeletons": [], "clips": []}
    known: dict[str, int] = {}
    total = 0
    for prim in stage.Traverse(Usd.TraverseInstanceProxies()):
        if not prim.IsA(UsdGeom.Mesh):
            continue
        image = UsdGeom.Imageable(prim)
        if image.ComputeVisibility(time) == "invisible" or image.ComputePurpose() in ("proxy", "guide"):
            continue
        entry = _mesh(prim, f"m{len(notes['meshes'])}", xforms, arrays, notes["materials"])
        if entry is None:
            continue
        total += len(arrays[f"{entry['key']}_points"])
        if total > _MOST:
            raise _Wrong(f"it holds more than {_MOST} points")
        query = skeletons.GetSkinningQuery(prim)
        if query:
            _skin(prim, query, entry, arrays, notes, known, skeletons, stage)
        notes["meshes"].append(entry)
    return notes


def _mesh(prim, key: str, xforms, arrays: dict[str, np.ndarray], materials: dict) -> dict | None:
    from pxr import UsdGeom

    mesh = UsdGeom.Mesh(prim)
    points, counts, indices = (_first(a) for a in (mesh.GetPointsAttr(), mesh.GetFaceVertexCountsAttr(), mesh.GetFaceVertexIndicesAttr()))
    if points is None or counts is None or indices is None or not len(points) or not len(counts):
        return None
    points, counts, indices = np.asarray(points, np.float64), np.asarray(counts, np.int64), np.asarray(indices, np.int64)
    name = prim.GetName()
    if counts.min() < 3 or counts.sum() != len(indices):
        raise _Wrong(f"the faces of {name} do not add up")
    if len(indices) and not 0 <= indices.min() <= indices.max() < len(points):
        raise _Wrong(f"a face of {name} points to vertex {int(indices.max())} of {len(points)}")
    if not np.isfinite(points).all():
        raise _Wrong(f"{name} holds points that are not finite numbers")
    world = np.array(xforms.GetLocalToWorldTransform(prim)).T
    arrays |= {f"{key}_points": points, f"{key}_counts": counts, f"{key}_indices": indices, f"{key}_world": world}
    api = UsdGeom.PrimvarsAPI(prim)
    uv = api.GetPrimvar("st")
    if not uv:
        uv = next((v for v in api.GetPrimvarsWithValues() if str(v.GetTypeName()) in ("texCoord2f[]", "float2[]")), None)
    if uv:
        _corners(arrays, f"{key}_uv", uv.ComputeFlattened(), uv.GetInterpolation(), indices, len(points), 2)
    normal = api.GetPrimvar("normals")
    if normal and normal.HasValue():
        _corners(arrays, f"{key}_normals", normal.ComputeFlattened(), normal.GetInterpolation(), indices, len(points), 3)
    elif mesh.GetNormalsAttr().HasValue():
        _corners(arrays, f"{key}_normals", _first(mesh.GetNormalsAttr()), mesh.GetNormalsInterpolation(), indices, len(points), 3)
    faces = np.zeros(len(counts), np.int64)
    faces[:] = _material(prim, materials)
    for subset in UsdGeom.Subset.GetAllGeomSubsets(UsdGeom.Imageable(prim)):
        rows = np.asarray(_first(subset.GetIndicesAttr()) or [], np.int64)
        if str(subset.GetFamilyNameAttr().Get()) == "materialBind" and len(rows) and 0 <= rows.min() <= rows.max() < len(faces):
            faces[rows] = _material(subset.GetPrim(), materials)
    arrays[f"{key}_material"] = faces
    return {"key": key, "name": name, "left": str(mesh.GetOrientationAttr().Get()) == "leftHanded"}


def _first(attribute):
    """Return an attribute's value, or that at its first time sample."""
    value = attribute.Get()
    if value is None and attribute.GetNumTimeSamples():
        value = attribute.Get(attribute.GetTimeSamples()[0])
    return value


def _corners(arrays, key: str, values, interpolation, indices: np.ndarray, points: int, width: int) -> None:
    if values is None:
        return
    values = np.asarray(values, np.float64)
    if values.ndim != 2 or values.shape[1] != width or not np.isfinite(values).all():
        return
    if str(interpolation) in ("vertex", "varying") and len(values) == points:
        arrays[key] = values[indices]
    elif str(interpolation) == "faceVarying" and len(values) == len(indices):
        arrays[key] = values


def _material(prim, materials: dict) -> int:
    from pxr import UsdShade

    bound = UsdShade.MaterialBindingAPI(prim).ComputeBoundMaterial()[0]
    path = str(bound.GetPath()) if bound else ""
    if path not in materials:
        materials[path] = {"number": len(materials), **(_surface(bound) if bound else {"name": "cloth"})}
    return materials[path]["number"]


def _surface(material) -> dict:
    from pxr import Sdf, UsdShade

    out: dict = {"name": material.GetPrim().GetName()}
    source = material.ComputeSurfaceSource()
    shader = source[0] if source else None
    if not shader:
        return out
    for input_name, key in (("diffuseColor", "colour"), ("roughness", "roughness"), ("metallic", "metal"), ("normal", "normal")):
        given = shader.GetInput(input_name)
        if not given:
            continue
        attributes = UsdShade.Utils.GetValueProducingAttributes(given)
        for attribute in attributes:
            made_by = UsdShade.Shader(attribute.GetPrim())
            file = made_by.GetInput("file") if made_by else None
            value = file.Get() if file else attribute.Get()
            if isinstance(value, Sdf.AssetPath):
                out[f"{key}_map"] = value.path
                tint = made_by.GetInput("scale")
                if key == "colour" and tint and tint.Get() is not None:
                    out[key] = [float(c) for c in tint.Get()][:3]
            elif key == "colour" and value is not None:
                out[key] = [float(c) for c in value][:3]
            elif value is not None and key in ("roughness", "metal"):
                out[key] = float(value)
    return out


def _skin(prim, query, entry: dict, arrays, notes: dict, known: dict[str, int], skeletons, stage) -> None:
    from pxr import UsdSkel

    key, count = entry["key"], len(arrays[f"{entry['key']}_points"])
    binding = UsdSkel.BindingAPI(prim)
    skeleton = binding.GetInheritedSkeleton()
    if skeleton and query.HasJointInfluences():
        number = _skeleton(skeleton, notes, known, arrays, skeletons, stage)
        joints, weights = query.ComputeVaryingJointInfluences(count)
        joints, weights = np.asarray(joints, np.int64), np.asarray(weights, np.float64)
        width = len(joints) // count if count else 0
        if width and len(joints) == width * count == len(weights):
            mapper, total = query.GetJointMapper(), len(notes["skeletons"][number]["joints"])
            own = query.GetJointOrder()
            onto = np.arange(max(total, 1))
            if mapper is not None and own is not None and not mapper.IsIdentity():
                order = [str(j) for j in notes["skeletons"][number]["paths"]]
                onto = np.array([order.index(str(j)) if str(j) in order else 0 for j in own])
            if joints.size and not 0 <= joints.min() <= joints.max() < len(onto):
                raise _Wrong(f"{entry['name']} follows joint {int(joints.max())} of {len(onto)}")
            arrays[f"{key}_joints"], arrays[f"{key}_weights"] = onto[joints].reshape(count, width), weights.reshape(count, width)
            arrays[f"{key}_bind"] = np.array(query.GetGeomBindTransform()).T
            entry["skeleton"] = number
    entry["morphs"] = []
    if query.HasBlendShapes():
        names, targets = query.GetBlendShapeOrder(), binding.GetBlendShapeTargetsRel().GetTargets()
        for k, (name, path) in enumerate(zip(names, targets, strict=False)):
            shape = UsdSkel.BlendShape(stage.GetPrimAtPath(path))
            if not shape or shape.GetOffsetsAttr().Get() is None:
                continue
            offsets, rows = np.asarray(shape.GetOffsetsAttr().Get(), np.float32), shape.GetPointIndicesAttr().Get()
            rows = np.arange(count) if rows is None or not len(rows) else np.asarray(rows, np.int64)
            if len(rows) != len(offsets) or (len(rows) and not 0 <= rows.min() <= rows.max() < count):
                raise _Wrong(f"the blend shape {name} does not match its points")
            arrays[f"{key}_rows{k}"], arrays[f"{key}_moves{k}"] = rows, offsets
            entry["morphs"].append([str(name), k])


def _skeleton(skeleton, notes: dict, known: dict[str, int], arrays, skeletons, stage) -> int:
    path = str(skeleton.GetPath())
    if path in known:
        return known[path]
    query = skeletons.GetSkelQuery(skeleton)
    paths = [str(j) for j in query.GetJointOrder()] if query else []
    bind = query.GetJointWorldBindTransforms() if query else None
    if not paths or bind is None or len(bind) != len(paths) or len(paths) > _JOINTS:
        raise _Wrong("its skeleton cannot be read")
    known[path] = number = len(notes["skeletons"])
    parents = [int(query.GetTopology().GetParent(i)) for i in range(len(paths))]
    arrays[f"s{number}_bind"] = np.array([np.array(m).T for m in bind])
    notes["skeletons"].append({"paths": paths, "joints": [p.rsplit("/", 1)[-1] for p in paths], "parents": parents})
    animation = query.GetAnimQuery()
    times = animation.GetJointTransformTimeSamples() if animation else []
    if animation and animation.GetPrim() and (times or animation.ComputeJointLocalTransforms(0)):
        rate = stage.GetTimeCodesPerSecond() or 24.0
        times = list(times) or [0.0]
        step = max(len(times) / _FRAMES, 1.0)
        chosen = [times[int(i * step)] for i in range(int(len(times) / step))]
        frames = [query.ComputeJointSkelTransforms(t) for t in chosen]
        arrays[f"s{number}_frames"] = np.array([[np.array(m).T for m in frame] for frame in frames])
        notes["clips"].append({"skeleton": number, "name": animation.GetPrim().GetName(),
                               "seconds": (chosen[1] - chosen[0]) / rate if len(chosen) > 1 else 1.0 / 24})
    return number


if __name__ == "__main__":
    main()
