"""What pipeline scripts call: wearers, pieces and packs, without a database or a browser. See docs/python.md.

Lengths are metres and angles radians, as everywhere in the core. What the user can mend is raised as `InputError`.
"""

from collections.abc import Iterator, Mapping, Sequence
from math import radians
from pathlib import Path
from typing import Literal

import numpy as np

from .core.bench.evaluate import run_step
from .core.bench.steps.drape import kept_in
from .core.clear.outfit.sheet_together import clear_sheet
from .core.clearance.cell import CellResult, Dressed
from .core.clearance.figures import Figures
from .core.clearance.trial import trial as run_trial
from .core.drape.drape import Draping
from .core.drape.passage import into_pose
from .core.errors import InputError
from .core.figure.base.body import Wearer, shape_values, shaped, standing_at
from .core.figure.base.pose_types import REST, Pose
from .core.figure.cast import CAST
from .core.figure.figure import figure
from .core.figure.measures.measure_solve import solve_measures
from .core.figure.measures.measures import measure_named, take
from .core.finish.finished_piece import finished
from .core.look.portrait import cell_portrait
from .core.model.category import CATEGORIES
from .core.model.model import Model
from .core.model.pack import Pack, PackedPiece
from .core.model.state import Piece
from .core.model.steps.bind import Bind
from .core.model.steps.draping import Drape
from .core.model.steps.fabric import FABRICS
from .core.model.steps.finish import Finish
from .core.model.steps.fit import Fit
from .core.model.steps.follow import Follow
from .core.model.steps.receive import Receive
from .core.model.worn import rest_moves
from .core.motion.pose_library import POSES, pose_named
from .formats.images.png import write_png
from .formats.model_write import write_model
from .formats.pack.read import read_pack
from .formats.pack.write import write_pack
from .formats.piece_read import read_file, read_model_file

Unit = Literal["auto", "m", "cm", "mm", "in", "ft", "dm"]
Worn = Mapping[str, Piece]
"""Pieces by name, from the skin out."""


def wearer(name: str = "", shape: Mapping[str, float] | None = None, measures: Mapping[str, float] | None = None,
           level: int = 2) -> Wearer:
    """Return the figure as one of the cast (`name`), at `shape` settings, or solved to body `measures`.

    Args:
        name: One of `cast()`, or nothing for the neutral adult.
        shape: Shape settings by name, mostly -1 to 1; they are laid over those of the name.
        measures: Body measures by name in metres, as ISO 8559-1 defines them: {"bust_girth": 1.04}.
        level: 1 (10,000 vertices), 2 (40,000) or 3.

    Raises:
        InputError: There is no such wearer, shape or measure, or the measures cannot be reached.
    """
    settings = {**(_of_the_cast(name) if name else {}), **(shape or {})}
    if measures:
        solved = solve_measures(figure(), {measure_named(k).name: v for k, v in measures.items()}, around=settings)
        missed = [k for k in measures if not solved.met(measure_named(k).name)]
        if missed:
            raise InputError(what=f"{', '.join(missed)} cannot be reached together", where="the measures",
                             todo="Ask for measures of one body, or for fewer of them.")
        settings = solved.shape
    body = figure(level)
    return shaped(body, shape_values(body, settings))


def cast() -> tuple[str, ...]:
    """Return the names of the wearers that ship with the house."""
    return tuple(CAST)


def measures(of: Wearer) -> dict[str, float]:
    """Return the body measures of a wearer in metres, by their names in ISO 8559-1."""
    own = figure()
    settings = {k: float(v) for k, v in zip(of.body.shapes, of.shape, strict=True) if k in own.shapes}
    return {name: taken.value for name, taken in take(shaped(own, shape_values(own, settings))).items()}


def poses() -> tuple[str, ...]:
    """Return the names of the poses that ship with the house."""
    return tuple(POSES)


def pose(name: str) -> Pose:
    """Return a pose of the house. Raises `InputError` if there is none of that name."""
    return pose_named(name)


def open_model(path: str | Path) -> Model:
    """Return the mesh in a file, with the skeleton, weights, morphs and textures that came with it.

    Reads .obj, .glb, .gltf, .ply, .stl and .usd of any kind. Raises `InputError` if the file cannot be used.
    """
    return read_model_file(Path(path))


def open_pack(path: str | Path) -> Pack:
    """Return a pack: a body with its pieces. Raises `InputError` if the file is not one."""
    return read_pack(read_file(Path(path)), str(path))


