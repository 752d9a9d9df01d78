"""The figures of a measured cell in plain types, as they are stored, sent and shown."""

from collections.abc import Mapping, Sequence

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..model.layer_names import SKIN_NAME
from ..model.riders import Riders
from ..model.state import Piece
from ..space.tree import TriangleTree
from .cover.key import SKIN
from .find.shots import Shot, seen_in
from .pair import CLEAN_AREA, Pair, least_clearance, total_area
from .regions import dominant_joint, region_name


def cell_figures(pairs: Sequence[Pair], names: Sequence[str], pieces: Sequence[Piece], wearer: Wearer) -> dict:
    """Return the figures of a cell: in all, and of each of its `pairs` that come near one another, by the names of their layers."""
    area = round(1e4 * total_area(pairs), 3)
    return {
        "clearance_mm": least_clearance(pairs),
        "area_cm2": area,
        "places": sum(len(p.found.places) for p in pairs),
        "holds": area <= 1e4 * CLEAN_AREA,
        "holes_cm2": 0.0,
        "pairs": [pair_figures(p, names, pieces, wearer) for p in pairs if p.speaks],
    }


def pair_figures(pair: Pair, names: Sequence[str], pieces: Sequence[Piece], wearer: Wearer) -> dict:
    """Return the figures of one pair of layers: its least clearance, what shows (cm2) and where."""
    under = pair.key.under
    skin, riders = (wearer.body.skin, None) if under == SKIN else (pieces[under].skin, pieces[under].riders)
    name = SKIN_NAME if under == SKIN else names[under]
    return {
        "over": names[pair.key.over],
        "under": name,
        "clearance_mm": pair.clearance_mm,
        "area_cm2": pair.area_cm2,
        "pinched_cm2": round(1e4 * pair.found.pinched, 3),
        "at": _region(wearer, skin, riders, pair.found.nearest) or None,
        "places": [
            {
                "name": _region(wearer, skin, riders, place.vertices) or name,
                "depth_mm": round(1000 * place.depth, 2),
                "area_cm2": round(1e4 * place.area, 3),
                "centre": [round(float(x), 4) for x in place.centre],
                "seen_along": [round(float(x), 3) for x in pair.found.seen.best_view(k)],
            }
            for k, place in enumerate(pair.found.places)
        ],
    }


def _region(wearer: Wearer, skin: Skin | None, riders: Riders | None, rows: np.ndarray) -> str:
    if skin is None or not len(rows):
        return ""
    return region_name(wearer.skeleton.names[dominant_joint(skin, rows, riders)])


def report_holes(figures: dict, open_: Mapping[str, tuple[float, np.ndarray]]) -> None:
    """Add to a cell's figures what of each layer is left out and can be missed (cm2)."""
    figures["holes"] = [{"of": name, "area_cm2": round(1e4 * area, 3)} for name, (area, _) in open_.items()]
    figures["holes_cm2"] = round(sum(h["area_cm2"] for h in figures["holes"]), 3)
    figures["holds"] = figures["area_cm2"] + figures["holes_cm2"] <= 1e4 * CLEAN_AREA


def report_shots(figures: dict, pairs: Sequence[Pair], shots: Sequence[Shot], blockers: list[TriangleTree]) -> None:
    """Add to a cell's figures what the shots see of what shows: by place and pair, by shot, and in all (cm2)."""
    speaking = [p for p in pairs if p.speaks]
    views = [seen_in(shots, p.found.seen.points, p.found.seen.facing, blockers) for p in speaking]
    for told, pair, view in zip(figures["pairs"], speaking, views, strict=True):
        seen, any_ = pair.found.seen, view.any(axis=0)
        told["in_shots_cm2"] = round(1e4 * float(seen.area[any_].sum()), 3)
        for k, place in enumerate(told["places"]):
            mine = seen.place == k
            place["in_shots_cm2"] = round(1e4 * float(seen.area[any_ & mine].sum()), 3)
            place["shots"] = [shot.name for shot, v in zip(shots, view, strict=True) if v[mine].any()]
    figures["in_shots_cm2"] = round(1e4 * total_area(speaking, [np.asarray(v.any(axis=0)) for v in views]), 3)
    figures["shots"] = [{"name": shot.name, "area_cm2": round(1e4 * total_area(speaking, [v[k] for v in views]), 3)}
                        for k, shot in enumerate(shots)]
