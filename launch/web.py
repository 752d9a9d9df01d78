"""The web part: packages from the lock, built into web/dist."""

import hashlib
import shutil

from .place import CACHE, ROOT, LaunchError, run

WEB = ROOT / "web"


def ensure_packages() -> str:
    """Install the web packages from package-lock.json if it has changed; return a note."""
    if not shutil.which("npm"):
        raise LaunchError("Node 20 with npm is needed to build the web part; install it and start again")
    stamp, wanted = CACHE / "npm.stamp", hashlib.sha256((WEB / "package-lock.json").read_bytes()).hexdigest()
    if stamp.exists() and stamp.read_text() == wanted and (WEB / "node_modules").is_dir():
        return "up to date"
    # not `npm ci`: it demands lock entries for the optional packages of every other platform; this takes the locked versions too
    run(["npm", "install", "--no-save", "--no-audit", "--no-fund", "--loglevel=error"], "web packages", cwd=WEB)
    CACHE.mkdir(exist_ok=True)
    stamp.write_text(wanted)
    return "installed"


def ensure_built() -> str:
    """Build the web part if its sources have changed; return a note."""
    digest = hashlib.sha256()
    for path in sorted([*(WEB / "src").rglob("*"), WEB / "index.html", WEB / "vite.config.ts", WEB / "package-lock.json"]):
        if path.is_file():
            digest.update(str(path.relative_to(WEB)).encode() + path.read_bytes())
    stamp = CACHE / "web.stamp"
    if stamp.exists() and stamp.read_text() == digest.hexdigest() and (WEB / "dist" / "index.html").exists():
        return "up to date"
    run(["npm", "run", "--silent", "build"], "building the web part", cwd=WEB)
    stamp.write_text(digest.hexdigest())
    return "built"
