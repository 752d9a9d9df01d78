"""Print what the API offers, as OpenAPI: the browser's client is generated from it (npm run client)."""

import json
import os


def main() -> None:
    """Print the description; no database is asked."""
    os.environ.setdefault("WILY_HERON_DATABASE", "none")
    from .app import app

    print(json.dumps(app.openapi()))


if __name__ == "__main__":
    main()
