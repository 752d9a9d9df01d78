"""Does each thing that an artist does once, and prints how many seconds of each the compiler took; test_kernels runs it in its own process.

Only what was compiled here counts, not what was read from numba's cache.
"""

import json
from collections.abc import Callable
from typing import TypeVar

import numpy as np
from numba.core import event

import wily_heron as wh
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.model.model import Model
from wily_heron.core.model.steps.fabric import FABRICS
from wily_heron.core.model.steps.hand import HandDab, Stroke
from wily_heron.core.motion.spring import Links, Spring, hang
from wily_heron.core.space.under import Under
from wily_heron.core.table.blocks import block_layout
from wily_heron.core.table.sewing import Sewing
from wily_heron.core.work.strokes import Stroking

T = TypeVar("T")
WAITS: dict[str, float] = {}


def first(name: str, work: Callable[[], T]) -> T:
    with event.install_recorder("numba:compile") as record:
        made = work()
    depth, began, WAITS[name] = 0, 0.0, 0.0
    for at, each in record.buffer:
        if each.is_start:
            began = at if depth == 0 else began
            depth += 1
        else:
            depth -= 1
            WAITS[name] += at - began if depth == 0 else 0.0
    return made


def tube(wide: float, flare: float) -> Mesh:
    turn, height = np.meshgrid(np.linspace(0, 2 * np.pi, 60, endpoint=False), np.linspace(1.05, 0.6, 24))
    out = wide + flare * (1.05 - height)
    points = np.stack([out * np.sin(turn), height, 0.85 * out * np.cos(turn)], axis=-1).reshape(-1, 3)
    at = np.arange(23 * 60).reshape(23, 60)
    beside = np.roll(at, -1, axis=1)
    faces = np.concatenate([np.stack([at, at + 60, beside], -1), np.stack([beside, at + 60, beside + 60], -1)]).reshape(-1, 3)
    return Mesh(points.astype(np.float32), faces.astype(np.int32))


def main() -> None:
    who = wh.wearer("Ibbet")
    under = first("dress", lambda: wh.dress(Model(tube(0.2, 0.1)), who, category="bottom"))
    over = wh.dress(Model(tube(0.22, 0.3)), who, category="bottom", over={"under": under})
    worn = {"under": under, "over": over}
    first("picture", lambda: wh.picture(worn, who, wh.pose("sit")))
    first("clear", lambda: wh.clear(worn, who, [wh.pose("sit")]))
    first("drape", lambda: wh.drape(under, who, settle=2))
    first("drape over another", lambda: wh.drape(over, who, wh.pose("sit"), over={"under": under}, settle=2))
    first("finish", lambda: wh.finish(over, weld=0.001, smooth=0.5, finer=1, thick=0.002, sharp=30.0))
    beneath = Under.of(who.points, who.body.triangles)
    hand = Stroking(over.mesh.points, over.mesh.triangles, np.arange(len(over.mesh.points)), beneath)
    dab = HandDab(at=300, move=(0.0, 0.0, 0.01))
    first("hand tools", lambda: [hand.apply(Stroke(tool=tool, radius=0.05, dabs=(dab,))) for tool in ("pull", "press", "puff", "iron")])
    swinging = np.tile(np.eye(4), (2, 1, 1))
    first("springs", lambda: hang(Links(np.zeros((2, 3)), np.array([[0.0, -0.1, 0.0]] * 2), np.array([-1, 0]), Spring()), swinging))
    first("panels", lambda: Sewing(block_layout("skirt", who), who, FABRICS["linen"], size=0.04).frame())
    print(json.dumps(WAITS))


if __name__ == "__main__":
    main()
