"""How gunicorn runs the application: workers that each answer at an address of their own.

The front (server/config/front.conf, nginx) brings all requests of a document to the same worker, which has it warm. The
master opens all addresses and keeps them open: while a worker is made anew, what is asked of it waits there.
"""

from __future__ import annotations

import os
from typing import Any

workers = int(os.environ.get("NEST_WORKERS", "0")) or min(max(2, os.cpu_count() or 2), 8)
"""Each may have as many connections to the database as it has threads."""
bind = [f"unix:{os.environ['NEST_HOME']}/front/worker-{number}.sock" for number in range(workers)]
worker_class = "gthread"
threads = 8
preload_app = True
keepalive = 75
timeout = 45
"""Seconds without a sign of life after which a worker is ended: one that holds the interpreter for so long."""
graceful_timeout = 20
umask = 0o077
control_socket_disable = True
"""It would be one for all checkouts of an account."""
capture_output = True


def pre_fork(master: Any, worker: Any) -> None:
    """The new worker takes the first address that no other has."""
    taken = {other.address for other in master.WORKERS.values() if hasattr(other, "address")}
    worker.address = min(set(range(workers)) - taken, default=0)
    worker.sockets = [master.LISTENERS[worker.address]]


def child_exit(server: Any, worker: Any) -> None:
    """What a worker counted stays counted; what it stood at goes with it."""
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        from prometheus_client import multiprocess

        multiprocess.mark_process_dead(worker.pid)  # type: ignore[no-untyped-call]


def post_worker_init(worker: Any) -> None:
    from documents.watch import Watch

    Watch().start()
