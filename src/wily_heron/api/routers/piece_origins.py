"""Where a piece comes from: the body it was made for, its textures, and bringing it over to another body."""


from fastapi import APIRouter, UploadFile

from ...core.bench.recipe import Recipe
from ...core.errors import InputError
from ...core.model.made_for import warning
from ...core.model.model import Model, Texture
from ...formats.beside import plain_name
from ...formats.textures import read_texture
from ...jobs.origins import likeliest
from ...jobs.wearing import put_over
from ...store import pieces as store
from ...store.db import one, run, transaction
from ...store.models import get_model, put_model
from ..deps import Artist, ProductionId
from ..queue import ask
from ..received_files import sorted_files
from ..schemas import CandidateOut, LinkedOut, OverIn, PieceOut
from .pieces import piece_named

router = APIRouter(prefix="/api/pieces", tags=["pieces"])


@router.get("/{piece}/made-for")
def made_for(production: ProductionId, piece: int) -> list[CandidateOut]:
    """Return the wearers the piece may have been made for, the likeliest first; each says what speaks against it."""
    with transaction() as connection:
        row = store.get_piece(connection, piece)
        cast = run(connection, "cast_of", production=production)
        model = get_model(connection, row["source_sha"])
    known, found = likeliest(model, Recipe.model_validate(row["recipe"]), cast)
    return [CandidateOut(name=c.name, body=known[c.name].body, shape=known[c.name].shape, skin_mm=round(1000 * c.skin, 1),
                         inside=round(c.inside, 3), joints_mm=None if c.joints is None else round(1000 * c.joints, 1),
                         warning=warning(c.name, found)) for c in found]


@router.post("/{piece}/textures")
def relink(piece: int, files: list[UploadFile]) -> LinkedOut:
    """Give a piece the textures it asks for, found by name: whole, without its ending, or the only one for the only gap."""
    _, beside = sorted_files(files)
    with transaction() as connection:
        row = store.get_piece(connection, piece)
        model = get_model(connection, row["source_sha"])
        missing = model.missing()
        linked = _matched(missing, beside)
        if not linked:
            raise InputError(what=f"none of the {len(beside)} pictures bears the name of a missing texture", where=row["name"],
                             todo=f"It asks for {', '.join(missing) or 'none'}.")
        whole = Model(model.mesh, model.skeleton, model.skin, model.morphs, model.deltas, model.clips, (*model.textures, *linked),
                      model.objects, model.triangle_object)
        edit = store.change_recipe(connection, piece, Recipe.model_validate(row["recipe"]), "Find textures again", "Artist", None,
                                   put_model(connection, whole))
    ask("evaluate_edit", priority=10, edit=edit)
    return LinkedOut(linked=[t.name for t in linked], missing=list(whole.missing()))


def _matched(missing: tuple[str, ...], beside: dict[str, bytes]) -> list[Texture]:
    out = []
    for name in missing:
        plain = plain_name(name)
        found = plain if plain in beside else next((b for b in beside if b.rsplit(".", 1)[0] == plain.rsplit(".", 1)[0]), None)
        if found is None and len(missing) == len(beside) == 1:
            found = next(iter(beside))
        if found is not None:
            out.append(read_texture(beside[found], name))
    return out


@router.post("/{piece}/over", status_code=201)
def bring_over(production: ProductionId, artist: Artist, piece: int, to: OverIn) -> PieceOut:
    """Put a piece made on one body on another: as it stands now, it rides over, and is fitted, bound and made to follow there."""
    with transaction() as connection:
        row, who = store.get_piece(connection, piece), one(connection, "wearer", wearer=to.wearer)
        if who is None:
            raise InputError(what=f"there is no wearer {to.wearer}", where="the cast", todo="Reload the room.")
        if row["status"] != "done" or not row["geometry_sha"]:
            raise InputError(what=f"{row['name']} does not stand yet", where="bringing over", todo="Wait until its steps are done.")
    with transaction() as connection:
        made, edit = put_over(connection, production, row, who, artist)
    ask("evaluate_edit", priority=10, edit=edit)
    return piece_named(made)
