"""Motion as BVH text: a hierarchy of joints with offsets and channels, then one line of numbers a frame."""

import numpy as np

from ..core.errors import InputError
from ..core.figure.base.rotation import product, turn
from ..core.motion.motion import Motion

_AXES = {"X": (1, 0, 0), "Y": (0, 1, 0), "Z": (0, 0, 1)}
_MOST_FRAMES, _MOST_JOINTS = 200_000, 1000
_TODO = "Export it again as BVH with its frames."


def read_bvh(data: bytes, name: str, unit: float | None = None) -> Motion:
    """Return the motion in `data`; lengths are taken as `unit` metres, or guessed from the figure's height.

    Raises `InputError` naming the line that cannot be read.
    """
    words = [(line, word) for line, text in enumerate(data.decode("utf-8", "replace").splitlines(), 1) for word in text.split()]
    reader = _Reader(words, name)
    reader.expect("HIERARCHY")
    names, parents, offsets, channels = reader.hierarchy()
    reader.expect("MOTION")
    reader.expect("Frames:")
    count = int(reader.number())
    reader.expect("Frame")
    reader.expect("Time:")
    seconds = reader.number()
    width = sum(len(c) for c in channels)
    if not 0 < count <= _MOST_FRAMES:
        raise InputError(what=f"it says {count} frames", where=name, todo=_TODO)
    rest = [w for _, w in words[reader.at:]]
    if len(rest) < count * width:
        raise InputError(what=f"it says {count} frames of {width} numbers and holds {len(rest) // max(width, 1)}", where=name, todo=_TODO)
    try:
        values = np.array(rest[: count * width], float).reshape(count, width)
    except ValueError:
        raise InputError(what="a frame holds something that is not a number", where=name, todo=_TODO) from None
    if not np.isfinite(values).all():
        raise InputError(what="a frame holds a number that is not finite", where=name, todo=_TODO)
    offset = np.array(offsets)
    scale = unit or _guessed_unit(offset, np.array(parents))
    rotations, root = _frames(values, channels, offset)
    return Motion(name.rsplit(".", 1)[0], tuple(names), np.array(parents, np.int32), offset * scale, rotations, root * scale, seconds)


