"""Panels as a drawing at true size, by the ending of its name.

The drawing libraries take longer to load than the rest of the server together: only who reads or writes a drawing waits for them.
"""

from ...core.errors import InputError
from ...core.table.layout import Layout


def read_drawing(data: bytes, name: str) -> Layout:
    """Return the panels of a drawing. Raises `InputError` for another ending, and for what a drawing cannot be."""
    match name.lower().rsplit(".", 1)[-1]:
        case "svg":
            from .svg import read_svg

            return read_svg(data, name)
        case "dxf":
            from .dxf import read_dxf

            return read_dxf(data, name)
        case other:
            raise InputError(what=f"'.{other}' holds no panels", where=name, todo="Bring panels as .svg or .dxf.")


def write_drawing(layout: Layout, ending: str) -> bytes:
    """Return a layout as a drawing: `svg` or `dxf`."""
    if ending == "svg":
        from .svg import write_svg

        return write_svg(layout)
    from .dxf import write_dxf

    return write_dxf(layout)
