"""Several threads of one process work at once, as a server's do: nothing comes out otherwise, and the process lives.

What goes wrong here goes wrong in libraries' own machine code, which takes the process with it; so it is done in one
apart.
"""

import os
import subprocess
import sys
import threading
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

from draws import cases

HERE = Path(__file__).parent
THREADS = 6


def at_once(work: Callable[[int], Any], rounds: int) -> list[list[Any]]:
    """What a piece of work comes to in each thread, round by round; all begin a round together."""
    start, found = threading.Barrier(THREADS), [[None] * THREADS for _ in range(rounds)]

    def run(own: int) -> None:
        for number in range(rounds):
            start.wait()
            try:
                found[number][own] = work(number)
            except Exception as error:
                found[number][own] = repr(error)

    threads = [threading.Thread(target=run, args=(own,)) for own in range(THREADS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found


def pages_painted(rounds: int) -> None:
    """The same pages, painted by all: as by one alone."""
    from demo.documents import DEMO
    from demo.pictures import draw
    from nestline.output.png import png_pages
    from nestline.pictures.files import read_picture
    from nestline.studio import Studio

    files = {name: read_picture(content) for name, content in draw().items()}
    studio = Studio(files.__getitem__)
    written = [studio.pdf(studio.read(demo())) for demo in DEMO]
    alone = [png_pages(pdf, 40) for pdf in written]
    for number, pictures in enumerate(at_once(lambda number: png_pages(written[number % len(written)], 40), rounds)):
        assert all(one == alone[number % len(written)] for one in pictures), f"round {number}: {pictures!r:.300}"


def points_looked_at(rounds: int) -> None:
    """Which points lie in an area that all share, as GEOS says of one that nobody else has."""
    import numpy as np
    import shapely

    from nestline.outlines.polygons import points_inside

    draws = np.random.default_rng(17)
    areas, alone, points = [], [], draws.uniform(-1.2, 1.2, (2, 60))
    for _ in range(rounds):
        turn = np.linspace(0, 2 * np.pi, int(draws.integers(900, 3000)), endpoint=False)
        far = 1 + 0.2 * draws.random(len(turn))
        areas.append(shapely.Polygon(np.column_stack([far * np.cos(turn), far * np.sin(turn)])))
        alone.append(shapely.contains(areas[-1], shapely.points(*points)))
    for number, found in enumerate(at_once(lambda number: points_inside(areas[number], *points), rounds)):
        assert all((one == alone[number]).all() for one in found), f"round {number}"


def documents_worked_at(rounds: int) -> None:
    """The same document, in a studio of each: what is nested, found and written is that of one alone."""
    from demo.documents import DEMO
    from demo.pictures import draw
    from nestline.findings.finder import Finder
    from nestline.output.png import png_pages
    from nestline.pictures.files import read_picture
    from nestline.studio import Studio

    files = {name: read_picture(content) for name, content in draw().items()}

    def work(number: int) -> Any:
        raw = DEMO[number % len(DEMO)]()
        for thing in raw["pages"][0]["objects"]:  # wider each time, so that nobody has seen it
            if isinstance(thing.get("width"), int | float):
                thing["width"] += 1 + number / 7
        studio = Studio(files.__getitem__)
        document = studio.read(raw)
        nests = studio.nest(document)
        lines = [(one.thing.id, [record.tolist() for record in one.nest.records]) for one in nests]
        found = Finder(studio).find(document, nests)
        return lines, [repr(one) for one in found], studio.svg(document, 0), png_pages(studio.pdf(document), 30)

    alone = [work(number) for number in range(rounds)]
    for number, one in enumerate(at_once(work, rounds)):
        assert all(each == alone[number] for each in one), f"round {number}: {one!r:.300}"


class AtOnce(unittest.TestCase):
    def apart(self, work: Callable[[int], None], rounds: int) -> None:
        command = [sys.executable, "-X", "faulthandler", "-c", f"import {__name__} as t; t.{work.__name__}({rounds})"]
        environment = {**os.environ, "PYTHONPATH": f"{HERE.parent}:{HERE.parent.parent}:{HERE}"}
        done = subprocess.run(command, env=environment, capture_output=True, text=True, check=False, timeout=900)
        self.assertEqual(done.returncode, 0, done.stderr[-3000:])

    def test_pages_are_painted(self) -> None:
        self.apart(pages_painted, cases(12, least=2))

    def test_points_are_looked_at(self) -> None:
        self.apart(points_looked_at, cases(300))

    def test_documents_are_worked_at(self) -> None:
        self.apart(documents_worked_at, cases(2, least=1))


if __name__ == "__main__":
    unittest.main()
