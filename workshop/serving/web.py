"""The web server as one of the processes: four threads in one process, which the server itself starts again."""

from pathlib import Path
from typing import Any

from gunicorn.app.base import BaseApplication


class WebServer(BaseApplication):
    """Serves the workshop on loopback; what it keeps for itself lies in `folder`."""

    def __init__(self, port: int, folder: Path) -> None:
        self.settings = {
            "bind": f"127.0.0.1:{port}", "workers": 1, "threads": 4, "worker_class": "gthread", "preload_app": True,
            "timeout": 120, "graceful_timeout": 3, "accesslog": None, "errorlog": "-", "proc_name": "fine-mosaic",
            "control_socket": str(folder / "web.ctl"),
        }  # fmt: skip
        super().__init__()

    def load_config(self) -> None:
        for name, value in self.settings.items():
            self.cfg.set(name, value)

    def load(self) -> Any:
        from workshop.wsgi import application

        return application
