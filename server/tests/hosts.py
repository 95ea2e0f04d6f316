"""A deployment on ports of loopback, by the files in deploy/: two hosts, two workers of jobs, a pooler, a store, a
balancer."""

from __future__ import annotations

import contextlib
import getpass
import ipaddress
import os
import re
import shutil
import signal
import subprocess
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import boto3
import requests
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID
from django.conf import settings
from django.db import connection
from moto.server import ThreadedMotoServer

from tests.live import free_port

DEPLOY = Path(settings.ROOT) / "deploy"
SECRET = "a secret of the tests, of fifty letters or more, for all hosts"
STALLED = 3
SECONDS = 120.0
"""What a part may take until it is there: its loops are loaded first."""


def certificate(folder: Path) -> tuple[Path, Path]:
    """A certificate for this machine, signed by itself, and its key."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "127.0.0.1")])
    now = datetime.now(UTC)
    here = x509.SubjectAlternativeName([x509.IPAddress(ipaddress.ip_address("127.0.0.1"))])
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + timedelta(days=2))
        .add_extension(here, critical=False)
        .sign(key, hashes.SHA256())
    )
    shown, hidden = folder / "certificate.pem", folder / "certificate.key"
    shown.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    hidden.write_bytes(
        key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
    )
    return shown, hidden


class Part:
    """A part of the deployment: a group of processes with a log, which can be killed at once."""

    def __init__(self, command: list[str], environment: dict[str, str], log: Path) -> None:
        self.log = log
        with log.open("ab") as out:
            self._process = subprocess.Popen(
                command, env={**os.environ, **environment}, stdout=out, stderr=out, start_new_session=True
            )

    def kill(self) -> None:
        """End all of its processes at once, with SIGKILL."""
        with contextlib.suppress(ProcessLookupError):
            os.killpg(self._process.pid, signal.SIGKILL)
        self._process.wait()

    def end(self) -> int:
        """Ask it to end, as what looks after services does, and wait for it."""
        if self._process.poll() is None:
            self._process.terminate()
        try:
            return self._process.wait(40)
        finally:
            self.kill()

    @property
    def processes(self) -> int:
        found = subprocess.run(["pgrep", "-g", str(self._process.pid)], capture_output=True, text=True, check=False)
        return len(found.stdout.split())

    def until(self, there: Any) -> None:
        end = time.monotonic() + SECONDS
        while not there():
            if self._process.poll() is not None or time.monotonic() > end:
                raise AssertionError(f"{self.log.name}: {self.log.read_text(errors='replace')[-2000:]}")
            time.sleep(0.1)


class Deployment:
    """`address` is where the balancer is, `trusted` the certificate to be trusted. `tree` is the checkout that a part
    is begun from next; `plain` is without pooler and store, which earlier versions do not know: files are in a folder
    that all share."""

    def __init__(self, folder: Path, tree: Path = Path(settings.ROOT), plain: bool = False) -> None:
        self.folder, self.tree, self.plain = folder, tree, plain
        self.parts: dict[str, Part] = {}
        self.ports = {name: free_port() for name in ("plain", "tls", "pooler", "app-1", "app-2")}
        self.address = f"https://127.0.0.1:{self.ports['tls']}"
        self.trusted, self._key = certificate(folder)
        self._store = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)

    def __enter__(self) -> Deployment:
        try:
            if not self.plain:
                self._begin_store()
                self._begin_pooler()
            for name in ("app-1", "app-2", "jobs-1", "jobs-2"):
                self.begin(name)
            self._begin_balancer()
            for name in ("app-1", "app-2"):
                self.until(name)
            self.parts["balancer"].until(lambda: self._gives(f"{self.address}/readyz"))
        except BaseException:
            self.__exit__()
            raise
        return self

    def __exit__(self, *_: object) -> None:
        for part in self.parts.values():
            part.kill()
        if not self.plain:
            self._store.stop()

    def until(self, name: str) -> None:
        """Wait until a host answers."""
        self.parts[name].until(lambda: self.answers(name))

    def answers(self, name: str) -> bool:
        return self._gives(f"{self.host(name)}/readyz", **{"X-Forwarded-Proto": "https"})

    def host(self, name: str) -> str:
        """A host's own address, behind the balancer."""
        return f"http://127.0.0.1:{self.ports[name]}"

    def _gives(self, url: str, **headers: str) -> bool:
        try:
            return requests.get(url, headers=headers, verify=str(self.trusted), timeout=5).status_code == 200
        except requests.RequestException:
            return False

    def _begin_store(self) -> None:
        self._store.start()
        host, port = self._store.get_host_and_port()
        self.store = f"http://{host}:{port}"
        self.client().create_bucket(Bucket="nest-line")

    def client(self) -> Any:
        """A client of the store, by which its files can be looked at."""
        return boto3.client(
            "s3",
            endpoint_url=self.store,
            region_name="us-east-1",
            aws_access_key_id="tests",
            aws_secret_access_key="tests",
        )

    def environment(self, name: str) -> dict[str, str]:
        wanted = connection.settings_dict
        found = {
            "NEST_HOME": str(self.folder / name),
            "NEST_SECRET": SECRET,
            "NEST_HOSTS": "127.0.0.1",
            "NEST_TLS": "1",
            "NEST_PROXIES": "2",
            "NEST_DB_HOST": wanted["HOST"],
            "NEST_DB_PORT": str(wanted["PORT"]),
            "NEST_DB_NAME": str(wanted["NAME"]),
            "NEST_DB_USER": wanted["USER"],
            "NEST_DB_PASSWORD": wanted["PASSWORD"],
            "NEST_PORT": str(self.ports.get(name, 0)),
            "NEST_WORKERS": "1",
            "NEST_STALLED": str(STALLED),
            "NEST_LIVE_PORT": "",
            "NEST_MEDIA": str(self.folder / ("media" if self.plain else f"{name}/media")),
        }
        if not self.plain:
            found |= {
                "NEST_POOLER_HOST": "127.0.0.1",
                "NEST_POOLER_PORT": str(self.ports["pooler"]),
                "NEST_STORE": "nest-line",
                "NEST_STORE_ADDRESS": self.store,
                "AWS_ACCESS_KEY_ID": "tests",
                "AWS_SECRET_ACCESS_KEY": "tests",
                "AWS_DEFAULT_REGION": "us-east-1",
            }
        return found

    def begin(self, name: str) -> None:
        """Begin a host ("app-1") or a worker of jobs ("jobs-1"), as its service does."""
        command = [str(self.tree / "nest"), "run", name.partition("-")[0]]
        self.parts[name] = Part(command, self.environment(name), self.folder / f"{name}.log")

    def _begin_pooler(self) -> None:
        wanted = connection.settings_dict
        folder = self.folder / "pooler"
        folder.mkdir()
        text = (DEPLOY / "pooler.ini").read_text()
        text = re.sub(
            r"^nestline = host=\S+ port=\S+ dbname=\S+",
            f"{wanted['NAME']} = host={wanted['HOST']} port={wanted['PORT']} dbname={wanted['NAME']}",
            text,
            flags=re.M,
        )
        text = text.replace("listen_port = 6432", f"listen_port = {self.ports['pooler']}")
        text = text.replace("/etc/nest-line/pooler.users", str(folder / "users"))
        (folder / "pooler.ini").write_text(text)
        (folder / "users").write_text(f'"{wanted["USER"]}" "{wanted["PASSWORD"]}"\n')
        command = [shutil.which("pgbouncer") or "/usr/sbin/pgbouncer", str(folder / "pooler.ini")]
        if getpass.getuser() == "root":  # it will not run as root
            self.folder.chmod(0o755)
            for path in (folder, *folder.iterdir()):
                shutil.chown(path, "postgres")
            command[1:1] = ["-u", "postgres"]
        self.parts["pooler"] = Part(command, {}, self.folder / "pooler.log")

    def _begin_balancer(self) -> None:
        text = (DEPLOY / "balancer.conf").read_text()
        folder = self.folder / "balancer"
        folder.mkdir()
        unused = ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
        places = "\n".join(f"  {kind}_temp_path {folder}/{kind};" for kind in unused)
        for old, new in {
            "http {": f"http {{\n{places}",
            "worker_processes auto": "worker_processes 1",
            "/var/log/nginx/nest-line.log": str(self.folder / "balancer.errors"),
            "/run/nest-line-balancer.pid": str(folder / "pid"),
            "10.0.0.11:8017": f"127.0.0.1:{self.ports['app-1']}",
            "10.0.0.12:8017": f"127.0.0.1:{self.ports['app-2']}",
            "listen 80;": f"listen 127.0.0.1:{self.ports['plain']};",
            "listen 443 ssl": f"listen 127.0.0.1:{self.ports['tls']} ssl",
            "/etc/nest-line/certificate.pem": str(self.trusted),
            "/etc/nest-line/certificate.key": str(self._key),
            "worker_connections 16384": "worker_connections 1024",
        }.items():
            assert old in text, old
            text = text.replace(old, new)
        if getpass.getuser() == "root":
            text = f"user root;\n{text}"
        (folder / "nginx.conf").write_text(text)
        program = shutil.which("nginx") or "/usr/sbin/nginx"
        command = [program, "-e", "stderr", "-c", str(folder / "nginx.conf"), "-g", "daemon off;"]
        self.parts["balancer"] = Part(command, {}, self.folder / "balancer.log")
