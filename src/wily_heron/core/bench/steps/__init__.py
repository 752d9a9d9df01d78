"""The steps of the bench: the one list from which their union, order, reports and catalogue are derived."""

from ..step import BenchStep
from . import bind, clear, drape, fit, fix, follow, hide, place, receive, weigh
from .work import adjust, drop, lattice, mirror, refine, smooth, steam, stroke, thicken, trim

STEPS: tuple[BenchStep, ...] = (
    receive.STEP, place.STEP, fit.STEP,
    stroke.STEP, lattice.STEP, adjust.STEP, trim.STEP, drop.STEP, thicken.STEP, refine.STEP, smooth.STEP, steam.STEP, mirror.STEP,
    bind.STEP, weigh.STEP, weigh.MEND, follow.STEP, clear.STEP, fix.STEP, hide.STEP, drape.STEP,
)  # fmt: skip
"""In working order."""

BENCH = {"receive": "Receive", "place": "Place", "fit": "Fit", "work": "Work", "bind": "Bind", "follow": "Follow", "clear": "Clear",
         "drape": "Drape", "finish": "Finish"}
"""The steps as the bench shows them, with their labels. Finish is no alteration: it is done to what all steps have made."""
