"""Any number of productions: what one holds stays apart from the others, and a copy or an archive of one holds all of it."""

import hashlib
import io
import json
import re
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import trimesh

from tests.studio.conftest import Jobs
from wily_heron.core.clearance.find.shots import Shot
from wily_heron.core.errors import InputError, NotFound
from wily_heron.core.model.model import Model
from wily_heron.core.table.blocks import block_layout
from wily_heron.formats.images.png import read_png
from wily_heron.studio.desk import Desk


@pytest.fixture
def full(desk: Desk, jobs: Jobs, sleeve: Model) -> Desk:
    """A production with something in every room: pieces with a history, a sheet, a plan, shots, waivers, panels, a body of one's own."""
    from wily_heron.core.figure.base.body import shaped
    from wily_heron.core.figure.figure import figure
    from wily_heron.store.db import transaction
    from wily_heron.store.layouts import add_layout
    from wily_heron.store.sheet.waivers import PinRow, pin, waive
    from wily_heron.studio.plan import carrying_out
    from wily_heron.studio.productions import cast, shots
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.rail import rail
    from wily_heron.studio.sheet import trials

    rail.bring_in(desk, sleeve, "waist-band.obj")
    jobs.do_all()
    ibbet = overview(desk.production).cast[0]
    cast.set_shape(desk, ibbet.id, {"hip": 0.4})
    trials.begin(desk)
    jobs.do_all()
    shots.keep(desk, [Shot(name="Jetty", eye=(0.0, 1.4, 4.0), target=(0.0, 1.0, 0.0), lens=0.6)], ibbet.id)
    carrying_out.begin(desk, None)
    jobs.do_all()
    with transaction() as connection:
        cell = PinRow(wearer=ibbet.id, pose="stand")
        waive(connection, desk.production, cell, "Waist band", "it is meant to", False, desk.artist)
        pin(connection, desk.production, cell, True)
        add_layout(connection, desk.production, "Mail tabard", block_layout("tabard", shaped(figure(1), {}), {}), ibbet.id, {}, desk.artist)
    return desk


def told(production: int) -> dict[str, Any]:
    """What the rooms show of a production, without the numbers of its rows."""
    from wily_heron.store.db import transaction
    from wily_heron.store.layouts import get_layout, layouts_of
    from wily_heron.store.sheet.waivers import pins_of, waivers_of
    from wily_heron.studio.plan import carrying_out
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.sheet import trials

    seen, sheet, plan = overview(production), trials.latest(production), carrying_out.latest(production)
    assert sheet
    assert plan
    name = {w.id: w.name for w in seen.cast} | {None: None}
    piece = {p.id: p.name for p in seen.pieces}
    outfit = {o.id: o.name for o in seen.outfits}
    with transaction() as c:
        panels = [(name[line.wearer], get_layout(c, line.id).layout) for line in layouts_of(c, production)]
        left = [(name[w.wearer], w.pose, w.over, w.reason) for w in waivers_of(c, production)]
        pinned = [(name[p.wearer], p.pose) for p in pins_of(c, production)]
    return {
        "cast": [w.model_dump(exclude={"id", "outfit"}) | {"wears": outfit[w.outfit]} for w in seen.cast],
        "poses": [p.name for p in seen.poses],
        "shots": [(s.shot, name[s.wearer]) for s in seen.shots],
        "pieces": [p.model_dump(exclude={"id", "production", "edit", "outfit"}) | {"in": outfit[p.outfit]} for p in seen.pieces],
        "outfits": [(o.name, o.pieces, [name[w] for w in o.worn_by], [name[w] for w in o.owners]) for o in seen.outfits],
        "sheet": [(name[c.wearer], c.pose, c.figures, c.picture) for c in sheet.cells],
        "plan": [(piece[line.piece], line.words) for line in plan.lines] + [(name[c.wearer], c.pose) for c in plan.cells],
        "panels": panels, "waived": left, "pinned": pinned,
    }


def counted(production: int) -> dict[str, int]:
    from wily_heron.store.db import transaction
    from wily_heron.store.productions.rows import read_rows

    with transaction() as c:
        return {table: len(rows) for table, rows in read_rows(c, production).items()}


def archived(production: int) -> bytes:
    from wily_heron.studio.productions import archiving

    file = io.BytesIO()
    archiving.archive(production, file)
    return file.getvalue()


def test_every_table_that_hangs_on_a_production_is_known_to_belong_to_it(full: Desk):
    from wily_heron.store.db import transaction
    from wily_heron.store.productions.rows import owned

    with transaction() as c:
        belongs = set(owned(c).by)
        pointing = {r["t"] for r in c.execute("select table_name t from information_schema.columns where table_schema = 'public' "
                                              "and column_name in ('production_id', 'piece_id', 'wearer_id', 'trial_id', 'hunt_id')")}
    assert pointing - belongs == {"own_body"}  # the studio's, like the stock