def receive(model: Model | str | Path, on: Wearer, units: Unit = "auto", category: str = "") -> Piece:
    """Return a piece put right: metres, Y up, standing where the wearer stands, mended, and told what it is.

    Args:
        model: What `open_model` returned, or a file.
        on: The wearer it is to be fitted to.
        units: The file's unit, where it is known.
        category: What it is (top, bottom, footwear, ...), where it is known.

    Raises:
        InputError: The file cannot be used, or there is no such category.
    """
    if category and category not in CATEGORIES:
        raise InputError(what=f"there is no category '{category}'", where="receiving", todo=f"Use one of {', '.join(CATEGORIES)}.")
    model = model if isinstance(model, Model) else open_model(model)
    piece = run_step(Piece.of(model, on.shape), on, Receive(unit=units))
    return piece.as_category(category) if category else piece


def fit(piece: Piece, on: Wearer, ease: float = 0.009, over: Worn | None = None) -> Piece:
    """Return a received piece laid on a wearer.

    Args:
        piece: What `receive` returned.
        on: The wearer.
        ease: The distance asked for over the skin, and over all it is worn over, in metres.
        over: The pieces under it, from the skin out, where it rests on them.

    Raises:
        InputError: It cannot be laid on this body.
    """
    return _stepped(piece, on, Fit(ease=ease, over=tuple(over or ())), over)


def bind(piece: Piece, on: Wearer, over: Worn | None = None, joint: str = "") -> Piece:
    """Return a piece with skin weights.

    Args:
        piece: What `fit` returned.
        on: The wearer it was fitted to.
        over: The pieces under it, from the skin out: it goes with what it lies nearest to.
        joint: The joint that carries all of it, for a rigid piece.

    Raises:
        InputError: There is no such joint.
    """
    return _stepped(piece, on, Bind(source="joint", joint=joint) if joint else Bind(over=tuple(over or ())), over)


def follow(piece: Piece, on: Wearer, over: Worn | None = None) -> Piece:
    """Return a piece with a morph for each shape of the body.

    Args:
        piece: What `bind` returned.
        on: The wearer it was bound to.
        over: The pieces under it, from the skin out, which its morphs stay clear of.
    """
    return _stepped(piece, on, Follow(over=tuple(over or ())), over)


def dress(model: Model | str | Path, on: Wearer, ease: float = 0.009, over: Worn | None = None, units: Unit = "auto",
          category: str = "", joint: str = "") -> Piece:
    """Return a piece that was received, fitted, bound and made to follow in one go.

    Args:
        model: What `open_model` returned, or a file.
        on: The wearer.
        ease: The distance asked for over what lies under it, in metres.
        over: The pieces under it, from the skin out.
        units: The file's unit, where it is known.
        category: What it is, where it is known.
        joint: The joint that carries it as it lies; it is not fitted then.

    Raises:
        InputError: The file cannot be used, or there is no such category or joint.
    """
    piece = receive(model, on, units, category)
    piece = piece if joint else fit(piece, on, ease, over)
    return follow(bind(piece, on, over, joint), on, over)


def measure(worn: Worn, on: Wearer, in_pose: Pose = REST) -> CellResult:
    """Return one cell, measured: `figures` says whether it holds and names every pair of layers with its clearance in mm.

    Args:
        worn: The pieces by name, from the skin out.
        on: The wearer, at any shape that the pieces follow.
        in_pose: The pose; the bind pose if none is named.
    """
    return Dressed(on, dict(worn)).measure(in_pose)


def trial(worn: Worn, wearers: Sequence[str] = (), in_poses: Sequence[str] = ()) -> Iterator[tuple[str, str, Figures]]:
    """Yield `(wearer, pose, figures)`, cell by cell.

    Args:
        worn: The pieces by name, from the skin out.
        wearers: Names of the cast; all of it if none is named.
        in_poses: Names of poses; all of the house's if none is named.

    Raises:
        InputError: There is no such wearer or pose.
    """
    bodies = {name: _of_the_cast(name) for name in wearers or CAST}
    for who, name, _, cell in run_trial(figure(), dict(worn), bodies, {n: pose_named(n) for n in in_poses or POSES}):
        yield who, name, cell.figures


def clear(worn: Worn, on: Wearer, in_poses: Sequence[Pose], ease: float = 0.004) -> dict[str, Piece]:
    """Return the pieces with correctives for the poses in which something shows through, all cleared together.

    Args:
        worn: The pieces by name, from the skin out.
        on: The wearer.
        in_poses: The poses to clear.
        ease: How far apart layers are brought where one showed through, in metres.
    """
    pieces, _ = clear_sheet(list(worn.values()), on.body, [(on.shape, each) for each in in_poses], ease)
    return dict(zip(worn, pieces, strict=True))


