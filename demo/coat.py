"""The oilskin coat of the night mail, built by code with its own topology, as another studio might send it.

Body and sleeves are one quad surface of rings, with a collar, a placket and six buttons as islands of their own.
"""

from pathlib import Path

import numpy as np

from wily_heron.core.figure.make.cage import Cage, grid_ring, to_disc
from wily_heron.core.mesh.ops.catmull_clark import catmull_clark

from .quads import Quads, write_obj

FILE = Path(__file__).parent / "files" / "oilskin-coat.obj"
_AROUND = (4, 6)  # cells from back to front, cells from right to left
_ARM = np.deg2rad(38.0)  # this studio's mannequin holds its arms a little higher than ours


def coat() -> Quads:
    """Return the coat, standing upright in metres."""
    shell = _shell()
    parts = [shell, _placket(shell)] + [_button(shell, y) for y in np.linspace(1.37, 0.80, 6)]
    offset, points, quads, uv, material = 0, [], [], [], []
    for part in parts:
        points.append(part.points)
        quads.append(part.quads + offset)
        uv.append(part.uv)
        material.append(part.material)
        offset += len(part.points)
    return Quads(np.concatenate(points), np.concatenate(quads), np.concatenate(uv), np.concatenate(material))


def _shell() -> Quads:
    cage = Cage()
    rows = [  # height, half width, front, back, flute
        (.565, .268, .205, .215, .016), (.60, .264, .202, .212, .015), (.68, .250, .190, .200, .012), (.76, .237, .178, .190, .008),
        (.84, .224, .168, .180, .004), (.92, .209, .158, .168, .0), (1.00, .190, .150, .150, .0), (1.07, .178, .146, .134, .0),
        (1.14, .180, .152, .136, .0), (1.21, .188, .160, .146, .0), (1.275, .192, .156, .152, .0), (1.335, .188, .134, .150, .0),
        (1.400, .170, .104, .136, .0), (1.442, .120, .082, .112, .0), (1.462, .088, .072, .092, .0),
        (1.490, .084, .078, .086, .0), (1.515, .088, .088, .088, .0), (1.520, .095, .096, .094, .0), (1.500, .101, .101, .100, .0),
    ]
    rings = []
    for y, w, front, back, flute in rows:
        ring = []
        for k, (a, b) in enumerate(grid_ring(*_AROUND)):
            u, x = to_disc(a, b)
            wave = 1.0 + flute / w * (1 if k % 2 else -1)
            depth = front if u > 0 else back
            tilt = -0.020 * max(u, 0) if y > 1.43 else 0.0
            ring.append(cage.add((w * x * wave, y + tilt, depth * u * wave - .012), "body", y))
        rings.append(ring)
    columns = {1: [*range(14, 9, -1)], -1: [*range(0, 5)]}  # back to front on each side
    for i in range(len(rings) - 1):
        skip = frozenset([*range(10, 14), *range(0, 4)]) if 10 <= i < 12 else frozenset()
        cage.bridge(rings[i], rings[i + 1], skip=skip)
    for side in (1, -1):
        _sleeve(cage, rings[10:13], columns[side], side)
    used = sorted({i for quad in cage.quads for i in quad})
    place = {old: new for new, old in enumerate(used)}
    points = np.array([cage.points[i] for i in used])
    quads = np.array([[place[i] for i in quad] for quad in cage.quads], np.int32)
    sleeve = np.array([any(cage.parts[i] != "body" for i in quad) for quad in cage.quads])
    side = np.array([sum(cage.sides[i] for i in quad) for quad in cage.quads])
    for _ in range(2):
        matrix, quads = catmull_clark(quads, len(points))
        points, sleeve, side = matrix @ points, np.repeat(sleeve, 4), np.repeat(side, 4)
    return Quads(points, quads, _unwrap(points, quads, sleeve, side), np.zeros(len(quads), np.int32))


def _sleeve(cage: Cage, rings: list[list[int]], columns: list[int], side: int) -> None:
    low, mid, top = rings
    ring = [top[c] for c in columns] + [mid[columns[-1]]] + [low[c] for c in reversed(columns)] + [mid[columns[0]]]
    along = np.array([np.cos(_ARM), -np.sin(_ARM), 0.0])
    up = np.array([np.sin(_ARM), np.cos(_ARM), 0.0])
    start = np.array([.172, 1.378, -.022])
    stops = [(.07, .078), (.12, .074), (.18, .070), (.24, .066), (.29, .064), (.35, .061), (.41, .058), (.47, .055), (.505, .054),
             (.512, .058), (.495, .062), (.455, .063)]  # the last three are the turned-up cuff
    for u, r in stops:
        new = []
        for a, b in grid_ring(4, 2):
            x, y = to_disc(a, b)
            lean = .034 * y * np.interp(u, [.07, .18], [1.0, 0.0])
            point = start + (u + lean) * along + r * x * np.array([0, 0, 1.0]) - r * .95 * y * up
            new.append(cage.add(point * [side, 1, 1], "sleeve", u, side))
        cage.bridge(ring, new, side)
        ring = new