def test_a_duplicate_holds_all_of_a_production_and_goes_its_own_way(full: Desk, jobs: Jobs):
    from wily_heron.studio.productions import all_productions, cast
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.rail import rail

    copy = all_productions.duplicate(full.production, jobs)
    before = told(full.production)
    assert told(copy) == before
    assert counted(copy) == counted(full.production)
    mine = overview(copy)
    assert (mine.name, jobs.asked) == ("The Reedmarsh Night Post 2", [])
    cast.set_shape(Desk(copy, "Orrel", jobs), mine.cast[0].id, {"hip": -0.2})
    rail.take_off(Desk(copy, "Orrel", jobs), mine.pieces[0].id)
    assert told(full.production) == before
    assert overview(copy).cast[0].shape == {"hip": -0.2}
    assert cast.step(mine.cast[0].id, "undo").shape == {"hip": 0.4}  # its history came along


def test_an_archive_is_read_by_others_and_unpacks_with_nothing_lost_where_nothing_is_known_of_it(full: Desk, jobs: Jobs):
    from wily_heron.store.db import transaction
    from wily_heron.studio.productions import all_productions, archiving

    data, before, rows = archived(full.production), told(full.production), counted(full.production)
    with zipfile.ZipFile(io.BytesIO(data)) as zipped:
        assert zipped.testzip() is None
        manifest = json.loads(zipped.read("manifest.json"))
        assert set(manifest["files"]) | {"manifest.json"} == set(zipped.namelist())
        for path, said in manifest["files"].items():
            assert hashlib.sha256(zipped.read(path)).hexdigest() == said["sha256"], path
        assert {table: len(json.loads(zipped.read(f"rows/{table}.json"))) for table in rows} == rows
    all_productions.put_in_bin(full.production)
    all_productions.empty_bin()
    held = [found[0] for path in manifest["files"] if (found := re.search("[0-9a-f]{64}", path))]
    assert len(held) > 5
    with transaction() as c:  # as on another machine
        c.execute("delete from blob b where sha256 = any(%s) and not exists (select 1 from stock_item where source_sha = b.sha256)", [held])
    back = archiving.unpack(io.BytesIO(data), "night-post.heron.zip", jobs)
    assert told(back) == before
    assert counted(back) == rows
    assert jobs.asked == []


def test_the_outfit_in_an_archive_is_gltf_that_another_library_reads(full: Desk, jobs: Jobs):
    from wily_heron.core.model.steps.bind import Bind
    from wily_heron.core.model.steps.fit import Fit
    from wily_heron.core.model.steps.follow import Follow
    from wily_heron.core.model.steps.receive import Place
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.rail import rail

    piece = overview(full.production).pieces[0]
    steps = (*piece.recipe.steps, Place(), Fit(), Bind(), Follow())
    rail.change_recipe(full, piece.id, piece.recipe.model_copy(update={"steps": steps}), "Dress", None)
    jobs.do_all()
    with zipfile.ZipFile(io.BytesIO(archived(full.production))) as zipped:
        scene = trimesh.load(io.BytesIO(zipped.read("outfit-ibbet.glb")), file_type="glb")
    assert {"body", "piece:waist-band"} <= set(scene.graph.nodes)


def forged(data: bytes, path: str, to: Callable[[bytes], bytes], honest: bool = True) -> bytes:
    """An archive with one file changed or added, its checksum corrected or not."""
    with zipfile.ZipFile(io.BytesIO(data)) as zipped:
        files = {name: zipped.read(name) for name in zipped.namelist()}
    files[path] = to(files.get(path, b""))
    if honest:
        manifest = json.loads(files["manifest.json"])
        manifest["files"][path] = {"bytes": len(files[path]), "sha256": hashlib.sha256(files[path]).hexdigest()}
        files["manifest.json"] = json.dumps(manifest).encode()
    return zip_of(files)