def drape(piece: Piece, on: Wearer, in_pose: Pose = REST, fabric: str = "linen", over: Worn | None = None, settle: int = 24) -> Piece:
    """Return a piece that has fallen as cloth: its shape for good at rest, in a pose a corrective for that pose.

    Args:
        piece: A bound piece.
        on: The wearer.
        in_pose: The pose it falls into; at rest if none is named.
        fabric: A fabric in stock, by name.
        over: The pieces under it, which it falls on.
        settle: Frames (24 to the second) that it has to settle, at rest and in the pose.

    Raises:
        InputError: There is no such fabric.
    """
    if fabric not in FABRICS:
        raise InputError(what=f"there is no fabric called '{fabric}'", where="the drape", todo=f"Name one of {', '.join(FABRICS)}.")
    keep: Literal["rest", "pose"] = "rest" if in_pose is REST else "pose"
    passage = into_pose(in_pose, settle, 0 if in_pose is REST else 24, settle)
    falling = Draping(piece, on, Drape(fabric=FABRICS[fabric], settle=settle, keep=keep), passage, list((over or {}).values()))
    falling.run()
    last = passage.at(falling.done - 1)
    return kept_in(piece, on.body, in_pose, rest_moves(piece, on, last, falling.points), keep, falling.report())


def finish(piece: Piece, weld: float = 0.0, smooth: float = 0.0, finer: int = 0, thick: float = 0.0, sharp: float = 0.0) -> Piece:
    """Return a piece finished for its pack.

    Args:
        piece: A piece in any state.
        weld: Vertices nearer than this many metres become one.
        smooth: How much it is evened out, 0 to 1.
        finer: How many times each triangle is parted in four.
        thick: The thickness it is given, in metres.
        sharp: Edges that turn by more than this many degrees are drawn sharp.

    Raises:
        InputError: It would have too many faces.
    """
    return finished(piece, Finish(weld=weld, smooth=smooth, finer=finer, thick=thick, sharp=radians(sharp)))


def picture(worn: Worn, on: Wearer, in_pose: Pose = REST, size: tuple[int, int] = (480, 640)) -> np.ndarray:
    """Return a small picture (h, w, 4) uint8 of a cell, what shows through in coral; `write` makes a .png of it.

    Args:
        worn: The pieces by name, from the skin out.
        on: The wearer.
        in_pose: The pose; the bind pose if none is named.
        size: Width and height in pixels.
    """
    dressed = Dressed(on, dict(worn))
    return cell_portrait(dressed, dressed.measure(in_pose), size, alpha=True)


def pack(worn: Worn, on: Wearer, name: str = "figure", in_poses: Sequence[str] = ()) -> Pack:
    """Return a pack of the wearer in these pieces.

    Args:
        worn: The pieces by name, from the skin out.
        on: The wearer.
        name: What the wearer is called in it.
        in_poses: Names of poses that go in as clips.

    Raises:
        InputError: There is no such pose.
    """
    packed = tuple(PackedPiece(label, piece.category or "top", piece) for label, piece in worn.items())
    settings = {k: float(v) for k, v in zip(on.body.shapes, on.shape, strict=True) if v}
    return Pack(standing_at(on), name, packed, {name: settings}, {n: pose_named(n) for n in in_poses})


def write(path: str | Path, what: Pack | Model | Piece | np.ndarray) -> list[Path]:
    """Write a file, and return the files that came of it.

    Args:
        path: Where to; its ending says how.
        what: A pack (.glb), a model or a piece (.obj, .glb, .gltf, .ply, .stl, .usda, .usdc), or a picture (.png).

    Raises:
        InputError: The ending is none of these.
    """
    path = Path(path)
    if isinstance(what, np.ndarray):
        files = {path.name: write_png(what)}
    elif isinstance(what, Pack):
        files = {path.name: write_pack(what)}
    else:
        files = write_model(Model(what.mesh) if isinstance(what, Piece) else what, path.suffix.lower(), path.stem)
    for name, data in files.items():
        path.with_name(name).write_bytes(data)
    return [path.with_name(name) for name in files]


def _stepped(piece: Piece, on: Wearer, step: Fit | Bind | Follow, over: Worn | None) -> Piece:
    return run_step(piece, on, step, layer_of=dict(over or {}).__getitem__)


def _of_the_cast(name: str) -> Mapping[str, float]:
    if name not in CAST:
        raise InputError(what=f"there is no wearer called '{name}'", where="the cast", todo=f"Name one of {', '.join(CAST)}.")
    return CAST[name]

