"""What browsers rely on: the committed client is the server's."""

import subprocess
import sys
from pathlib import Path

WEB = Path(__file__).parents[2] / "web"


def test_the_committed_client_is_generated_from_the_server_as_it_is(tmp_path: Path):
    description, made = tmp_path / "openapi.json", tmp_path / "schema.d.ts"
    told = subprocess.run([sys.executable, "-m", "wily_heron.api.describe"], check=True, capture_output=True, text=True)
    description.write_text(told.stdout)
    generator = WEB / "node_modules" / ".bin" / "openapi-typescript"
    subprocess.run([generator, description, "-o", made], check=True, capture_output=True)
    committed = (WEB / "src" / "api" / "schema.d.ts").read_text()
    assert made.read_text() == committed, "the API has changed: npm run client, in web"


def test_the_committed_catalogue_of_steps_is_the_servers_list():
    told = subprocess.run([sys.executable, "-m", "wily_heron.api.describe", "--steps"], check=True, capture_output=True, text=True)
    assert told.stdout == (WEB / "src" / "recipe" / "steps.ts").read_text(), "the steps have changed: npm run client, in web"
