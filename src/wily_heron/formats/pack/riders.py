"""The joints of pieces of their own in a pack: nodes below the joint that carries them, keyed in every clip."""

from typing import Any

import numpy as np

from ...core.figure.base.skeleton import Skin
from ...core.model.correctives import Corrective, PoseSpace
from ...core.model.pack import PackedPiece
from ...core.model.riders import Riders
from ...core.motion.spring import Spring
from ..slug import slug


class PackedRiders:
    """Riders of all packed pieces, numbered on from the skeleton's `joints`; the nodes of a pack begin with the skeleton's."""

    def __init__(self, pieces: tuple[PackedPiece, ...], positions: np.ndarray) -> None:
        self.first: dict[int, int] = {}
        self.places, self.parents, self.names = [*positions], [], []
        for k, packed in enumerate(pieces):
            riders = packed.piece.riders
            if riders is None:
                continue
            self.first[k] = len(self.places)
            for r, place in enumerate(riders.places):
                above = int(riders.above[r])
                self.parents.append(self.first[k] + above if above >= 0 else int(riders.main[r]))
                self.names.append(f"part:{slug(packed.name)}:{r + 1}")
                self.places.append(place)

    def nodes(self, nodes: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Return the riders' nodes and hang them in those of the skeleton, in place."""
        begin, made = len(nodes), []
        for i, (parent, name) in enumerate(zip(self.parents, self.names, strict=True)):
            offset = np.asarray(self.places[begin + i], np.float32) - np.asarray(self.places[parent], np.float32)
            made.append({"name": name, "translation": offset.astype(float).tolist()})
            above = nodes[parent] if parent < begin else made[parent - begin]
            above.setdefault("children", []).append(begin + i)
        return made

    def locals(self, matrices: np.ndarray, parents: np.ndarray) -> np.ndarray:
        """Return the nodes' local matrices `(j + r, 4, 4)` so that each one's world times inverse bind is its skin matrix."""
        world = matrices.copy()
        world[:, :3, 3] += np.einsum("jab,jb->ja", matrices[:, :3, :3], np.array(self.places))
        local = world.copy()
        for i, parent in enumerate([*parents.tolist(), *self.parents]):
            if parent >= 0:
                local[i] = np.linalg.inv(world[parent]) @ world[i]
        return local

    def numbered(self, k: int, skin: Skin, first: int) -> Skin:
        """Return the skin of piece `k` with its riders numbered as in the pack."""
        if k not in self.first:
            return skin
        return Skin(np.where(skin.joints >= first, skin.joints - first + self.first[k], skin.joints), skin.weights)


def rider_notes(riders: Riders) -> dict[str, Any]:
    """Return what a reader needs beside the nodes to move riders in poses of its own."""
    spring = riders.spring and {"stiffness": riders.spring.stiffness, "damping": riders.spring.damping, "gravity": riders.spring.gravity,
                                "limit": riders.spring.limit}
    return {"places": np.round(riders.places, 7).tolist(), "moves": np.round(riders.moves, 7).tolist(),
            "joints": riders.skin.joints.tolist(), "weights": np.round(riders.skin.weights.astype(float), 7).tolist(),
            "above": riders.above.tolist(), "ends": np.round(riders.ends, 7).tolist(), "spring": spring}


def noted_correctives(notes: list[dict[str, Any]]) -> tuple[Corrective, ...]:
    """Return the correctives that notes tell of."""
    return tuple(Corrective(str(c["name"]), tuple((str(s), float(v)) for s, v in c["shapes"]), str(c["pose"])) for c in notes)


def noted_worn(entry: dict[str, Any], first: int, shapes: int, deltas: np.ndarray) -> dict[str, Any]:
    """Return the fields of a `Piece` that the notes of a packed piece hold; its `deltas` past the `shapes` belong to its correctives."""
    out: dict[str, Any] = {}
    if notes := entry.get("riders"):
        count = len(notes["places"])
        spring = Spring(**notes["spring"]) if notes.get("spring") else None
        moves = np.array(notes["moves"], np.float32).reshape(shapes, count, 3)
        skin = Skin(np.array(notes["joints"], np.int32), np.array(notes["weights"], np.float32))
        places, ends = (np.array(notes[k], float).reshape(count, 3) for k in ("places", "ends"))
        out["riders"] = Riders(places, moves, skin, np.array(notes["above"], np.int64), ends, first, spring)
    if notes := entry.get("correctives"):
        out["correctives"] = noted_correctives(notes)
        out["fixes"] = deltas[shapes:]
        if len(out["fixes"]) != len(notes):
            raise ValueError(f"{len(notes)} correctives and {len(out['fixes'])} morphs for them")
    if notes := entry.get("examples"):
        names, joints = tuple(map(str, notes["names"])), tuple(map(str, notes["joints"]))
        turns = np.array(notes["turns"], float).reshape(len(names), len(joints), 4)
        relevance = np.array(notes.get("told", np.ones(turns.shape[:2])), float).reshape(turns.shape[:2])
        out["examples"] = PoseSpace.cardinal(names, joints, turns, relevance)
    return out
