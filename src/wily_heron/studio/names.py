"""Names that artists give."""

from ..core.errors import InputError


def given_name(name: str, where: str) -> str:
    """Return a name without needless spaces. Raises `InputError` where nothing is left of it; `where` says of what."""
    told = " ".join(name.split())
    if not told:
        raise InputError(what="it has no name", where=where, todo="Type a name.")
    return told
