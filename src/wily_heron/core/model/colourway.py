"""Colourways: a piece in other materials."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..errors import InputError
from ..mesh.mesh import Material
from .model import Model, Texture


@dataclass(frozen=True)
class Surface:
    """What a material becomes: base colour (linear), roughness, metalness, and a texture if any."""

    colour: tuple[float, float, float]
    roughness: float
    metal: float
    texture: Texture | None = None


def recoloured(model: Model, surfaces: Mapping[str, Surface]) -> Model:
    """Return the model with the materials named in `surfaces` replaced; raises `InputError` for a material it does not have."""
    names = {m.name for m in model.mesh.materials}
    for name in surfaces:
        if name not in names:
            raise InputError(what=f"it has no material '{name}'", where="the colourway",
                             todo=f"Its materials are {', '.join(sorted(names))}.")
    materials: list[Material] = []
    textures = {t.name: t for t in model.textures}
    for m in model.mesh.materials:
        new = surfaces.get(m.name)
        if new is None:
            materials.append(m)
            continue
        if new.texture is not None:
            textures[new.texture.name] = new.texture
        materials.append(replace(m, colour=new.colour, roughness=new.roughness, metal=new.metal,
                                 colour_map=new.texture.name if new.texture else None))
    used = {t for m in materials for t in m.maps()}
    return replace(model, mesh=replace(model.mesh, materials=tuple(materials)), textures=tuple(t for n, t in textures.items() if n in used))
