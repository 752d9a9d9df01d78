"""A fit seen while its sliders move: what the sliders do not change is kept from one look to the next."""

from collections.abc import Sequence

import numpy as np

from ..figure.base.body import Wearer
from ..figure.figure import figure
from ..memo import Memo, Same
from ..mesh.mesh import Mesh
from ..model.category import ENCLOSING
from ..model.steps.fit import Fit
from .fit import Fitted, fit, lay
from .fit_paint import painted, rigid_parts
from .skin_under import under_of
from .target import FitTarget, Transferred

_KEPT: Memo[Transferred] = Memo("fits looked at", 64 * 2**20)


def fit_preview(
    mesh: Mesh,
    wearer: Wearer,
    carrier: np.ndarray,
    step: Fit,
    source: np.ndarray | None,
    digest: str,
    layers: Sequence[tuple[np.ndarray, np.ndarray]] = (),
    category: str = "",
) -> Fitted:
    """Return the fit of `mesh` in fewer rounds; `digest` names the mesh, so that where it rides from is searched once.

    The ease and keep of `step` act at once; where the piece lies is taken from the first look.
    """
    own = wearer.shape if wearer.body.shapes == figure(1).shapes else figure(1).made_at
    stand = FitTarget(under_of(wearer).with_layers(layers), carrier, own, source if step.ride else None, category in ENCLOSING)
    still = rigid_parts(mesh, step)
    plain = step.model_copy(update={"ease": 0.0, "keep": 0.0, "paint": ()})
    key = (digest, Same(wearer.body), wearer.shape.tobytes(), plain.model_dump_json())
    laid = _KEPT.of(key, lambda: lay(mesh.points, mesh.triangles, stand, step, still))
    return fit(mesh.points, mesh.triangles, stand, step, painted(mesh, step), still, laid, quick=True)