def _frames(values: np.ndarray, channels: list[list[str]], offsets: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    count = len(values)
    rotations, root = np.zeros((count, len(channels), 4)), np.zeros((count, 3))
    column = 0
    for j, names in enumerate(channels):
        turns = np.tile([0.0, 0.0, 0.0, 1.0], (count, 1))
        moved = np.zeros((count, 3))
        for channel in names:
            if channel.endswith("rotation"):
                turns = np.array([product(q, turn(_AXES[channel[0]], d)) for q, d in zip(turns, values[:, column], strict=True)])
            elif j == 0:
                moved[:, "XYZ".index(channel[0])] = values[:, column]
            column += 1
        rotations[:, j] = turns
        if j == 0 and any(c.endswith("position") for c in names):
            root = moved - offsets[0]
    return rotations, root


def _guessed_unit(offsets: np.ndarray, parents: np.ndarray) -> float:
    place = np.zeros_like(offsets)
    for j, parent in enumerate(parents):
        place[j] = offsets[j] + (place[parent] if parent >= 0 else 0.0)
    tall = float(np.ptp(place[:, 1]))
    return min((1.0, 0.01, 0.001, 0.0254), key=lambda u: abs(np.log(max(tall * u, 1e-9) / 1.6)))


class _Reader:
    def __init__(self, words: list[tuple[int, str]], name: str) -> None:
        self.words, self.name, self.at = words, name, 0
        if not words:
            raise InputError(what="the file is empty", where=name, todo=_TODO)

    def next(self) -> str:
        if self.at >= len(self.words):
            raise InputError(what="it ends too early", where=self.name, todo=_TODO)
        self.at += 1
        return self.words[self.at - 1][1]

    def _bad(self, what: str) -> InputError:
        line = self.words[min(self.at, len(self.words)) - 1][0]
        return InputError(what=what, where=f"{self.name}, line {line}", todo=_TODO)

    def expect(self, word: str) -> None:
        found = self.next()
        if found.upper() != word.upper():
            raise self._bad(f"'{found}' stands where '{word}' should")

    def number(self) -> float:
        word = self.next()
        try:
            value = float(word)
        except ValueError:
            raise self._bad(f"'{word}' is not a number") from None
        if not np.isfinite(value):
            raise self._bad(f"'{word}' is not finite")
        return value

    def hierarchy(self) -> tuple[list[str], list[int], list[list[float]], list[list[str]]]:
        names: list[str] = []
        parents: list[int] = []
        offsets: list[list[float]] = []
        channels: list[list[str]] = []
        open_joints: list[int] = []
        while True:
            word = self.next().upper()
            if word in ("ROOT", "JOINT"):
                if len(names) >= _MOST_JOINTS or (word == "ROOT" and names):
                    raise self._bad("it holds too many joints or a second root")
                names.append(self.next())
                parents.append(open_joints[-1] if open_joints else -1)
                self.expect("{")
                self.expect("OFFSET")
                offsets.append([self.number() for _ in range(3)])
                self.expect("CHANNELS")
                count = int(self.number())
                kinds = [self.next() for _ in range(max(0, min(count, 6)))]
                if any(k[:1].upper() not in _AXES or not k.lower().endswith(("position", "rotation")) for k in kinds):
                    raise self._bad(f"channels {' '.join(kinds)} are not known")
                channels.append([k[0].upper() + k[1:].lower() for k in kinds])
                open_joints.append(len(names) - 1)
            elif word == "END":
                self.expect("Site")
                self.expect("{")
                self.expect("OFFSET")
                for _ in range(3):
                    self.number()
                self.expect("}")
            elif word == "}":
                if not open_joints:
                    raise self._bad("a bracket closes nothing")
                open_joints.pop()
                if not open_joints:
                    return names, parents, offsets, channels
            else:
                raise self._bad(f"'{word}' is not part of a hierarchy")


def write_bvh(motion: Motion) -> bytes:
    """Return the motion as BVH in centimetres: the root with six channels, every other joint with Z, X, Y rotations."""
    children: dict[int, list[int]] = {j: [] for j in range(len(motion.names))}
    for j, parent in enumerate(motion.parents):
        if parent >= 0:
            children[int(parent)].append(j)
    lines, order = ["HIERARCHY"], []

    def put(j: int, depth: int) -> None:
        pad = "  " * depth
        order.append(j)
        x, y, z = 100 * motion.offsets[j]
        lines.extend([f"{pad}{'JOINT' if depth else 'ROOT'} {motion.names[j]}", f"{pad}{{", f"{pad}  OFFSET {x:.6f} {y:.6f} {z:.6f}"])
        turns = "Zrotation Xrotation Yrotation"
        lines.append(f"{pad}  CHANNELS 3 {turns}" if depth else f"{pad}  CHANNELS 6 Xposition Yposition Zposition {turns}")
        for child in children[j]:
            put(child, depth + 1)
        if not children[j]:
            lines.extend([f"{pad}  End Site", f"{pad}  {{", f"{pad}    OFFSET 0 0 0", f"{pad}  }}"])
        lines.append(f"{pad}}}")

    put(0, 0)
    lines += ["MOTION", f"Frames: {len(motion.rotations)}", f"Frame Time: {motion.seconds:.8f}"]
    angles = zxy_degrees(motion.rotations)
    for f in range(len(motion.rotations)):
        place = 100 * (motion.root[f] + motion.offsets[0])
        lines.append(" ".join(f"{v:.6f}" for v in [*place, *angles[f, order].ravel()]))
    return ("\n".join(lines) + "\n").encode()


def zxy_degrees(q: np.ndarray) -> np.ndarray:
    """Return Euler angles (..., 3) in degrees, Z then X then Y applied right to left (R = Rz Rx Ry), of quaternions (..., 4)."""
    x, y, z, w = np.moveaxis(q, -1, 0)
    about_x = np.arcsin(np.clip(2 * (y * z + w * x), -1.0, 1.0))
    about_z = np.arctan2(-2 * (x * y - w * z), 1 - 2 * (x * x + z * z))
    about_y = np.arctan2(-2 * (x * z - w * y), 1 - 2 * (x * x + y * y))
    return np.rad2deg(np.stack([about_z, about_x, about_y], axis=-1))
