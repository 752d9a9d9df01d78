"""A model to any format the house writes."""

import io
import zipfile

from ..core.errors import InputError
from ..core.model.model import Model
from .gltf.write import write_gltf
from .images.texture_files import texture_files
from .obj.mtl import write_mtl
from .obj.obj import write_obj
from .ply import write_ply
from .stl import write_stl

WRITTEN = (".glb", ".obj", ".usdz", ".usdc", ".usda", ".ply", ".stl")


def write_model(model: Model, ending: str, stem: str = "piece") -> dict[str, bytes]:
    """Return the files, by name, that hold the model (metres, Y up) in the format of `ending`; the first is the piece itself.

    glTF and USD keep all there is; OBJ keeps polygons, texture places, folds, materials and textures; PLY and STL the shape alone.
    """
    match ending:
        case ".glb":
            return {f"{stem}.glb": write_gltf(model)}
        case ".usda" | ".usdc" | ".usdz":
            from .usd.write import write_usd  # half a second to load, which only a USD file is worth

            made = write_usd(model, ending)
            return {name.replace(f"piece{ending}", f"{stem}{ending}"): data for name, data in made.items()}
        case ".obj":
            files = texture_files(model.textures)
            mtl = write_mtl(model.mesh.materials, {name: file for name, (file, _) in files.items()})
            return {f"{stem}.obj": write_obj(model.mesh, f"{stem}.mtl"), f"{stem}.mtl": mtl, **dict(files.values())}
        case ".ply":
            return {f"{stem}.ply": write_ply(model.mesh)}
        case ".stl":
            return {f"{stem}.stl": write_stl(model.mesh)}
    raise InputError(what=f"files ending in '{ending or 'nothing'}' cannot be written", where=stem,
                     todo=f"Use one of {', '.join(WRITTEN)}.")


def zipped(files: dict[str, bytes]) -> bytes:
    """Return several files as one zip."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0)), data)
    return out.getvalue()
