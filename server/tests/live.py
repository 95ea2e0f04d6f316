"""The live process in a thread of the tests."""

from __future__ import annotations

import socket
import threading
import time

import uvicorn


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
        while not self._server.started:
            time.sleep(0.02)
        return self

    def __exit__(self, *_: object) -> None:
        self._server.should_exit = True
        self._thread.join(10)
