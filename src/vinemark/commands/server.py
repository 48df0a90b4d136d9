"""What serves a Flask application on a port."""

from collections.abc import Callable
from typing import Any

from flask import Flask
from gunicorn.app.base import BaseApplication


def run_server(app: Flask, host: str, port: int, on_start: Callable[[], None] = lambda: None) -> None:
    """Gunicorn with one process and threads: SQLite's writers wait for one another anyway.

    `on_start` runs in the process that serves.
    """

    class Server(BaseApplication):  # type: ignore[misc]
        def load_config(self) -> None:
            options: dict[str, Any] = {
                "bind": f"{host}:{port}",
                "worker_class": "gthread",
                "workers": 1,
                "threads": 8,
                "loglevel": "warning",
                "control_socket_disable": True,
            }
            for key, value in options.items():
                if key in self.cfg.settings:
                    self.cfg.set(key, value)

        def load(self) -> Flask:
            on_start()
            return app

    Server().run()
