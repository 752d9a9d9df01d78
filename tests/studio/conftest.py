"""A studio without HTTP and without a queue: jobs are collected, and done when a test says so."""

import numpy as np
import pytest

from wily_heron.core.mesh.mesh import Material, Mesh
from wily_heron.core.model.model import Model


class Jobs:
    """The jobs that use-cases have asked for."""

    def __init__(self) -> None:
        self.asked: list = []

    def __call__(self, work) -> None:
        self.asked.append(work)

    def names(self) -> list[str]:
        """Return the names of the jobs asked for, in order."""
        return [work.task for work in self.asked]

    def do_all(self) -> int:
        """Do every job asked for, and those that these ask for, the most urgent first; return how many."""
        from wily_heron.jobs import queue, tasks

        done, handed_on = 0, queue.ask
        tasks.ask = self  # what a job asks for is collected as well
        try:
            while self.asked:
                work = max(self.asked, key=lambda w: w.priority)
                self.asked.remove(work)
                getattr(tasks, work.task)(**work.values)
                done += 1
        finally:
            tasks.ask = handed_on
        return done


@pytest.fixture
def jobs() -> Jobs:
    return Jobs()


@pytest.fixture
def desk(database: str, jobs: Jobs):
    """An artist in a production of their own: two wearers, two poses, nothing on the rail, nothing in stock."""
    from wily_heron.store.db import transaction
    from wily_heron.store.productions import all_productions
    from wily_heron.store.productions.production import put_on_axis
    from wily_heron.store.productions.wearers import add_wearer
    from wily_heron.store.stock.items import empty
    from wily_heron.studio.desk import Desk

    with transaction() as c:
        for other in all_productions.productions(c):  # those of the tests before
            if other.binned_at is None:
                all_productions.put_in_bin(c, other.id, True)
        all_productions.empty_bin(c)
        production = all_productions.add_production(c, "The Reedmarsh Night Post")
        empty(c)
        for name, shape in (("Ibbet", {"hip": 0.2}), ("Old Moss", {"girth": 0.6, "belly": 0.7})):
            add_wearer(c, production, name, shape, "tests")
        for pose in ("stand", "kneel"):
            put_on_axis(c, production, pose)
    return Desk(production, "Wrenna", jobs)


@pytest.fixture(scope="session")
def sleeve() -> Model:
    """A short band round the waist, 12 mm off a round of 16 by 13 cm, in metres."""
    angle, height = np.meshgrid(np.linspace(0, 2 * np.pi, 24, endpoint=False), np.linspace(0.98, 1.14, 6))
    points = np.stack([0.19 * np.sin(angle), height, 0.16 * np.cos(angle)], axis=-1).reshape(-1, 3).astype(np.float32)
    quads = [(r * 24 + c, r * 24 + (c + 1) % 24, (r + 1) * 24 + (c + 1) % 24, (r + 1) * 24 + c) for r in range(5) for c in range(24)]
    triangles = np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))], np.int32)
    return Model(Mesh(points, triangles, None, materials=(Material("felt", (0.1, 0.2, 0.3)),)))
