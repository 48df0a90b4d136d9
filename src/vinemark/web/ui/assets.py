"""Templates, styles and scripts stand in the folder of their page."""

import gzip
import json
from collections.abc import Mapping
from functools import cache
from hashlib import sha256
from pathlib import Path

from flask import Flask, abort, make_response, url_for
from flask.typing import ResponseReturnValue
from jinja2 import BaseLoader, FileSystemLoader, PrefixLoader

from vinemark.web.ui.packing import accepts_gzip

WEB = Path(__file__).parent.parent
SERVED_KINDS = {".css": "text/css", ".js": "text/javascript", ".svg": "image/svg+xml", ".woff2": "font/woff2"}
PACKED_ALREADY = frozenset({".woff2"})

HTMX_CONFIG = {
    "includeIndicatorStyles": False,
    "allowEval": False,
    "selfRequestsOnly": True,
    "historyCacheSize": 0,
    "timeout": 30000,
    "responseHandling": [
        {"code": "204", "swap": False},
        {"code": "[23]..", "swap": True},
        {"code": "409", "swap": True},
        {"code": "422", "swap": True},
        {"code": "[45]..", "swap": False, "error": True},
    ],
}


def template_loader() -> BaseLoader:
    """'plan/page.html' is web/plan/templates/page.html."""
    folders = sorted(folder.parent for folder in WEB.glob("*/templates"))
    return PrefixLoader({folder.name: FileSystemLoader(folder / "templates") for folder in folders})


def add_assets(app: Flask) -> None:
    """Serve the styles, scripts, fonts and pictures of the pages, and nothing else that stands beside them."""
    app.jinja_loader = template_loader()
    app.add_url_rule("/pages/<digest>/<path:name>", "asset", _asset)
    app.add_template_global(asset)
    app.add_template_global(version)
    app.add_template_global(page_style)
    app.jinja_env.globals["htmx_config"] = json.dumps(HTMX_CONFIG)


@cache
def _files() -> Mapping[str, Path]:
    """What is served, by its path under `web`."""
    found = {path.relative_to(WEB).as_posix(): path for path in WEB.rglob("*") if path.suffix in SERVED_KINDS}
    return {name: path for name, path in sorted(found.items()) if "/templates/" not in name}


@cache
def _digest() -> str:
    """Of everything that is served: it stands in every address, and a browser keeps what it has until it changes."""
    digest = sha256()
    for name, path in _files().items():
        digest.update(f"{name} {path.stat().st_size} ".encode() + path.read_bytes())
    return digest.hexdigest()[:16]


@cache
def version() -> str:
    """Of the pages: their templates, and all that they are served with. Another one after an upgrade."""
    digest = sha256(_digest().encode())
    for path in sorted(WEB.rglob("templates/**/*.html")):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


@cache
def _content(name: str, packed: bool) -> bytes:
    content = _files()[name].read_bytes()
    return gzip.compress(content, mtime=0) if packed else content


def _asset(digest: str, name: str) -> ResponseReturnValue:
    if name not in _files():
        abort(404)
    suffix = Path(name).suffix
    packed = suffix not in PACKED_ALREADY and accepts_gzip()
    response = make_response(_content(name, packed))
    response.mimetype = SERVED_KINDS[suffix]
    response.vary.add("Accept-Encoding")
    if packed:
        response.headers["Content-Encoding"] = "gzip"
    # An address of an earlier version, of a page that is still open, is answered and not kept.
    kept = "public, max-age=31536000, immutable" if digest == _digest() else "no-cache"
    response.headers["Cache-Control"] = kept
    return response


def page_style(folder: str) -> str:
    """The address of a page's own style: of 'scores/files' that of 'scores'; empty where it has none."""
    name = f"{folder.partition('/')[0]}/page.css"
    return asset(name) if name in _files() else ""


def asset(name: str) -> str:
    """The address of a style, script, font or picture: 'plan/page.js', 'static/mark.svg'. Raises KeyError."""
    _files()[name]
    return url_for("asset", digest=_digest(), name=name)
