"""What a fit came to: in figures, and in words where something could not be fitted."""

import numpy as np

from ..figure.on_figure import figure_tree
from ..figure.regions import face_regions
from ..mesh.edges import edge_lengths, unique_edges
from ..model.steps.fit import Fit, FitReport, Trouble
from .likely.likely_body import BAD, Likely
from .solve_fit import Goal
from .target import FitTarget, Transferred

_OFF, _STRAINED = 0.003, 0.45
"""A vertex this far (metres) from what was asked, or on an edge this much longer or shorter (log), is troubled."""


def fit_report(
    start: np.ndarray,
    laid: np.ndarray,
    p: np.ndarray,
    triangles: np.ndarray,
    clearance: np.ndarray,
    judged: np.ndarray,
    goal: Goal,
    step: Fit,
    from_: Transferred,
    stand: FitTarget,
) -> tuple[FitReport, np.ndarray]:
    """Return the report and how far each vertex is from what was asked (n,) in metres, 0 where it is as it should be."""
    edges, _ = unique_edges(triangles)
    found = from_.found
    size = 1.0 if found is None else found.size
    stretch = np.log(np.maximum(edge_lengths(p, edges), 1e-9) / np.maximum(size * edge_lengths(start, edges), 1e-9))
    resting = judged & goal.drawn & (goal.clearance < goal.ease + 0.0015)
    if not resting.any():
        resting = judged & (clearance < goal.ease + 0.001)
    short = np.where(judged & (clearance < goal.ease - 0.001), goal.ease - clearance, 0.0)
    off = np.where(resting, np.abs(clearance - goal.ease), 0.0)
    trouble = np.where(off > _OFF, off, short)
    strained = np.zeros(len(p), bool)
    strained[edges[np.abs(stretch - np.median(stretch)) > _STRAINED].ravel()] = True
    trouble = np.maximum(trouble, np.where(strained & judged, _OFF, 0.0))
    named = _named(p, trouble, stand)
    miss = found.miss if found is not None else float(np.abs(clearance - goal.clearance)[resting].mean()) if resting.any() else 0.05
    sure = float(
        np.clip(1.0 - miss / (2.5 * BAD), 0.0, 1.0) * np.clip(1.0 - 3.0 * (trouble > 0)[judged].mean() if judged.any() else 0, 0, 1)
    )
    report = FitReport(
        ease=step.ease,
        judged=int(judged.sum()),
        below_ease=int((judged & (clearance < goal.ease - 0.001)).sum()),
        resting=int(resting.sum()),
        resting_mean=float(clearance[resting].mean()) if resting.any() else None,
        resting_spread=float(clearance[resting].std()) if resting.any() else None,
        at_ease=float((np.abs(clearance - goal.ease)[resting] < 0.001).mean()) if resting.any() else None,
        least=float(clearance[judged].min()) if judged.any() else None,
        greatest_move=float(np.linalg.norm(p - start, axis=1).max()),
        edge_log_spread=float(np.std(stretch)),
        align_move=float(np.linalg.norm((laid - start).mean(axis=0))),
        size=size,
        confidence=round(sure, 2),
        stance={} if found is None else {k: round(v, 1) for k, v in found.degrees.items()},
        trouble=named,
        hint=_hint(found, step),
        said=_said(found, stand, from_.agree, step),
    )
    return report, trouble.astype(np.float32)



def _named(p: np.ndarray, trouble: np.ndarray, stand: FitTarget) -> list[Trouble]:
    """The troubled vertices by the region of the body they lie over, the most troubled first."""
    rows = np.flatnonzero(trouble > 0)
    if not len(rows):
        return []
    names, of = face_regions(1)
    near = figure_tree(stand.carrier).nearest(p[rows])
    region = of[near.triangle]
    out = []
    for r in np.unique(region):
        mine = rows[region == r]
        if len(mine) >= 3:
            name = (
                names[r].replace("l_", "left ", 1)
                if names[r].startswith("l_")
                else names[r].replace("r_", "right ", 1)
                if names[r].startswith("r_")
                else names[r]
            )
            out.append(
                Trouble(
                    name=name.replace("_", " "),
                    vertices=len(mine),
                    worst=float(trouble[mine].max()),
                    at=_metres(p[mine[np.argmax(trouble[mine])]]),
                )
            )
    return sorted(out, key=lambda t: -t.vertices)[:8]


def _metres(point: np.ndarray) -> tuple[float, float, float]:
    x, y, z = (round(float(v), 4) for v in point)
    return x, y, z


def _said(found: Likely | None, stand: FitTarget, agree: float, step: Fit) -> list[str]:
    out = []
    if agree < -0.2:
        out.append("The piece is inside out: its faces look at the body. It was fitted as if turned; turn its faces in Receive.")
    if found is not None and found.facing < 0.6:
        out.append(
            f"Only {100 * found.facing:.0f} % of it faces this body: it is another kind of piece than one worn here, "
            "or made for a body of another build."
        )
    elif found is not None and found.miss > BAD and not step.pins:
        whose = "the body it is said to be made for" if stand.source is not None and step.ride else "any body of this build"
        out.append(
            f"It lies {1000 * found.miss:.0f} mm from {whose} on the mean, so its place is taken from where you put it: choose the body it "
            "was made for in Receive, or pin three or more of its points, if it does not sit right."
        )
    if found is not None and not 0.6 < found.size < 1.7:
        out.append(f"It was made {found.size:.2f} times as large to lie on the body: see that its unit is right in Receive.")
    return out


def _hint(found: Likely | None, step: Fit) -> str | None:
    if found is None or found.sure or step.pins or found.miss > BAD:
        return None
    return "It hangs too loosely to tell where its maker had it, so it stays where you put it; pin three or more points if it sits wrong."
