"""A piece as it stands after some steps of its recipe."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..figure.base.body import morphed
from ..figure.base.skeleton import Skin
from ..mesh.mesh import Mesh
from .attachment import Attachment
from .correctives import Corrective, PoseSpace, corrective_notes, noted_correctives
from .model import Model
from .report import Report, ReportKind, with_report
from .riders import Riders
from .steps.receive import MadeFor, ReceiveReport
from .yields import Yields

_PLAIN = ("deltas", "trouble", "protect", "fixes", "hidden", "left_out")
"""Attachments that are one array each."""
_TYPED: dict[str, tuple[str, type[Attachment]]] = {
    "riders": ("rider", Riders), "examples": ("example", PoseSpace), "yields": ("yield", Yields),
}
"""Attachments by name: what the names of their arrays begin with, and their type."""


@dataclass(frozen=True)
class Piece:
    """A piece: its mesh in metres at the shape values `made_at` (s,), and once bound its skin and shape deltas (s, n, 3).

    `brought` is what came with its file (skeleton, weights, morphs), in the place receiving gave it; the mesh's `received` rows
    lead to it. `made_for` is the body it was made for, if known. `reports` are what its steps found. `trouble` (n,) is how far each
    vertex stayed from what its fit asked for (metres), `protect` (n,) the mask that holds hand tools back, 0 to 1.

    `skin` numbers the skeleton's joints first, then the piece's own `riders`. `correctives` move it by `fixes` (c, n, 3) at rest, for
    shapes together and for the poses of `examples`. `hidden` (h,) are the faces of the body that are left out under it, `yields` how the
    skin gives way under it, `left_out` (l,) its own faces that are left out under what is worn over it.
    """

    mesh: Mesh
    made_at: np.ndarray
    skin: Skin | None = None
    deltas: np.ndarray | None = None
    reports: tuple[Report, ...] = ()
    brought: Model | None = None
    made_for: MadeFor | None = None
    trouble: np.ndarray | None = None
    protect: np.ndarray | None = None
    riders: Riders | None = None
    correctives: tuple[Corrective, ...] = ()
    fixes: np.ndarray | None = None
    examples: PoseSpace | None = None
    hidden: np.ndarray | None = None
    yields: Yields | None = None
    left_out: np.ndarray | None = None

    def attached(self) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
        """Return the arrays and notes of all that steps have added to it, empty where they have not."""
        plain = {name: getattr(self, name) for name in _PLAIN}
        arrays = {name: array for name, array in plain.items() if array is not None}
        notes: dict[str, Any] = {}
        for name, (prefix, _) in _TYPED.items():
            added: Attachment | None = getattr(self, name)
            if added is not None:
                arrays |= {f"{prefix}_{key}": array for key, array in added.arrays().items()}
                notes[name] = added.notes()
        if self.correctives:
            notes["correctives"] = corrective_notes(self.correctives)
        return arrays, notes

    def with_attached(self, arrays: Mapping[str, np.ndarray], notes: Mapping[str, Any]) -> "Piece":
        """Return the same piece with what `attached` told of one; other arrays and notes are passed over."""
        added: dict[str, Any] = {name: arrays[name] for name in _PLAIN if name in arrays}
        for name, (prefix, kind) in _TYPED.items():
            if name in notes:
                mine = {key.removeprefix(f"{prefix}_"): array for key, array in arrays.items() if key.startswith(f"{prefix}_")}
                added[name] = kind.from_arrays(mine, notes[name])
        if "correctives" in notes:
            added["correctives"] = noted_correctives(notes["correctives"])
        return replace(self, **added)

    @property
    def shown(self) -> np.ndarray:
        """Its triangles (m, 3) that are not left out."""
        return self.mesh.triangles if self.left_out is None else np.delete(self.mesh.triangles, self.left_out, axis=0)

    @classmethod
    def of(cls, model: Model, made_at: np.ndarray) -> "Piece":
        """Return the piece as its file brought it, before any step."""
        return cls(model.mesh, made_at, brought=model)

    def reporting(self, report: Report) -> "Piece":
        """Return the same piece with what a step found."""
        return replace(self, reports=with_report(self.reports, report))

    def reports_of(self, kind: type[ReportKind]) -> list[ReportKind]:
        """Return its reports of one kind, oldest first."""
        return [each for each in self.reports if type(each) is kind]

    def report_of(self, kind: type[ReportKind]) -> ReportKind | None:
        """Return its last report of one kind, None where it has none."""
        return next((each for each in reversed(self.reports) if type(each) is kind), None)

    @property
    def category(self) -> str:
        """What receiving took it for, or was told it is; "" where it has not been received."""
        received = self.report_of(ReceiveReport)
        return received.category if received else ""

    def as_category(self, category: str) -> "Piece":
        """Return the same piece, received, taken for another category."""
        received = self.report_of(ReceiveReport)
        return self if received is None else self.reporting(received.model_copy(update={"category": category}))

    def at(self, shape: np.ndarray) -> np.ndarray:
        """Return its points (n, 3) float32 on a wearer with shape values (s,), in the rest pose."""
        if self.deltas is None:
            return self.mesh.points
        return morphed(self.mesh.points, self.deltas, shape - self.made_at)

    def standing_on(self, shape: np.ndarray) -> "Piece":
        """Return the same piece resting on shape values (s,): its points moved there, its deltas unchanged."""
        riders = self.riders and self.riders.moved(shape - self.made_at)
        return replace(self, mesh=self.mesh.moved(self.at(shape)), made_at=shape, riders=riders)
