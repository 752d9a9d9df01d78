"""The pages of the browser's part: files, and the one page that opens at every address of a room."""

from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.responses import Response
from starlette.types import Scope

_ROOMS = ("productions", "fitting", "table", "stock", "packing")


class Pages(StaticFiles):
    """Files of a folder; an address of a room, which a pasted link or a reload asks for, opens the page itself."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        """Return a file, or the page. Raises `HTTPException` 404 for any other path."""
        try:
            return await super().get_response(path, scope)
        except HTTPException as failed:
            if failed.status_code != 404 or path.replace("\\", "/").split("/")[0] not in _ROOMS:
                raise
            return await super().get_response("index.html", scope)