def _unwrap(points: np.ndarray, quads: np.ndarray, sleeve: np.ndarray, side: np.ndarray) -> np.ndarray:
    """Body and sleeves as upright strips: seams at the back and under the arms."""
    corner = points[quads]
    uv = np.empty((len(quads), 4, 2))
    turn = np.arctan2(corner[..., 0], corner[..., 2] + .012) / (2 * np.pi)
    around = turn - np.round(turn - turn[:, :1])
    uv[..., 0] = np.clip(.5 + around * .60, 0, 1)
    uv[..., 1] = np.clip((corner[..., 1] - .5) / 1.1, 0, 1)
    along = np.array([np.cos(_ARM), -np.sin(_ARM), 0.0])
    up = np.array([np.sin(_ARM), np.cos(_ARM), 0.0])
    q = corner[sleeve] * np.where(side[sleeve] >= 0, 1.0, -1.0)[:, None, None] ** np.array([1, 0, 0])
    q = q - [.172, 1.378, -.022]
    turn = np.arctan2(q[..., 2], q @ up) / (2 * np.pi)
    around = turn - np.round(turn - turn[:, :1])
    uv[sleeve, :, 0] = np.where(side[sleeve] >= 0, .905, .095)[:, None] + around * .16
    uv[sleeve, :, 1] = np.clip((q @ along + .05) / .62, 0, 1)
    return uv


def _front(shell: Quads, x: float, y: float) -> np.ndarray:
    near = shell.points[(np.abs(shell.points[:, 0] - x) < .04) & (shell.points[:, 2] > 0)]
    weight = np.exp(-((near[:, 1] - y) / .02) ** 2 - ((near[:, 0] - x) / .02) ** 2)
    return np.array([x, y, float(weight @ near[:, 2] / weight.sum())])


def _placket(shell: Quads) -> Quads:
    heights = np.linspace(1.425, .60, 48)
    lift, points = .005, []
    for y in heights:
        for x in (-.024, -.022, -.008, .008, .022, .024):
            p = _front(shell, x, y)
            p[2] += lift if abs(x) < .023 else -.001
            points.append(p)
    quads = np.array([[r * 6 + c, (r + 1) * 6 + c, (r + 1) * 6 + c + 1, r * 6 + c + 1] for r in range(47) for c in range(5)], np.int32)
    corner = np.array(points)[quads]
    uv = np.stack([.5 + corner[..., 0], (corner[..., 1] - .5) / 1.1], axis=-1)
    return Quads(np.array(points), quads, uv, np.zeros(len(quads), np.int32))


def _button(shell: Quads, y: float) -> Quads:
    centre = _front(shell, 0.0, y) + [0, 0, .0075]
    slope = (_front(shell, 0, y + .02) - _front(shell, 0, y - .02))[2] / .04
    profile = [(.0125, -.0025), (.0135, 0.0), (.0125, .0022), (.0100, .0030), (.0060, .0018)]
    points, n = [], 16
    for r, z in profile:
        for k in range(n):
            angle = 2 * np.pi * k / n
            points.append(centre + [r * np.cos(angle), r * np.sin(angle), z + slope * r * np.sin(angle)])
    quads = [[i * n + k, i * n + (k + 1) % n, (i + 1) * n + (k + 1) % n, (i + 1) * n + k]
             for i in range(len(profile) - 1) for k in range(n)]
    last = (len(profile) - 1) * n
    for k in range(0, n // 2 - 1):  # close the face with strips of quads
        quads.append([last + k, last + k + 1, last + n - k - 2, last + n - k - 1])
    corner = np.array(points)[np.array(quads)] - centre
    uv = .02 + np.abs(corner[..., :2]) * .5
    return Quads(np.array(points), np.array(quads, np.int32), uv, np.ones(len(quads), np.int32))


def write(path: Path = FILE) -> None:
    """Write the coat as OBJ + MTL in centimetres, Z up: it arrives in the wrong unit, lying on its back."""
    write_obj(path, coat(), "oilskin coat of the night mail", {
        "oilskin": "Kd 0.300 0.365 0.235\nPr 0.62\nPm 0.0", "brass": "Kd 0.640 0.450 0.160\nPr 0.35\nPm 1.0"}, scale=100.0, lying=True)


if __name__ == "__main__":
    write()
