"""The figures of a measured cell, as they are stored, sent and shown."""

from collections.abc import Mapping, Sequence

import numpy as np
from pydantic import BaseModel, ConfigDict

from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..model.layer_names import SKIN_NAME
from ..model.riders import Riders
from ..model.state import Piece
from ..model.steps.clear import CellFigures
from ..space.tree import TriangleTree
from .cover.key import SKIN
from .find.shots import Shot, seen_in
from .pair import CLEAN_AREA, Pair, least_clearance, total_area
from .regions import dominant_joint, region_name


class _Figures(BaseModel):
    model_config = ConfigDict(frozen=True, json_schema_serialization_defaults_required=True)


class ShownPlace(_Figures):
    """A connected poke-through: where its middle is (metres), a way out along which it is seen, and what the shots see of it."""

    name: str
    depth_mm: float
    area_cm2: float
    centre: tuple[float, float, float]
    seen_along: tuple[float, float, float] = (0.0, 0.0, 1.0)
    in_shots_cm2: float | None = None
    shots: tuple[str, ...] = ()


class PairFigures(_Figures):
    """Two layers that come near one another in a cell, whatever stands between them on the rail; `at` is where they are closest."""

    over: str
    under: str
    clearance_mm: float
    area_cm2: float
    pinched_cm2: float = 0.0
    at: str | None = None
    in_shots_cm2: float | None = None
    places: tuple[ShownPlace, ...]


class LeftOut(_Figures):
    """What of a layer is left out and can be missed in a cell."""

    of: str
    area_cm2: float


class SeenBy(_Figures):
    """What one shot sees of what shows in a cell."""

    name: str
    area_cm2: float


class OwnFigures(_Figures):
    """What some pairs of a cell show: their least clearance, the area and the places that show, and each pair."""

    clearance_mm: float
    area_cm2: float
    places: int
    pairs: tuple[PairFigures, ...]

    def brief(self) -> CellFigures:
        """Return them without the pairs."""
        return CellFigures(clearance_mm=self.clearance_mm, area_cm2=self.area_cm2, places=self.places)


class Figures(OwnFigures):
    """The figures of one cell. Of a motion they are those of its worst frame, whose number, time and rotations are told.

    What the shots see is told where the production has shots: in all, and by each.
    """

    holds: bool
    holes_cm2: float = 0.0
    holes: tuple[LeftOut, ...] = ()
    in_shots_cm2: float | None = None
    shots: tuple[SeenBy, ...] = ()
    frame: int | None = None
    of_frames: int | None = None
    seconds: float | None = None
    rotations: dict[str, list[float]] | None = None

    def with_holes(self, open_: Mapping[str, tuple[float, np.ndarray]]) -> "Figures":
        """Return them with what of each layer, by its name, is left out and can be missed (square metres, and faces)."""
        holes = tuple(LeftOut(of=name, area_cm2=round(1e4 * area, 3)) for name, (area, _) in open_.items())
        lost = round(sum(h.area_cm2 for h in holes), 3)
        return self.model_copy(update={"holes": holes, "holes_cm2": lost, "holds": self.area_cm2 + lost <= 1e4 * CLEAN_AREA})

    def with_shots(self, pairs: Sequence[Pair], shots: Sequence[Shot], blockers: Sequence[TriangleTree]) -> "Figures":
        """Return them with what the shots see past the `blockers` of what shows: by place and pair, by shot, and in all."""
        speaking = [p for p in pairs if p.speaks]
        views = [seen_in(shots, p.found.seen.points, p.found.seen.facing, blockers) for p in speaking]
        in_view = tuple(_in_shots(figures, pair, shots, view) for figures, pair, view in zip(self.pairs, speaking, views, strict=True))
        seen = round(1e4 * total_area(speaking, [np.asarray(v.any(axis=0)) for v in views]), 3)
        by = tuple(SeenBy(name=shot.name, area_cm2=round(1e4 * total_area(speaking, [v[k] for v in views]), 3))
                   for k, shot in enumerate(shots))
        return self.model_copy(update={"pairs": in_view, "in_shots_cm2": seen, "shots": by})


def cell_figures(pairs: Sequence[Pair], names: Sequence[str], pieces: Sequence[Piece], wearer: Wearer) -> Figures:
    """Return the figures of a cell: in all, and of each of its `pairs` that come near one another, by the names of their layers."""
    area = round(1e4 * total_area(pairs), 3)
    return Figures(clearance_mm=least_clearance(pairs), area_cm2=area, places=sum(len(p.found.places) for p in pairs),
                   holds=area <= 1e4 * CLEAN_AREA, pairs=tuple(pair_figures(p, names, pieces, wearer) for p in pairs if p.speaks))


def pair_figures(pair: Pair, names: Sequence[str], pieces: Sequence[Piece], wearer: Wearer) -> PairFigures:
    """Return the figures of one pair of layers: its least clearance, what shows (cm2) and where."""
    under = pair.key.under
    skin, riders = (wearer.body.skin, None) if under == SKIN else (pieces[under].skin, pieces[under].riders)
    name = SKIN_NAME if under == SKIN else names[under]
    places = tuple(
        ShownPlace(name=_region(wearer, skin, riders, place.vertices) or name, depth_mm=round(1000 * place.depth, 2),
                   area_cm2=round(1e4 * place.area, 3), centre=_rounded(place.centre, 4),
                   seen_along=_rounded(pair.found.seen.best_view(k), 3))
        for k, place in enumerate(pair.found.places)
    )
    return PairFigures(over=names[pair.key.over], under=name, clearance_mm=pair.clearance_mm, area_cm2=pair.area_cm2,
                       pinched_cm2=round(1e4 * pair.found.pinched, 3), at=_region(wearer, skin, riders, pair.found.nearest) or None,
                       places=places)


def _in_shots(figures: PairFigures, pair: Pair, shots: Sequence[Shot], view: np.ndarray) -> PairFigures:
    """Return a pair's figures with what the shots see of it; `view` (shots, samples) says which sees what."""
    seen, any_ = pair.found.seen, view.any(axis=0)
    places = []
    for k, place in enumerate(figures.places):
        mine = seen.place == k
        by = tuple(shot.name for shot, v in zip(shots, view, strict=True) if v[mine].any())
        places.append(place.model_copy(update={"in_shots_cm2": round(1e4 * float(seen.area[any_ & mine].sum()), 3), "shots": by}))
    return figures.model_copy(update={"in_shots_cm2": round(1e4 * float(seen.area[any_].sum()), 3), "places": tuple(places)})


def _region(wearer: Wearer, skin: Skin | None, riders: Riders | None, rows: np.ndarray) -> str:
    if skin is None or not len(rows):
        return ""
    return region_name(wearer.skeleton.names[dominant_joint(skin, rows, riders)])


def _rounded(point: np.ndarray, digits: int) -> tuple[float, float, float]:
    x, y, z = (round(float(v), digits) for v in point)
    return x, y, z