def zip_of(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, content in files.items():
            made.writestr(name, content)
    return out.getvalue()


def with_row(change: Callable[[dict], object]) -> Callable[[bytes], bytes]:
    def to(raw: bytes) -> bytes:
        rows = json.loads(raw)
        change(rows[0])
        return json.dumps(rows).encode()

    return to


def test_an_archive_that_is_damaged_or_forged_is_refused_whole_and_says_what_is_wrong(full: Desk, jobs: Jobs):
    from wily_heron.studio.productions import all_productions, archiving

    data = archived(full.production)
    with zipfile.ZipFile(io.BytesIO(data)) as zipped:
        blob = next(name for name in zipped.namelist() if name.startswith("blobs/"))
    other = {
        "is not a zip": b"PK and nothing else",
        "manifest.json is missing": zip_of({"rows/piece.json": b"[]"}),
        "not one of a production": zip_of({"manifest.json": b'{"format": "a film"}'}),
        "swells to": zip_of({"manifest.json": b" " * (80 * 2**20)}),
        "its bytes do not match": forged(data, blob, lambda b: b[:-1] + b"!", honest=False),
        "is not what its name says": forged(data, blob, lambda b: b[:-1] + b"!"),
        "is not a list of rows": forged(data, "rows/shot.json", lambda _: b"{}"),
        "is no table of a production": forged(data, "rows/stock_item.json", lambda _: b"[]"),
        "row 10000 is missing": forged(data, "rows/piece.json", with_row(lambda r: r.update(production_id=10_000))),
        "row 77777 is missing": forged(data, "rows/edit.json", with_row(lambda r: r.update(parent_id=77_777))),
        "do not fit together": forged(data, "rows/piece.json", with_row(lambda r: r.update(rail="outermost"))),
        "cannot be read": forged(data, "rows/edit.json", with_row(lambda r: r.update(recipe={"steps": [{"kind": "sew by magic"}]}))),
        "a newer installation": forged(data, "manifest.json", lambda b: b.replace(b'"schema_name": "0', b'"schema_name": "9'), False),
    }
    there = [p.id for p in all_productions.productions()]
    for why, file in other.items():
        with pytest.raises(InputError, match=why):
            archiving.unpack(io.BytesIO(file), "night-post.heron.zip", jobs)
        assert [p.id for p in all_productions.productions()] == there, why


def test_what_lies_in_the_bin_is_not_worked_on_and_is_whole_until_the_bin_is_emptied(full: Desk, jobs: Jobs):
    from wily_heron.studio.productions import all_productions
    from wily_heron.studio.productions.overview import overview, production_id

    before = told(full.production)
    other = all_productions.begin("  The Salt   Road ", "Orrel")
    assert production_id() == other  # opened last
    all_productions.opened(full.production)
    assert production_id() == full.production
    all_productions.put_in_bin(full.production)
    assert production_id() == other
    for refused in (lambda: production_id(full.production), lambda: all_productions.opened(full.production),
                    lambda: all_productions.duplicate(full.production, jobs), lambda: all_productions.put_in_bin(full.production)):
        with pytest.raises(NotFound):
            refused()
    all_productions.put_in_bin(full.production, there=False)
    assert told(full.production) == before
    all_productions.put_in_bin(full.production)
    assert all_productions.empty_bin() == [full.production]
    assert [p.name for p in all_productions.productions()] == ["The Salt Road"]
    assert all_productions.empty_bin() == []
    begun = overview(other)
    assert ([w.name for w in begun.cast], len(begun.poses), begun.pieces) == (["First wearer"], 5, [])


def test_a_card_says_what_is_in_a_production_and_who_worked_there(full: Desk):
    from wily_heron.studio.productions import all_productions
    from wily_heron.studio.productions.pictures import dressed_picture

    card = next(p for p in all_productions.productions() if p.id == full.production)
    assert (card.name, card.wearers, card.pieces, card.poses) == ("The Reedmarsh Night Post", 2, 1, 2)
    assert card.artists[0] == "Wrenna"
    assert card.bytes > 1000
    assert [f.name for f in card.faces] == ["Ibbet", "Old Moss"]
    image = read_png(dressed_picture(card.faces[0].wearer))
    band = (image[..., 2].astype(int) > image[..., 0].astype(int) + 10)  # only its felt is blue
    assert image.shape == (336, 220, 3)
    assert 200 < band.sum() < 6000
    assert 0.34 < np.flatnonzero(band.any(axis=1)).mean() / 336 < 0.44  # round the waist: 98 to 114 cm up
    all_productions.rename(full.production, "Night Post, second unit")
    assert all_productions.productions()[0].name == "Night Post, second unit"
    with pytest.raises(InputError, match="no name"):
        all_productions.rename(full.production, "   ")
    with pytest.raises(NotFound):
        all_productions.rename(10_000, "Nothing")


def test_archive_and_unpack_from_the_command_line_name_a_production_and_leave_no_part_of_a_file(
        full: Desk, tmp_path: Path, capsys: pytest.CaptureFixture[str]):
    from wily_heron.jobs.archives import main
    from wily_heron.studio.productions import all_productions

    before, file = told(full.production), tmp_path / "post.heron.zip"
    assert main(["archive", "the reedmarsh night POST", "--out", str(file)]) == 0
    assert main(["unpack", str(file)]) == 0
    copy = next(p for p in all_productions.productions() if p.name == "The Reedmarsh Night Post 2")
    assert f"The Reedmarsh Night Post 2: production {copy.id}" in capsys.readouterr().out
    assert told(copy.id) == before
    for words, says in ((["archive", "The Salt Road", "--out", str(tmp_path / "x")], "there is no production The Salt Road"),
                        (["archive", str(copy.id), "--out", str(tmp_path / "no" / "such" / "x")], "No such file"),
                        (["unpack", str(tmp_path / "nothing.zip")], "No such file"), (["unpack", __file__], "is not a zip")):
        assert main(words) == 2
        error = capsys.readouterr().err
        assert says in error
        assert error.count("\n") == 1
    assert [path.name for path in tmp_path.iterdir()] == ["post.heron.zip"]
