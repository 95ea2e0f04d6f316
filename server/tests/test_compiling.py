"""What is begun while the loops are compiled waits for them, and ends when they do not come."""

import os
import threading
import time
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from django.test import SimpleTestCase

from doors import compiling
from doors.compiling import await_loops


class Waiting(SimpleTestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name, "compiled")
        named = mock.patch.dict(os.environ, {"NEST_AFTER": str(self.file)})
        named.start()
        self.addCleanup(named.stop)

    def test_nobody_waits_where_nothing_is_named(self) -> None:
        del os.environ["NEST_AFTER"]
        await_loops()

    def test_it_waits_until_the_loops_are_there(self) -> None:
        later = threading.Timer(0.4, self.file.touch)
        begun = time.monotonic()
        later.start()
        await_loops()
        self.assertGreaterEqual(time.monotonic() - begun, 0.4)

    def test_it_ends_when_they_were_given_up(self) -> None:
        written = self.file.with_suffix(".new")
        written.write_text("given up")
        threading.Timer(0.2, written.replace, [self.file]).start()
        with self.assertRaisesMessage(RuntimeError, "not compiled"):
            await_loops()

    def test_it_ends_when_who_compiles_is_gone(self) -> None:
        with mock.patch.object(compiling, "LONGEST", 0.3), self.assertRaisesMessage(RuntimeError, "there is no"):
            await_loops()
