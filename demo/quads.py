"""A quad mesh as the demo's studios make it, and the OBJ file they send."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np


@dataclass(frozen=True)
class Quads:
    """A quad mesh in metres, Y up: points (n, 3), quads (m, 4), uv per corner (m, 4, 2), material index (m,)."""

    points: np.ndarray
    quads: np.ndarray
    uv: np.ndarray
    material: np.ndarray


def write_obj(path: Path, mesh: Quads, title: str, materials: dict[str, str], scale: float = 1.0, lying: bool = False) -> None:
    """Write OBJ + MTL at `scale` units to the metre; `lying` with Z up. `materials` gives each its MTL lines."""
    x, y, z = (scale * mesh.points).T
    p = np.round(np.stack([x, -z, y] if lying else [x, y, z], axis=1), 4)
    uv, at = np.unique(np.round(mesh.uv.reshape(-1, 2), 5), axis=0, return_inverse=True)
    at = at.reshape(-1, 4)
    lines = [f"# {title}", f"mtllib {path.with_suffix('.mtl').name}", f"o {path.stem.replace('-', '_')}"]
    lines += [f"v {a:.4f} {b:.4f} {c:.4f}" for a, b, c in p]
    lines += [f"vt {u:.5f} {v:.5f}" for u, v in uv]
    for m, name in enumerate(materials):
        lines.append(f"usemtl {name}")
        lines += ["f " + " ".join(f"{v + 1}/{t + 1}" for v, t in zip(q, tq, strict=True))
                  for q, tq in zip(mesh.quads[mesh.material == m], at[mesh.material == m], strict=True)]
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text("\n".join(lines) + "\n")
    path.with_suffix(".mtl").write_text("\n\n".join(f"newmtl {name}\n{look}" for name, look in materials.items()) + "\n")
