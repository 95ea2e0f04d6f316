"""The files in deploy/ that nothing here can run are read: what they name is there, and is asked for."""

from __future__ import annotations

import re
import shutil
import subprocess
import tempfile
from pathlib import Path
from unittest import skipUnless

import yaml
from django.conf import settings
from django.test import SimpleTestCase

ROOT = Path(settings.ROOT)
DEPLOY = ROOT / "deploy"
OWN = {
    "NEST_AFTER",
    "NEST_CASES",
    "NEST_CLAIMS",
    "NEST_DB_POOLED",
    "NEST_DEMO_PICTURES",
    "NEST_KEPT",
    "NEST_LIVE_PORT",
    "NEST_MEDIA",
    "NEST_SEED",
    "NEST_STALLED",
    "NEST_WARM",
    "NEST_WORKERS",
}
"""What `./nest` and the tests set by themselves, or may be left away."""
NAME = re.compile(r"\b(?:NEST|AWS)_[A-Z_]+")


class Files(SimpleTestCase):
    def asked_for(self) -> set[str]:
        texts = [
            (ROOT / "nest").read_text(),
            *(p.read_text() for p in (ROOT / "server").rglob("*.py") if not {"tests", "e2e"} & set(p.parts)),
        ]
        return {name for text in texts for name in NAME.findall(text)}

    def told(self) -> dict[str, str]:
        rows = [
            row.split("=", 1) for row in (DEPLOY / "nest-line.env").read_text().splitlines() if re.match(r"[A-Z]", row)
        ]
        return dict(rows)

    def test_each_variable_is_asked_for_and_none_is_missing(self) -> None:
        told, asked = set(self.told()), self.asked_for()
        self.assertEqual(told - asked - {"AWS_DEFAULT_REGION"}, set())  # the store's library asks for it
        self.assertEqual({name for name in asked if name.startswith("NEST_")} - told - OWN - {"NEST_HOME"}, set())

    def test_containers_are_whole(self) -> None:
        found = yaml.safe_load((DEPLOY / "compose.yaml").read_text())
        services = found["services"]
        for name, service in services.items():
            self.assertTrue({"image", "build"} & set(service), name)
            for other in service.get("depends_on", ()):
                self.assertIn(other, services)
            for volume in service.get("volumes", ()):
                source = volume.split(":")[0]
                self.assertTrue(source.startswith("./") or source in found["volumes"], volume)
            for secret in service.get("secrets", ()):
                self.assertIn(secret, found["secrets"])
            if command := service.get("command"):
                self.assertIn(command[0], ("./nest", "postgres"))
        commands = [s["command"] for s in services.values() if s.get("command", [""])[0] == "./nest"]
        for command in [*commands, ["./nest", "prepare"], ["./nest", "run", "app"]]:
            self.assertRegex((ROOT / "nest").read_text(), rf"(?m)^  {command[1]}\) ")
        self.assertIn('CMD ["./nest", "run", "app"]', (DEPLOY / "Dockerfile").read_text())

    def test_the_balancer_and_the_pooler_name_what_the_hosts_are_told(self) -> None:
        told, pooler, balancer = self.told(), *((DEPLOY / f).read_text() for f in ("pooler.ini", "balancer.conf"))
        self.assertIn(f"host={told['NEST_DB_HOST']} port={told['NEST_DB_PORT']} dbname={told['NEST_DB_NAME']}", pooler)
        self.assertIn(f"listen_port = {told['NEST_POOLER_PORT']}", pooler)
        self.assertIn(f"server {told['NEST_LISTEN']}:{told['NEST_PORT']} ", balancer)
        self.assertIn(f"server_name {told['NEST_HOSTS']};", balancer)
        wanted = dict(re.findall(r"(\w+)=(\d+)", str(settings._LIMITS) + " idle_in_transaction_session_timeout=60000"))
        self.assertEqual(dict(re.findall(r"set (\w+) = (\d+)", pooler)), wanted)

    @skipUnless(shutil.which("systemd-analyze"), "systemd is not here")
    def test_services_are_what_systemd_takes(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for unit in (DEPLOY / "systemd").glob("*.service"):
                text = unit.read_text().replace("/opt/nest-line", str(ROOT))
                (Path(folder) / unit.name).write_text(text)
            done = subprocess.run(
                ["systemd-analyze", "verify", *map(str, Path(folder).glob("*.service"))],
                capture_output=True,
                text=True,
                check=False,
            )
        self.assertEqual((done.returncode, done.stderr.strip()), (0, ""))
