"""One artist letting one piece fall, frame by frame."""

import time
from dataclasses import dataclass, field

import numpy as np

from ....core.bench.steps.drape import check_there, draping, stance
from ....core.errors import InputError
from ....core.model.steps.alteration import Vector
from ....core.model.steps.draping import Drape, DrapeReport, Pull
from ....core.model.worn import rest_moves, worn_points
from ....core.motion.pose import pose_matrices, posed_body
from ....formats.array_frame import array_frame
from ....formats.slug import slug
from ....store.productions.bodies import body_for
from ....store.rail.pieces import piece_at
from ....studio.rail import drapes
from ....studio.rail.drapes import Fallen
from ....studio.rail.standing import standing

_MOST = 480
"""Frames kept for scrubbing: twenty seconds."""


@dataclass
class _Grip:
    """The pointer's hold on a vertex since frame `start`: where it is to go, and where it was led in each frame."""

    start: int
    vertex: int
    to: Vector
    path: list[Vector] = field(default_factory=list)


class DrapeSession:
    """One artist letting one piece fall. Points go out as they lie at rest, so that the stage poses them with the wearer."""

    def __init__(self, piece: int) -> None:
        self.of = standing(piece)
        self.piece = self.of.piece
        self.step = Drape()
        self.falling = None
        self.frames: list[tuple[dict[str, np.ndarray], dict, list[np.ndarray]]] = []
        self.posed: list[list[np.ndarray]] = []
        self.grip: _Grip | None = None
        self.pulls: list[Pull] = []

    def answer(self, message: dict) -> bytes:
        """Do what a message asks and return the frame to send back; raises `HeronError` or `ValidationError` for what cannot be done."""
        began = time.perf_counter()
        match message.get("do"):
            case "begin":
                self._begin(Drape.model_validate(message.get("step") or {}))
            case "next":
                self._next()
            case "show":
                return self._show(int(message.get("frame", 0)), message, began)
            case "grab":
                self._grab(int(message.get("vertex", -1)), message.get("to"))
            case "let_go":
                self._let_go()
            case "file":
                data = np.frombuffer(self._file(), np.uint8)
                return array_frame({"file": data}, {"seq": message.get("seq", 0), "name": f"{slug(self.of.row.name)}-drape.usdc"})
            case "keep_all":
                self._keep_all(str(message.get("label", "Fall"))[:80], str(message.get("author", "Artist"))[:60])
                return array_frame({}, {"seq": message.get("seq", 0), "kept_all": True})
            case "keep":
                self._keep(int(message.get("frame", 0)), str(message.get("label", "Drape"))[:80], str(message.get("author", "Artist"))[:60])
                return array_frame({}, {"seq": message.get("seq", 0), "kept": True})
        return self._show(len(self.frames) - 1, message, began)

    def _begin(self, step: Drape) -> None:
        body = body_for(self.of.recipe.body, step.cell.shape)
        self.falling = draping(self.piece, body, step, piece_at)
        self.step, self.frames, self.posed, self.pulls, self.grip = step, [], [], list(step.pulls), None

    def _next(self) -> None:
        if self.falling is None:
            raise InputError(what="nothing has been begun", where="the drape step", todo="Play it from the start.")
        if len(self.frames) >= _MOST:
            raise InputError(what="twenty seconds have been played", where="the drape step", todo="Keep a frame, or start again.")
        falling = self.falling
        pose = falling.passage.at(falling.done)
        if self.grip is not None:
            self.grip.path.append(self.grip.to)
            falling.held_by_hand = (self.grip.vertex, np.array(self.grip.to))
        falling.frame()
        falling.held_by_hand = None
        wearer = falling.wearer_at(falling.done - 1)
        pieces, posed = (self.piece, *falling.along), [falling.points, *falling.beside]
        moves = [rest_moves(p, wearer, pose, points) for p, points in zip(pieces, posed, strict=True)]
        turns = {joint: [round(float(v), 6) for v in q] for joint, q in pose.rotations.items()}
        found = {**falling.report().model_dump(), "rotations": turns, "there": falling.done > falling.passage.there}
        if wearer is not falling.wearer:
            found["shape"] = {n: float(v) for n, v in zip(wearer.body.shapes, wearer.shape, strict=True)}
        arrays = {"points": (self.piece.mesh.points + moves[0]).astype("<f4"), "strain": falling.strain().astype("<f4")}
        for along, p, move in zip(self.step.along, falling.along, moves[1:], strict=True):
            arrays[f"points:{along.piece}"] = (p.mesh.points + move).astype("<f4")
        self.posed.append([points.astype(np.float32) for points in posed])
        self.frames.append((arrays, found, [move.astype(np.float32) for move in moves]))

    def _grab(self, vertex: int, to: list[float] | None) -> None:
        if not 0 <= vertex < len(self.piece.mesh.points) or to is None or len(to) != 3 or not np.isfinite(to).all():
            raise InputError(what="there is no such place on the cloth", where="the drape step", todo="Take hold of the piece itself.")
        place = (float(to[0]), float(to[1]), float(to[2]))
        if self.grip is None or self.grip.vertex != vertex:
            self._let_go()
            self.grip = _Grip(len(self.frames), vertex, place)
        self.grip.to = place

    def _let_go(self) -> None:
        if self.grip is not None and self.grip.path:
            received = self.piece.mesh.received
            at = int(received[self.grip.vertex]) if received is not None else self.grip.vertex
            self.pulls.append(Pull(at=at, start=self.grip.start, path=tuple(self.grip.path[:480])))
        self.grip = None

    def _keep(self, frame: int, label: str, author: str) -> None:
        """Store the piece as it lies in a frame: the recipe gains the drape that leads there, and it is not run again."""
        if self.falling is None or not self.frames:
            raise InputError(what="nothing has fallen yet", where="the drape step", todo="Let it fall first.")
        self._let_go()
        frame = min(max(frame, 0), len(self.frames) - 1)
        check_there(self.falling, frame)
        _, found, moves = self.frames[frame]
        step = self.step.model_copy(update={"until": frame + 1, "pulls": tuple(self.pulls)})
        report = DrapeReport.model_validate(found)
        pose, body = stance(self.falling, frame), body_for(self.of.recipe.body, step.cell.shape)
        drapes.keep(Fallen(self.of, step, body, pose, moves[0], tuple(moves[1:]), report), label, author)

    def _keep_all(self, label: str, author: str) -> None:
        """Keep every frame that has been played, of the piece and of those that fell along with it."""
        if self.falling is None or not self.frames:
            raise InputError(what="nothing has fallen yet", where="the drape step", todo="Let it fall first.")
        rest = {"points": self.piece.mesh.points}
        rest |= {f"points:{a.piece}": p.mesh.points for a, p in zip(self.step.along, self.falling.along, strict=True)}
        drapes.keep_fall(self.of, label, author, rest, [(arrays, found) for arrays, found, _ in self.frames])

    def _file(self) -> bytes:
        """Return all that has been played as USD: the body, what is worn under the cloth, and the cloth, point by point."""
        if self.falling is None or not self.frames:
            raise InputError(what="nothing has fallen yet", where="the drape step", todo="Let it fall first.")
        falling = self.falling
        from ....formats.usd.points import Moving, write_moving  # half a second to load, at a cast that is taken away

        parts = [Moving("body", falling.wearer.body.triangles)]
        parts += [Moving(f"under {k + 1}", p.mesh.triangles, p.mesh.materials[0].colour) for k, p in enumerate(falling.under)]
        parts += [Moving(f"beside {k + 1}", p.mesh.triangles, p.mesh.materials[0].colour) for k, p in enumerate(falling.along)]
        parts.append(Moving(self.of.row.name, self.piece.mesh.triangles, self.piece.mesh.materials[0].colour))
        under = parts[1: 1 + len(falling.under)]
        for k, posed in enumerate(self.posed):
            wearer, pose = falling.wearer_at(k), falling.passage.at(k)
            matrices = pose_matrices(wearer, pose)
            parts[0].frames.append(posed_body(wearer, pose))
            for moving, layer in zip(under, falling.under, strict=True):
                moving.frames.append(worn_points(layer, wearer, pose, matrices))
            for moving, points in zip(parts[1 + len(under):], [*posed[1:], posed[0]], strict=True):
                moving.frames.append(points)
        return write_moving(parts, 24.0)

    def _show(self, frame: int, message: dict, began: float) -> bytes:
        of = self.falling.frames if self.falling else 0
        notes = {"seq": message.get("seq", 0), "did": message.get("do"), "have": len(self.frames), "of": of}
        if not self.frames:
            return array_frame({}, notes)
        frame = min(max(frame, 0), len(self.frames) - 1)
        arrays, found, _ = self.frames[frame]
        if message.get("contact") and self.falling is not None and "contact" not in arrays:
            arrays["contact"] = self.falling.off_body(self.posed[frame][0], frame).astype("<f4")
        spent = round(1000 * (time.perf_counter() - began), 1)
        return array_frame(arrays, {**notes, **found, "frame": frame, "ms": spent})
