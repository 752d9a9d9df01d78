"""Write the server's OpenAPI schema, from which the web's client types are generated (`npm run client`)."""

import json
import os
from pathlib import Path

os.environ.setdefault("WILY_HERON_DATABASE", "postgresql://nobody@127.0.0.1:1/none")

from wily_heron.api.app import make_app


def schema_text() -> str:
    """Return the schema as indented JSON."""
    return json.dumps(make_app().openapi(), indent=1) + "\n"


if __name__ == "__main__":
    Path(".cache/openapi.json").write_text(schema_text())
