"""Errors to HTTP problem details (RFC 9457), in this one place."""

import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse

from ..core.errors import ComputeError, Conflict, InputError, NotFound, StorageError
from ..formats.obj.obj import MAX_BYTES

log = structlog.get_logger()
_TOLD = {NotFound: (404, "This is not there"), Conflict: (409, "This has been changed elsewhere")}


def _problem(status: int, title: str, what: str, where: str, todo: str) -> JSONResponse:
    return JSONResponse({"type": "about:blank", "status": status, "title": title, "detail": f"{where}: {what}. {todo}",
                         "what": what, "where": where, "todo": todo}, status, media_type="application/problem+json")


def too_large(size: int) -> JSONResponse:
    """Return the answer to a body that declares too many bytes."""
    return _problem(413, "This is too large", f"the upload is {size / 2**20:.0f} MB; the limit is {MAX_BYTES // 2**20} MB", "the upload",
                    "Split the piece or reduce it before bringing it in.")


def add_problem_handlers(app: FastAPI) -> None:
    """Teach `app` to answer the house's errors as problem details."""

    @app.exception_handler(InputError)
    def on_input(_: Request, error: InputError) -> JSONResponse:
        status, title = next((answer for kind, answer in _TOLD.items() if isinstance(error, kind)), (422, "This cannot be used as it is"))
        return _problem(status, title, error.what, error.where, error.todo)

    @app.exception_handler(RequestValidationError)
    def on_validation(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        where = ".".join(str(x) for x in first["loc"][1:]) or "the request"
        return _problem(422, "This cannot be used as it is", str(first["msg"]).lower(), where, "Correct this value and send it again.")

    @app.exception_handler(ComputeError)
    def on_compute(_: Request, error: ComputeError) -> JSONResponse:
        return _problem(500, "The computation failed", str(error), "the computation", "Undo the last change, or try other settings.")

    @app.exception_handler(StorageError)
    def on_storage(_: Request, error: StorageError) -> JSONResponse:
        log.error("storage", error=str(error))
        return _problem(503, "The store did not answer", str(error), "the database", "Start the application again; nothing saved is lost.")
