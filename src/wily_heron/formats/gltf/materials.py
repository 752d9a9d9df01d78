"""Materials of a glTF file, and the textures they ask for."""

from ...core.mesh.mesh import Material
from ...core.model.model import Texture
from ..beside import Beside
from ..images.textures import read_texture
from .file import image_bytes, listed
from .glb import GlbReader


class Pictures:
    """The file's textures by name, read when a material asks for one."""

    def __init__(self, reader: GlbReader, beside: Beside) -> None:
        self.reader, self.beside = reader, beside
        self.textures: dict[str, Texture] = {}
        self._names: dict[int, str] = {}

    def named(self, entry: object) -> str | None:
        """Return the name of the texture a material's entry points to."""
        try:
            number = int(entry["index"])  # type: ignore[index]
            texture = listed(self.reader, "textures")[number]
            webp = texture.get("extensions", {}).get("EXT_texture_webp", {})
            image = int(webp.get("source", texture.get("source", -1)))
            found = listed(self.reader, "images")[image] if image >= 0 else {}
        except (TypeError, KeyError, ValueError, IndexError, AttributeError):
            return None
        if image not in self._names:
            name, data = image_bytes(self.reader, found, self.beside)
            while name in self._names.values():
                name += "'"
            self._names[image] = name
            if data is not None:
                self.textures[name] = read_texture(data, name)
        return self._names[image]

    def material(self, index: int) -> Material:
        """Return material `index` of the file."""
        known = listed(self.reader, "materials")
        if not 0 <= index < len(known):
            return Material("cloth")
        entry = known[index]
        name = str(entry.get("name") or f"material {index}")[:80]
        surface = entry.get("pbrMetallicRoughness", {})
        try:
            r, g, b = (min(max(float(c), 0.0), 1.0) for c in surface.get("baseColorFactor", (1, 1, 1, 1))[:3])
            roughness, metal = (min(max(float(surface.get(k, 1.0)), 0.0), 1.0) for k in ("roughnessFactor", "metallicFactor"))
            maps = [self.named(surface.get("baseColorTexture")), self.named(entry.get("normalTexture")),
                    self.named(surface.get("metallicRoughnessTexture"))]
        except (TypeError, ValueError, AttributeError):
            return Material(name)
        return Material(name, (r, g, b), roughness, metal, *maps)
