"""Panels laid round a wearer, clear of the body, each where it is worn, before they are sewn."""

import itertools

import numpy as np
from scipy.spatial import KDTree

from ..figure.base.body import Wearer
from ..figure.measures.tapes import level_of, marks
from .layout import Panel
from .panel_mesh import Flat

_OFF, _BAND = 0.03, 0.03
"""Metres: how far off the body panels are laid, and the height of the bands it is measured in."""
_OVER = 0.05
"""Metres: what goes over the shoulders is held up by so much."""
_LEVEL = np.radians(80.0)
"""How flat a cape is laid over the shoulders, from straight down."""


def laid_round(flat: Flat, wearer: Wearer, worn: np.ndarray | None = None) -> tuple[np.ndarray, np.ndarray]:
    """Return where the panels' vertices (n, 3) lie round a wearer standing at rest, and the triangles (m, 3) with their outside out;
    `worn` (k, 3) are points of what is worn under them."""
    body = _Around(wearer, np.zeros((0, 3)) if worn is None else worn)
    points, triangles = np.empty((len(flat.points), 3)), flat.triangles.copy()
    for k, (panel, mirrored) in enumerate(flat.cut):
        mine = flat.of == k
        at = flat.points[mine] * ([-1.0, 1.0] if mirrored else [1.0, 1.0])
        at = at + [panel.laid.aside, panel.laid.raised]
        points[mine] = (body.lay(panel, at) + [0.0, body.lift(panel, at), 0.0]) * ([-1.0, 1.0, 1.0] if mirrored else [1.0, 1.0, 1.0])
        faces = mine[triangles[:, 0]]
        a, b, c = points[triangles[faces]].transpose(1, 0, 2)
        out = np.einsum("ij,ij->", np.cross(b - a, c - a), (a + b + c) / 3 - body.middle(panel, mirrored, (a + b + c) / 3))
        if out < 0:
            triangles[faces] = triangles[faces][:, ::-1]
    return points, triangles


