"""The material file of an OBJ, and the textures it names."""

from dataclasses import replace

from ...core.mesh.mesh import Material
from ...core.model.model import Texture
from ..beside import Beside, plain_name
from ..images.textures import read_texture

_MAPS = {"map_kd": "colour_map", "map_bump": "normal_map", "bump": "normal_map", "norm": "normal_map", "map_pr": "rough_map"}


def read_mtl(name: str, beside: Beside) -> tuple[dict[str, Material], list[Texture]]:
    """Return the materials by name of the .mtl beside the OBJ `name` (else any .mtl), and the textures that came with it.

    A damaged line costs its colour, not the piece. Textures are found by their plain names among the files of the same upload.
    """
    own = plain_name(name).rsplit(".", 1)[0] + ".mtl"
    mtl = beside.get(own) or next((beside[k] for k in sorted(beside) if k.endswith(".mtl")), b"")
    out: dict[str, Material] = {}
    textures: dict[str, Texture] = {}
    label = ""
    for line in mtl.decode("utf-8", "replace").splitlines():
        word, _, rest = line.strip().partition(" ")
        if word == "newmtl":
            label = rest.strip()[:80]
            out[label] = Material(label)
        elif label and word.lower() in _MAPS:
            file = plain_name(_path(rest))
            out[label] = replace(out[label], **{_MAPS[word.lower()]: file})
            if file in beside and file not in textures:
                textures[file] = read_texture(beside[file], file)
        elif label:
            out[label] = _with(out[label], word, rest)
    return out, list(textures.values())


def _path(rest: str) -> str:
    """Return the file of a map line: what follows its options, which begin with '-' and are followed by numbers or words."""
    words, k = rest.split(), 0
    takes = {"-o": 3, "-s": 3, "-t": 3, "-mm": 2}
    while k < len(words) and words[k].startswith("-"):
        k += 1 + takes.get(words[k], 1)
    return " ".join(words[k:])


def _with(material: Material, word: str, rest: str) -> Material:
    try:
        values = [min(max(float(x), 0.0), 1.0) for x in rest.split()]
        if word == "Kd":
            return replace(material, colour=(values[0], values[1], values[2]))
        if word == "Pr":
            return replace(material, roughness=values[0])
        if word == "Pm":
            return replace(material, metal=values[0])
    except (ValueError, IndexError):
        pass
    return material


def write_mtl(materials: tuple[Material, ...], files: dict[str, str]) -> bytes:
    """Return the material file; `files` gives the file of each texture by its name."""
    lines = []
    for m in materials:
        lines += [f"newmtl {m.name}", "Kd " + " ".join(f"{c:.5f}" for c in m.colour), f"Pr {m.roughness:.4f}", f"Pm {m.metal:.4f}"]
        for word, texture in (("map_Kd", m.colour_map), ("norm", m.normal_map), ("map_Pr", m.rough_map)):
            if texture and texture in files:
                lines.append(f"{word} {files[texture]}")
    return ("\n".join(lines) + "\n").encode()
