"""Taking a piece into stock: received once to look at it, kept as it came; its pictures are drawn afterwards."""

from ..core.look.portrait import piece_strip
from ..core.piece.model import Model
from ..core.piece.receive import receive
from ..core.piece.recipe import Receive
from ..formats.png import write_png
from ..store import stock
from ..store.db import Connection, get_blob, put_blob, run, tell, transaction
from ..store.models import get_model, put_model
from .queue import app

STATURE = 1.70
SIZE = (150, 150)


def take_in(connection: Connection, model: Model, file_name: str, author: str, card: stock.Card | None = None) -> tuple[int, dict]:
    """Put a piece in stock under `card` (or what its file name and shape say); return the item and what receiving found."""
    found = receive(model, Receive(), STATURE).found
    name = file_name.rsplit(".", 1)[0].replace("-", " ").replace("_", " ").strip().capitalize() or "Piece"
    sha = put_model(connection, model)
    size = len(get_blob(connection, sha)) + sum(len(t.data) for t in model.textures)
    mends = sum(1 for f in found["findings"] if f["mend"])
    kept = stock.Kept(file_name, sha, found["vertices"], size, mends)
    return stock.add(connection, card or stock.Card(name, found["category"]), kept, author), found


@app.task(name="draw_strip")
def draw_strip(item: int) -> None:
    """Draw the views of a piece in stock."""
    with transaction() as connection:
        model = get_model(connection, stock.item(connection, item)["source_sha"])
    picture = write_png(piece_strip(receive(model, Receive(), STATURE).mesh, SIZE))
    with transaction() as connection:
        run(connection, "strip_of", item=item, strip=put_blob(connection, picture, "png"))
        tell(connection, "stock")
