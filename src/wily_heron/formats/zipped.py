"""A zip with a piece in it: read in memory, never unpacked to disk."""

import io
import zipfile

from ..core.errors import InputError
from .beside import plain_name

MAX_UNPACKED = 512 * 2**20
MAX_ENTRIES = 500
_RATIO = 400


def read_zip(data: bytes, name: str, endings: tuple[str, ...], companions: tuple[str, ...]) -> tuple[str, bytes, dict[str, bytes]]:
    """Return the name and bytes of the piece in a zip (the largest file with one of `endings`), and what came with it by plain name:
    the other files with one of `endings` or `companions`.

    Raises `InputError` for a damaged zip, one that swells beyond 512 MB, or one without a piece.
    """
    def wrong(what: str) -> InputError:
        return InputError(what=what, where=name, todo="Zip the piece's file with its .mtl and textures, nothing else.")

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = [e for e in archive.infolist() if not e.is_dir()]
            if len(entries) > MAX_ENTRIES:
                raise wrong(f"it holds {len(entries)} files; the limit is {MAX_ENTRIES}")
            pieces = [e for e in entries if e.filename.lower().endswith(endings)]
            if not pieces:
                raise wrong(f"none of its {len(entries)} files is a piece")
            main = max(pieces, key=lambda e: e.file_size)
            wanted = [main, *(e for e in entries if e is not main and e.filename.lower().endswith(endings + companions))]
            if sum(e.file_size for e in wanted) > MAX_UNPACKED or any(e.file_size > _RATIO * (e.compress_size + 1000) for e in wanted):
                raise wrong(f"it swells to {sum(e.file_size for e in wanted) / 2**20:.0f} MB when unpacked")
            if any(e.flag_bits & 1 for e in wanted):
                raise wrong("it is locked with a password")
            read = {}
            for entry in wanted:
                with archive.open(entry) as file:
                    read[entry.filename] = file.read(entry.file_size + 1)
    except (zipfile.BadZipFile, zipfile.LargeZipFile, NotImplementedError, EOFError, OSError, ValueError, RuntimeError) as error:
        raise wrong(f"it cannot be unpacked ({error})") from None
    beside = {plain_name(path): content for path, content in read.items() if path != main.filename}
    return main.filename.replace("\\", "/").rsplit("/", 1)[-1], read[main.filename], beside
