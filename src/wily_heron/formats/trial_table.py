"""A run of the trial sheet as a table."""

import csv
import io
from collections.abc import Iterable

from ..core.clearance.figures import Figures

COLUMNS = ("wearer", "pose", "holds", "clearance_mm", "area_cm2", "holes_cm2", "in_shots_cm2",
           "over", "under", "place", "depth_mm", "place_cm2", "place_in_shots_cm2")


def trial_csv(cells: Iterable[tuple[str, str, Figures | None]]) -> bytes:
    """Return cells (wearer, pose, figures or None while unmeasured) as CSV in UTF-8: a row a place, one for a cell that shows nothing."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for wearer, pose, f in cells:
        if f is None:
            table.writerow([wearer, pose, "not measured"])
            continue
        head = [wearer, pose, "yes" if f.holds else "no", f.clearance_mm, f.area_cm2, f.holes_cm2, f.in_shots_cm2]
        places = [[pair.over, pair.under, p.name, p.depth_mm, p.area_cm2, p.in_shots_cm2] for pair in f.pairs for p in pair.places]
        for place in places or [[]]:
            table.writerow([*head, *place])
    return out.getvalue().encode()
