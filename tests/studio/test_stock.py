"""The stockroom, without HTTP and without a queue."""

from dataclasses import replace

import pytest

from tests.studio.conftest import Jobs
from wily_heron.core.errors import InputError, NotFound
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.mesh import Material
from wily_heron.core.model.model import Model
from wily_heron.core.motion.clips import clip_named
from wily_heron.formats.bvh import write_bvh
from wily_heron.formats.images.png import write_png
from wily_heron.formats.model_write import write_model
from wily_heron.studio.desk import Desk


def found(**asked):
    from wily_heron.store.stock.items import Query
    from wily_heron.studio.stock import keeping

    return keeping.search(Query(**asked), None)


def taken(desk: Desk, jobs: Jobs, files: dict[str, bytes]) -> dict[str, tuple[str, str, int | None]]:
    """Take files in and do the jobs; return what became of each: state, why, item."""
    from wily_heron.studio.stock import taking_in

    taking_in.take_files(desk, list(files.items()), {}, None)
    jobs.do_all()
    latest = taking_in.latest_batch()
    assert latest is not None
    return {row.file_name: (row.state, row.why, row.item_id) for row in latest[1]}


def as_file(model: Model, ending: str, name: str) -> bytes:
    return next(iter(write_model(model, ending, name).values()))


@pytest.fixture
def picture() -> bytes:
    import numpy as np

    return write_png(np.full((8, 8, 3), (200, 80, 40), np.uint8))


def test_a_batch_tells_of_every_file_what_became_of_it(desk: Desk, jobs: Jobs, sleeve: Model, picture: bytes):
    walk = write_bvh(clip_named("walk", figure(1).skeleton))
    rows = taken(desk, jobs, {"band.glb": as_file(sleeve, ".glb", "band"), "walk.bvh": walk, "weave.png": picture,
                              "broken.obj": b"f 1 2 9\n", "notes.txt": b"not a piece"})
    assert {name: state for name, (state, _, _) in rows.items() if name != "band.glb"} == {
        "walk.bvh": "done", "weave.png": "done", "broken.obj": "refused", "notes.txt": "refused"}
    assert rows["band.glb"][0] in ("done", "mended", "needs you")
    assert rows["band.glb"][2] is not None
    assert all(why for state, why, _ in rows.values() if state == "refused")
    kinds = {count.name: count.count for count in found().kinds}
    assert kinds == {"piece": 1, "motion": 1, "texture": 1}
    assert all(item.strip for item in found().items)  # each has its views drawn