class _Around:
    """How much room each part of a wearer's body takes, level by level."""

    def __init__(self, wearer: Wearer, worn: np.ndarray) -> None:
        found = marks(level_of(wearer.body))
        self.points = wearer.points.astype(np.float64)
        self.mark = {name: self.points[v] for name, v in found.at.items()}
        part = {name: np.unique(edges) for name, edges in found.regions.items()}
        near = KDTree(self.points).query(worn)[1] if len(worn) else np.zeros(0, int)
        of = lambda name: np.concatenate([self.points[part[name]], worn[np.isin(near, part[name])]])  # noqa: E731
        joints, index = wearer.skeleton.positions, wearer.skeleton.index
        self.arm = np.array([joints[index(f"l_{j}")] for j in ("shoulder", "elbow", "radiocarpal")])
        self.leg = np.array([joints[index(f"l_{j}")] for j in ("hip", "knee", "talocrural")])
        trunk = of("trunk")
        trunk = trunk[(trunk[:, 1] < self.mark["armpit"][1] + 0.02)]
        self._levels = np.arange(0.0, self.mark["cervical"][1], _BAND)
        self._wide, self._deep, self._mid = _ellipses(trunk, self._levels)
        self._arm_room = _room(of("arm"), self.arm)
        legs = of("leg")
        self._leg_room = _room(legs[legs[:, 1] < self.mark["crotch"][1]], self.leg)
        head = of("head")
        self._head = np.abs(head[:, 0]).max()

    def lay(self, panel: Panel, at: np.ndarray) -> np.ndarray:
        """Return the points (k, 3) of a left or middle panel that lie at (k, 2) in its own place."""
        match panel.laid.part:
            case "torso":
                return self._on_torso(at, panel.laid.face)
            case "leg":
                low, high = self.mark["crotch"][1] - 0.02, self.mark["crotch"][1] + 0.08
                t = np.clip((at[:, 1] - low) / (high - low), 0.0, 1.0)[:, None]
                return (1 - t) * self._on_leg(at, panel.laid.face) + t * self._on_torso(at, panel.laid.face)
            case "arm":
                return self._on_arm(at)
            case "side of the head":
                return np.stack([np.full(len(at), self._head + _OFF), at[:, 1], at[:, 0]], axis=1)
            case "shoulders":
                return self._on_shoulders(at, panel.laid.face)

    def lift(self, panel: Panel, at: np.ndarray) -> float:
        """Return how far a panel is held up so that its seams close above the shoulders, not in them."""
        return _OVER if panel.laid.part == "torso" and at[:, 1].max() > self.mark["armpit"][1] else 0.0

    def middle(self, panel: Panel, mirrored: bool, at: np.ndarray) -> np.ndarray:
        """Return the middle (3,) or (k, 3) of what a panel goes round, as seen from its points (k, 3)."""
        side = np.array([-1.0 if mirrored else 1.0, 1.0, 1.0])
        match panel.laid.part:
            case "arm":
                return _on_axis(self.arm * side, at)
            case "leg":
                own = _on_axis(self.leg * side, at)
                return np.where((at[:, 1] > self.mark["crotch"][1])[:, None], own * [0.0, 1.0, 1.0], own)
            case "shoulders":
                return at * [1.0, 0.0, 1.0] + [0.0, self.mark["cervical"][1] - 1.0, 0.0]
            case _:
                return np.stack([np.zeros(len(at)), at[:, 1], np.interp(at[:, 1], self._levels, self._mid)], axis=1)

    def _on_torso(self, at: np.ndarray, face: str) -> np.ndarray:
        wide, deep, mid = (np.interp(at[:, 1], self._levels, each) for each in (self._wide, self._deep, self._mid))
        round_ = np.pi * (3 * (wide + deep) - np.sqrt((3 * wide + deep) * (wide + 3 * deep)))  # Ramanujan
        grown = np.maximum(1.0, 4.0 * _reach_at(at) / round_)
        turn = at[:, 0] / (grown * round_) * 2 * np.pi
        toward = 1.0 if face == "front" else -1.0
        return np.stack([grown * wide * np.sin(turn), at[:, 1], mid + toward * grown * deep * np.cos(turn)], axis=1)

    def _on_leg(self, at: np.ndarray, face: str) -> np.ndarray:
        y = at[:, 1]
        axis = np.stack([np.interp(y, self.leg[::-1, 1], self.leg[::-1, k]) for k in (0, 2)], axis=1)
        radius = np.maximum(np.interp(y, *self._leg_room), 2.0 * _reach_at(at - [self.leg[0, 0], 0.0]) / np.pi)
        turn, toward = (at[:, 0] - self.leg[0, 0]) / radius, 1.0 if face == "front" else -1.0
        return np.stack([axis[:, 0] + radius * np.sin(turn), y, axis[:, 1] + toward * radius * np.cos(turn)], axis=1)

    def _on_arm(self, at: np.ndarray) -> np.ndarray:
        way = self.arm[2] - self.arm[0]
        long = np.linalg.norm(way)
        way = way / long
        up = np.array([0.0, 1.0, 0.0]) - way[1] * way
        up /= np.linalg.norm(up)
        front = np.cross(way, up)
        front = front if front[2] > 0 else -front
        far = -at[:, 1]
        radius = np.maximum(np.interp(far, *self._arm_room), _reach_at(at) / np.pi)
        turn = at[:, 0] / radius
        bend = np.linalg.norm(self.arm[1] - self.arm[0])
        on = np.where((far < bend)[:, None], self.arm[0] + far[:, None] * _unit(self.arm[1] - self.arm[0]),
                      self.arm[1] + (far - bend)[:, None] * _unit(self.arm[2] - self.arm[1]))
        return on + radius[:, None] * (np.cos(turn)[:, None] * up + np.sin(turn)[:, None] * front)

    def _on_shoulders(self, at: np.ndarray, face: str) -> np.ndarray:
        far, turn = np.linalg.norm(at, axis=1), np.arctan2(at[:, 0], -at[:, 1])
        whole = max(np.abs(turn).max(), 1e-6)
        turn = turn * min(1.0, 0.94 * np.pi / whole) if whole > 0.94 * np.pi else turn * 0.94 * np.pi / whole
        neck = self.mark["cervical"] * [0.0, 1.0, 0.5] + [0.0, 0.03, 0.0]
        room = 0.5 * (self.mark["neck_side"][0] - 0.0) + 0.06
        radius = room + (far - far.min()) * np.sin(_LEVEL)
        toward = 1.0 if face == "front" else -1.0
        return neck + np.stack([radius * np.sin(turn), -(far - far.min()) * np.cos(_LEVEL), toward * radius * np.cos(turn)], axis=1)


