"""Who stands by: what has set one document by hand stays for some minutes, and sets the next ones at once.

Loading fonts, libraries and compiled loops takes seconds, setting a page a tenth of one. So the process that did it
once goes on in the background (`stay`), listens on a socket in a folder of its user's alone, and forks for every call
that comes after (`ask`). Its name says which code it runs: other code finds nobody there. Where nobody answers, the
caller sets the document itself; a call is never lost to one who stands by.
"""

from __future__ import annotations

import contextlib
import json
import os
import signal
import socket
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import NoReturn

Command = Callable[[list[str]], int]

STAYS = 300.0
"""How long one stands by after the last call, in seconds."""

LOOKS = 0.5
"""How often it looks whether its place is still its own, in seconds."""

LONGEST = 1 << 17
"""What is asked in one message, in bytes: arguments and environment."""


def ask(place: Path, arguments: list[str]) -> int | None:
    """The exit status of a call that one who stands by did; None where nobody did it.

    It runs with this process's folder, environment, creation mask and standard files, so that what is written, shown
    and said is as if it had run here. An interrupt here is one there.
    """
    question = {"arguments": arguments, "folder": os.getcwd(), "environment": dict(os.environ), "mask": _mask()}
    with socket.socket(socket.AF_UNIX, socket.SOCK_SEQPACKET) as line:
        held = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})  # until there is whom to hand it on to
        try:
            line.connect(str(place))
            socket.send_fds(line, [json.dumps(question).encode()], [0, 1, 2])
            doing = json.loads(line.recv(64) or "null")
            while doing is not None:
                try:
                    signal.pthread_sigmask(signal.SIG_SETMASK, held)
                    status: int | None = json.loads(line.recv(64) or "null")
                    return status
                except KeyboardInterrupt:
                    with contextlib.suppress(ProcessLookupError):
                        os.kill(doing, signal.SIGINT)
        except OSError:
            pass
        finally:
            signal.pthread_sigmask(signal.SIG_SETMASK, held)
    return None


def stay(
    place: Path, command: Command, foreign: set[int], stays: float = STAYS, prepare: Callable[[], None] = lambda: None
) -> None:
    """Go on in the background for the next calls, while this process returns to its caller.

    `foreign`: the files that were open when it began; they are its caller's. `prepare` is done there first.
    """
    sys.stdout.flush()
    sys.stderr.flush()
    if os.fork():
        return
    with contextlib.suppress(BaseException):
        os.setsid()
        nothing = os.open(os.devnull, os.O_RDWR)
        for standard in (0, 1, 2):
            os.dup2(nothing, standard)
        for number in foreign - {0, 1, 2}:
            with contextlib.suppress(OSError):
                os.close(number)
        os.chdir("/")
        prepare()
        _serve(place, command, stays)
    os._exit(0)


def _serve(place: Path, command: Command, stays: float) -> None:
    place.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    listening = socket.socket(socket.AF_UNIX, socket.SOCK_SEQPACKET)
    # Under another name first: a place is taken at once, also from one who is gone.
    taking = place.with_name(f"{os.getpid()}")
    listening.bind(str(taking))
    listening.listen(64)
    os.rename(taking, place)
    own = _node(place)
    listening.settimeout(LOOKS)
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    until = time.monotonic() + stays
    while time.monotonic() < until and _node(place) == own:
        try:
            line, _ = listening.accept()
        except TimeoutError:
            continue
        if os.fork() == 0:
            listening.close()
            _answer(line, command)
        line.close()
        until = time.monotonic() + stays
    if _node(place) == own:
        place.unlink(missing_ok=True)


def _answer(line: socket.socket, command: Command) -> NoReturn:
    """Do one call, in a process of its own."""
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    signal.signal(signal.SIGINT, signal.default_int_handler)  # whoever began in a shell's background ignores it
    line.setblocking(True)
    with contextlib.suppress(BaseException):
        message, files, *_ = socket.recv_fds(line, LONGEST, 3)
        asked = json.loads(message)
        for standard, number in enumerate(files):
            os.dup2(number, standard)
            os.close(number)
        os.chdir(asked["folder"])
        os.umask(asked["mask"])
        os.environ.clear()
        os.environ.update(asked["environment"])
        line.send(json.dumps(os.getpid()).encode())
        status = outcome(command, asked["arguments"])
        sys.stdout.flush()
        sys.stderr.flush()
        line.send(json.dumps(status).encode())
    os._exit(0)


def outcome(command: Command, arguments: list[str]) -> int:
    """The exit status of a command, also of one that ends its process."""
    try:
        return command(arguments)
    except SystemExit as end:
        return end.code if isinstance(end.code, int) else int(end.code is not None)
    except KeyboardInterrupt:
        return 128 + signal.SIGINT


def open_files() -> set[int]:
    """The numbers of this process's open files, where the system tells them."""
    return {int(name) for name in os.listdir("/proc/self/fd")} if os.path.isdir("/proc/self/fd") else set()


def _mask() -> int:
    mask = os.umask(0o077)
    os.umask(mask)
    return mask


def _node(place: Path) -> int | None:
    try:
        return os.stat(place).st_ino
    except OSError:
        return None


def main() -> int:
    """`python -m nestline.standby PLACE ARGUMENTS…`: `nestline.set`, by one who stands by where there is one."""
    foreign = open_files()
    place, arguments = Path(sys.argv[1]), sys.argv[2:]
    status = ask(place, arguments)
    if status is not None:
        return status
    from nestline import set as by_hand
    from nestline.warming import warm

    status = outcome(by_hand.main, arguments)
    stay(place, by_hand.main, foreign, prepare=warm)
    return status


if __name__ == "__main__":
    sys.exit(main())