def test_a_batch_that_is_stopped_takes_no_more_in(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.stock import taking_in

    data = as_file(sleeve, ".glb", "band")
    batch, _ = taking_in.take_files(desk, [("one.glb", data), ("two.glb", data)], {}, None)
    assert jobs.names() == ["take_in_file"] * 2
    assert len(taking_in.waiting_work()) == 2
    taking_in.cancel_batch(batch.id)
    assert taking_in.waiting_work() == []
    jobs.do_all()
    assert found().total == 0
    with pytest.raises(NotFound):
        taking_in.cancel_batch(batch.id + 1)
    with pytest.raises(InputError, match="nothing among"):
        taking_in.take_files(desk, [], {}, None)


def test_a_search_looks_at_words_kinds_tags_and_shelves_together(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.stock import keeping, order

    data = as_file(sleeve, ".glb", "band")
    rows = taken(desk, jobs, {"reed-cap.glb": data, "reed-belt.glb": data, "mail-sack.glb": data})
    cap, belt, sack = (rows[name][2] for name in ("reed-cap.glb", "reed-belt.glb", "mail-sack.glb"))
    outer = order.add_shelf("Night mail", None)
    inner = order.add_shelf("Lights", outer)
    keeping.change_many([cap], inner, False, "Wet Weather ", None)
    keeping.change_many([sack], outer, False, None, None)
    names = lambda **asked: sorted(item.name for item in found(**asked).items)  # noqa: E731
    assert names(text="reed") == ["Reed belt", "Reed cap"]
    assert names(text="reed", tag="wet weather") == ["Reed cap"]
    assert names(shelf=outer) == ["Mail sack", "Reed cap"]  # a shelf holds what its inner shelves hold
    assert names(shelf=inner) == ["Reed cap"]
    keeping.change_many([belt], None, False, None, True)
    assert names(text="reed") == ["Reed cap"]
    assert names(text="reed", retired=True) == ["Reed belt"]
    keeping.write(cap, {"favourite": True, "note": "For the ferry"})
    assert names(favourites=True) == ["Reed cap"]
    assert names(text="ferry") == ["Reed cap"]
    assert [item.total for item in found(limit=1).items] == [2]
    with pytest.raises(InputError, match="itself"):
        order.change_shelf(outer, None, inner)
    with pytest.raises(InputError, match="already"):
        order.add_shelf("Night mail", None)
    order.drop_shelf(outer)
    assert names() == ["Mail sack", "Reed cap"]


def test_a_piece_from_stock_hangs_in_its_colours_and_takes_on_what_changes(desk: Desk, jobs: Jobs, sleeve: Model, picture: bytes):
    from wily_heron.store.db import transaction
    from wily_heron.store.rail.pieces import get_piece, piece_at
    from wily_heron.store.stock.order import Cloth
    from wily_heron.studio.stock import colourways, keeping, using

    item = taken(desk, jobs, {"band.glb": as_file(sleeve, ".glb", "band")})["band.glb"][2]
    assert item is not None
    own, ways = colourways.colourways(item)
    assert list(own) == ["felt"]
    assert ways == []
    colourways.put(desk, item, "Madder", {"felt": Cloth(colour=(0.5, 0.1, 0.1))})
    with pytest.raises(InputError):
        colourways.put(desk, item, "Lost", {"silk": Cloth(colour=(0.5, 0.1, 0.1))})
    piece = using.dress(desk, item, None, "Madder")
    jobs.do_all()

    def colour() -> tuple[float, ...]:
        with transaction() as c:
            row = get_piece(c, piece.id)
        assert row.geometry is not None
        return piece_at(row.geometry).mesh.materials[0].colour

    assert colour() == pytest.approx((0.5, 0.1, 0.1), abs=1e-6)
    colourways.put(desk, item, "Madder", {"felt": Cloth(colour=(0.2, 0.3, 0.4))})
    assert [w.task for w in jobs.asked] == ["evaluate_edit"]  # the piece that wears it takes it on
    jobs.do_all()
    assert colour() == pytest.approx((0.2, 0.3, 0.4), abs=1e-6)
    with pytest.raises(InputError, match="wears it"):
        colourways.drop(item, "Madder")
    colourways.wear(desk, piece.id, None)
    jobs.do_all()
    assert colour() == pytest.approx(own["felt"].colour, abs=1e-6)
    colourways.drop(item, "Madder")
    with pytest.raises(NotFound):
        colourways.drop(item, "Madder")
    blue = replace(sleeve, mesh=replace(sleeve.mesh, materials=(Material("felt", (0.0, 0.0, 0.9)),)))
    version, users = keeping.replace_with(desk, item, blue, "band-2.glb", 100)
    assert (version, users) == (2, [piece.id])
    jobs.do_all()
    assert colour() == pytest.approx((0.0, 0.0, 0.9), abs=1e-6)


def test_what_is_in_stock_is_used_by_its_kind(desk: Desk, jobs: Jobs, sleeve: Model, picture: bytes):
    from wily_heron.core.motion.pose_library import POSES
    from wily_heron.store.db import transaction
    from wily_heron.store.stock.order import Cloth
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.stock import keeping, using
    from wily_heron.studio.stock.taking_in import take_extra, take_pose

    with transaction() as c:
        pose, horns = take_pose(c, POSES["haul-sack"], "tests"), take_extra(c, "Marsh horns", "horns", "tests")
    used = using.use(desk, pose, None)
    assert used.kind == "pose"
    assert overview().poses[-1].name == used.pose
    first, second = overview().cast
    assert using.use(desk, horns, second.id).wearer == second.id
    assert overview().cast[1].shape == {**second.shape, "horns": 1.0}
    assert overview().cast[0].shape == first.shape
    item = taken(desk, jobs, {"band.glb": as_file(sleeve, ".glb", "band"), "weave.png": picture})
    band, weave = item["band.glb"][2], item["weave.png"][2]
    assert band is not None
    with pytest.raises(InputError, match="elsewhere"):
        using.use(desk, band, None)
    with pytest.raises(InputError, match="not a piece"):
        using.dress(desk, pose, None, None)
    with pytest.raises(NotFound):
        using.dress(desk, band, 10**6, None)
    made = keeping.make_fabric(desk, "River weave", Cloth(colour=(1.0, 1.0, 1.0)), weave)
    assert [w.values for w in jobs.asked] == [{"item": made}]
    with pytest.raises(InputError, match="no texture"):
        keeping.make_fabric(desk, "Band weave", Cloth(colour=(1.0, 1.0, 1.0)), band)


def test_a_bundle_hangs_in_its_order_and_holds_only_pieces(desk: Desk, jobs: Jobs, sleeve: Model, picture: bytes):
    from wily_heron.studio.stock import keeping, order, using

    data = as_file(sleeve, ".glb", "band")
    rows = taken(desk, jobs, {"inner.glb": data, "outer.glb": data, "weave.png": picture})
    inner, outer, weave = (rows[name][2] for name in ("inner.glb", "outer.glb", "weave.png"))
    assert inner is not None
    assert outer is not None
    assert weave is not None
    with pytest.raises(InputError, match="only pieces"):
        order.put_bundle(desk, "Ferry", [inner, weave])
    bundle = order.put_bundle(desk, " Ferry ", [inner, outer])
    assert [(b.name, b.names) for b in found().bundles] == [("Ferry", ("Inner", "Outer"))]
    hung = using.dress_bundle(desk, bundle, None)
    assert [(p.name, p.stock) for p in hung] == [("Inner", inner), ("Outer", outer)]
    assert hung[0].rail < hung[1].rail
    assert jobs.names() == ["evaluate_edit"] * 2
    with pytest.raises(InputError, match="in stock already"):
        keeping.keep_piece(desk, hung[0].id)
    order.drop_bundle(bundle)
    with pytest.raises(NotFound):
        order.drop_bundle(bundle)


def test_a_piece_leaves_the_stock_as_the_file_it_was_in_metres(desk: Desk, jobs: Jobs, sleeve: Model):
    import io

    import trimesh

    from wily_heron.studio.stock import keeping

    item = taken(desk, jobs, {"band.glb": as_file(sleeve, ".glb", "band")})["band.glb"][2]
    assert item is not None
    for ending in (".glb", ".obj", ".ply", ".stl"):
        name, data = keeping.as_file(item, ending)
        assert name.startswith("band")
        if name.endswith(".zip"):
            continue
        mesh = trimesh.load(io.BytesIO(data), file_type=ending[1:], force="mesh")
        assert mesh.extents == pytest.approx(sleeve.mesh.points.max(axis=0) - sleeve.mesh.points.min(axis=0), abs=1e-4)