def _ellipses(trunk: np.ndarray, levels: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the half width, half depth and middle (l,) of ellipses that clear a trunk (k, 3) at each level, in metres."""
    wide, deep, mid = (np.full(len(levels), np.nan) for _ in range(3))
    for k, y in enumerate(levels):
        here = trunk[np.abs(trunk[:, 1] - y) < 1.5 * _BAND]
        if len(here) > 8:
            mid[k] = 0.5 * (here[:, 2].min() + here[:, 2].max())
            x, z = here[:, 0], here[:, 2] - mid[k]
            a, b = np.abs(x).max(), np.abs(z).max()
            grown = np.sqrt(((x / a) ** 2 + (z / b) ** 2).max())  # no corner of a squarish body stands out
            wide[k], deep[k] = grown * a + _OFF, grown * b + _OFF
    known = np.flatnonzero(np.isfinite(wide))
    return tuple(np.interp(levels, levels[known], each[known]) for each in (wide, deep, mid))  # type: ignore[return-value]


def _room(points: np.ndarray, axis: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the radius that clears a limb at each place along its axis: an arm by the way from its start, a leg by the height."""
    on = _on_axis(axis, points)
    radius = np.linalg.norm(points - on, axis=1)
    drops = axis[0, 1] - axis[-1, 1] > 0.9 * np.linalg.norm(axis[0] - axis[-1])
    place = on[:, 1] if drops else np.linalg.norm(on - axis[0], axis=1)
    at = np.arange(place.min(), place.max() + _BAND, _BAND)
    room = np.array([radius[np.abs(place - y) < 1.5 * _BAND].max(initial=0.0) for y in at])
    return at, np.minimum(room, 1.6 * np.median(room)) + _OFF


def _reach_at(at: np.ndarray) -> np.ndarray:
    """Return how far (k,) a panel with points (k, 2) reaches aside at the level of each of them, evened out over neighbouring levels."""
    low = at[:, 1].min()
    band = ((at[:, 1] - low) / _BAND).astype(int)
    most = np.zeros(band.max() + 1)
    np.maximum.at(most, band, np.abs(at[:, 0]))
    most = np.convolve(np.pad(most, 1, mode="edge"), [0.25, 0.5, 0.25], mode="valid")
    return np.interp(at[:, 1], low + (np.arange(len(most)) + 0.5) * _BAND, most)


def _on_axis(axis: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Return the nearest place (k, 3) to each point on a line through three joints."""
    best, gap = np.tile(axis[0], (len(points), 1)), np.full(len(points), np.inf)
    for a, b in itertools.pairwise(axis):
        t = np.clip((points - a) @ (b - a) / max(np.dot(b - a, b - a), 1e-12), 0.0, 1.0)
        on = a + t[:, None] * (b - a)
        far = np.linalg.norm(points - on, axis=1)
        best, gap = np.where((far < gap)[:, None], on, best), np.minimum(far, gap)
    return best


def _unit(v: np.ndarray) -> np.ndarray:
    return v / np.linalg.norm(v)
