"""Uploaded files, sorted into pieces and what belongs to them."""

from pathlib import Path

from fastapi import UploadFile

from ..core.errors import InputError
from ..core.model.model import Model
from ..formats.beside import plain_name
from ..formats.obj.obj import MAX_BYTES
from ..formats.piece_read import COMPANIONS, read_model

MOST_AT_ONCE = 24
"""So many pieces may come in together: twice the most that an outfit is expected to hold."""


def one_model(files: list[UploadFile], where: str) -> tuple[Model, str, int]:
    """Return the model of the first file that is one, its name and its bytes, with what lies beside it. Raises `InputError` if none is."""
    mains, beside = sorted_files(files)
    if not mains:
        raise InputError(what="none of the files holds a model", where=where, todo="Choose a glTF, USD or OBJ file.")
    name, data = mains[0]
    return read_model(data, name, beside), name, len(data)


def several_models(files: list[UploadFile], where: str) -> list[tuple[str, Model]]:
    """Return name and model of each file that is one, with what lies beside it. Raises `InputError` for none, too many, or a bad one."""
    mains, beside = sorted_files(files)
    if not mains or len(mains) > MOST_AT_ONCE:
        what = f"there are {len(mains)} pieces; the limit is {MOST_AT_ONCE}" if mains else "none of the files holds a model"
        raise InputError(what=what, where=where, todo="Bring in some of them first." if mains else "Choose a glTF, USD or OBJ file.")
    return [(name, read_model(data, name, beside)) for name, data in mains]


def sorted_files(files: list[UploadFile]) -> tuple[list[tuple[str, bytes]], dict[str, bytes]]:
    """Return name and bytes of each piece's file, and the files that may belong to them by plain name.

    Raises `InputError` for a file beyond the limit.
    """
    mains, beside = [], {}
    for file in files:
        name = Path((file.filename or "piece").replace("\\", "/")).name
        if file.size is not None and file.size > MAX_BYTES:
            raise InputError(what=f"the file is {file.size / 2**20:.0f} MB; the limit is {MAX_BYTES // 2**20} MB", where=name,
                             todo="Split the piece or reduce it before bringing it in.")
        if name.lower().endswith(COMPANIONS):
            beside[plain_name(name)] = file.file.read()
        else:
            mains.append((name, file.file.read()))
    return mains, beside
