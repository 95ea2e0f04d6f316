"""An upgrade without a pause: two hosts of an earlier version are replaced, one after the other, while windows edit.

    NEST_HOME=/var/lib/nest-line/… PYTHONPATH=core:server:. .venv/bin/python -m benchmarks.upgrade COMMIT [--seconds 60]

Both versions run against one database of their own beside the application's, which `./nest start` or `./nest account
list` has started. The hosts are begun by this version's `./nest run app`, which a commit may not have yet. Each window
changes a document of its own without a pause and asks again where it is told to; in the end each change that was
acknowledged must be there once.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
HOME = Path(os.environ["NEST_HOME"])
sys.path[:0] = [str(ROOT / "server"), str(ROOT / "core"), str(ROOT)]
for line in (HOME / "env").read_text().split():
    key, _, value = line.partition("=")
    os.environ.setdefault(key, value)
DATABASE = "upgrade"
os.environ |= {"DJANGO_SETTINGS_MODULE": "config.settings", "NEST_DB_NAME": DATABASE}
WINDOWS = 4


def tree_with_all(commit: str) -> Path:
    """The tree of a commit with what a host needs: packages, the client, the loops compiled."""
    from benchmarks.trees import tree_of

    tree = tree_of(commit)
    if not (tree / ".venv").exists():
        (tree / ".venv").symlink_to(ROOT / ".venv")
        shutil.copytree(ROOT / "web" / "dist", tree / "web" / "dist")
    shutil.copy(ROOT / "nest", tree / "nest")
    shutil.copy(ROOT / "server" / "config" / "front.conf", tree / "server" / "config" / "front.conf")
    subprocess.run(
        [sys.executable, "-m", "nestline.warming"], env={**os.environ, "PYTHONPATH": str(tree / "core")}, check=True
    )
    return tree


def database(*statements: str) -> None:
    import psycopg

    where = (
        f"host=127.0.0.1 port={os.environ['NEST_DB_PORT']} user=nestline password={os.environ['NEST_DB_PASSWORD']} "
        f"dbname=postgres"
    )
    with psycopg.connect(where, autocommit=True) as connection:
        for statement in statements:
            connection.execute(statement)


def manage(tree: Path, *given: str) -> None:
    subprocess.run([sys.executable, "manage.py", *given], cwd=tree / "server", check=True, stdout=subprocess.DEVNULL)


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("commit")
    parser.add_argument("--seconds", type=float, default=10, help="between two steps")
    given = parser.parse_args()
    tree = tree_with_all(given.commit)
    database(f"drop database if exists {DATABASE} with (force)", f"create database {DATABASE}")
    try:
        manage(tree, "migrate", "--no-input")
        upgrade(tree, given.seconds)
    finally:
        database(f"drop database if exists {DATABASE} with (force)")


def upgrade(tree: Path, pause: float) -> None:
    make = "from django.contrib.auth.models import User; User.objects.create_user('ada', password='kites-up-high')"
    manage(tree, "shell", "-c", make)
    import django

    django.setup()
    from tests import hosts
    from tests.test_hosts import Window

    hosts.SECONDS = 300
    ended = threading.Event()
    waits: list[float] = []
    faults: list[BaseException] = []
    with (
        tempfile.TemporaryDirectory() as folder,
        hosts.Deployment(Path(folder), tree, plain=True) as deployment,
    ):
        windows = [Window(deployment) for _ in range(WINDOWS)]
        made = [0] * WINDOWS
        rows = []
        for window in windows:
            window.sign_in("ada", "kites-up-high")
            given = {"title": "Sheet", "width": "300pt", "height": "300pt", "bleed": "0", "unit": "pt"}
            answer = window.ask("POST", "/api/documents", given).json()
            rows.append((answer["id"], window.ask("GET", f"/api/documents/{answer['id']}").json()["revision"]))

        def edits(number: int) -> None:
            id, base = rows[number]
            try:
                while not ended.is_set():
                    began = time.monotonic()
                    change = {"do": "put", "at": ["title"], "value": f"Sheet {made[number]}"}
                    base = windows[number].edit(id, base, change)["revision"]
                    waits.append(time.monotonic() - began)
                    made[number] += 1
            except BaseException as error:
                faults.append(error)

        threads = [threading.Thread(target=edits, args=(number,)) for number in range(WINDOWS)]
        for thread in threads:
            thread.start()
        time.sleep(pause)
        steps = [("before", sum(made))]
        manage(ROOT, "migrate", "--no-input")
        time.sleep(pause)
        steps.append(("tables brought to this version", sum(made)))
        deployment.tree = ROOT
        for name in ("app-1", "app-2"):
            deployment.parts[name].end()
            deployment.begin(name)
            deployment.until(name)
            time.sleep(pause)
            steps.append((f"{name} is this version", sum(made)))
        ended.set()
        for thread in threads:
            thread.join()
        if faults:
            raise faults[0]
        lost = 0
        for (id, first), count, window in zip(rows, made, windows, strict=True):
            found = window.ask("GET", f"/api/documents/{id}").json()
            lost += abs(found["revision"] - first - count)
        print("changes acknowledged until:", "; ".join(f"{what} {count}" for what, count in steps))
        print(
            f"{sum(made)} changes, {lost} lost or made twice, {sum(w.away for w in windows)} asked again, "
            f"the longest took {max(waits):.1f} s, {sum(w > 1 for w in waits)} more than one second"
        )


if __name__ == "__main__":
    main()
