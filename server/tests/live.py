"""The live process in a thread of the tests, and the worker of jobs in a process of its own."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from pathlib import Path

import uvicorn
from django.conf import settings
from django.db import connection


def free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        port: int = found.getsockname()[1]
        return port


class Live:
    """Runs config.live on a port of its own on loopback, against the test's database."""

    def __init__(self) -> None:
        from config import live

        self.port = free_port()
        config = uvicorn.Config(
            live.application, host="127.0.0.1", port=self.port, log_level="warning", timeout_graceful_shutdown=1
        )
        self._server = uvicorn.Server(config)
        self._thread = threading.Thread(target=self._server.run, daemon=True)

    def __enter__(self) -> Live:
        self._thread.start()
        end = time.monotonic() + 20
        while not self._hears():
            if time.monotonic() > end:
                raise TimeoutError("the live process does not hear from the database")
            time.sleep(0.02)
        return self

    def _hears(self) -> bool:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/live/healthz", timeout=5):
                return True
        except OSError:
            return False

    def __exit__(self, *_: object) -> None:
        self._server.should_exit = True
        self._thread.join(10)


class Worker:
    """Runs `manage.py work` on the test's database and files; `kill` ends it and all its processes at once."""

    def __enter__(self) -> Worker:
        environment = {
            **os.environ,
            "NEST_DB_NAME": str(connection.settings_dict["NAME"]),
            "NEST_MEDIA": str(settings.MEDIA_ROOT),
            "NEST_STALLED": "3",
        }
        command = [sys.executable, "manage.py", "work"]
        folder = Path(settings.ROOT) / "server"
        self._process = subprocess.Popen(command, env=environment, cwd=folder, start_new_session=True)
        return self

    def kill(self) -> None:
        os.killpg(self._process.pid, signal.SIGKILL)
        self._process.wait()

    def __exit__(self, *_: object) -> None:
        if self._process.poll() is None:
            self.kill()
