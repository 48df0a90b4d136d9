"""Templates, styles and scripts stand in the folder of their page."""

import json
from pathlib import Path

from flask import Flask, abort, send_from_directory, url_for
from flask.typing import ResponseReturnValue
from jinja2 import BaseLoader, FileSystemLoader, PrefixLoader

WEB = Path(__file__).parent.parent
SERVED_ENDINGS = frozenset({".css", ".js"})


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
    """Serve the styles and scripts of the pages, and nothing else that stands beside them."""
    app.jinja_loader = template_loader()
    app.add_url_rule("/pages/<path:name>", "asset", _asset)
    app.add_template_global(asset)
    app.add_template_global(page_style)
    app.jinja_env.globals["htmx_config"] = json.dumps(HTMX_CONFIG)


def _asset(name: str) -> ResponseReturnValue:
    if Path(name).suffix not in SERVED_ENDINGS:
        abort(404)
    return send_from_directory(WEB, name)


def page_style(folder: str) -> str:
    """The address of a page's own style: of 'scores/files' that of 'scores'; empty where it has none."""
    name = f"{folder.partition('/')[0]}/page.css"
    return asset(name) if (WEB / name).is_file() else ""


def asset(name: str) -> str:
    """The address of a style or script: 'plan/page.js'."""
    return url_for("asset", name=name)
