"""A large document: 100 pages, 50,000 words, 100 pictures; opened in the browser, and printed."""

from __future__ import annotations

import io
import json
import os
import time
import zipfile
from pathlib import Path
from typing import Any

from PIL import Image, ImageDraw
from playwright.sync_api import Page

from benchmarks.browser import ADDRESS
from nestline.output.pdf import write_pdf
from nestline.output.png import png_pages
from nestline.pictures.files import PictureFile, read_picture
from nestline.studio import Studio


def drawn_picture(number: int) -> bytes:
    """A small picture, no two alike, of a disc on white."""
    image = Image.new("RGB", (640, 480), "white")
    colour = (200, number % 200, 40)
    ImageDraw.Draw(image).ellipse((120, 60, 520, 420), fill=colour)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=85)
    return out.getvalue()


def document(pages: int, words: int, pictures: int) -> tuple[dict[str, Any], dict[str, bytes]]:
    """So many A4 pages with so many words each in a frame; the first of them have a picture that copy runs round."""
    from support import STORY

    text = (STORY.split() * 20)[:words]
    raw: dict[str, Any] = {"format": "nest-line", "version": 1, "title": "Large", "copies": {}, "pages": []}
    files = {}
    for number in range(pages):
        paragraphs = [
            {"size": "10pt", "leading": "13pt", "runs": [{"text": " ".join([str(number), *text[i : i + 100]])}]}
            for i in range(0, words, 100)
        ]
        raw["copies"][f"c{number}"] = {"versions": {"en": {"language": "en", "paragraphs": paragraphs}}}
        objects: list[dict[str, Any]] = [
            {"id": f"f{number}", "x": 50, "y": 50, "width": 495, "height": 740, "frame": {"copy": f"c{number}"}}
        ]
        if number < pictures:
            file = f"pictures/p{number}.jpg"
            files[file] = drawn_picture(number)
            objects.append(
                {
                    "id": f"p{number}", "x": 220, "y": 250, "width": 160, "height": 120, "picture": {"file": file},
                    "wrap": {"by": "contour", "clearance": 9},
                }
            )  # fmt: skip
        raw["pages"].append({"width": 595, "height": 842, "objects": objects})
    return raw, files


def archive(pages: int) -> bytes:
    raw, files = document(pages, 500, pages)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("document.json", json.dumps(raw))
        for name, content in files.items():
            packed.writestr(name, content)
    return out.getvalue()


def opened(page: Page, pages: int) -> list[float]:
    """Milliseconds from asking for the document in a fresh tab to its first page drawn, several times; it is taken away
    again afterwards."""
    token = page.evaluate("document.cookie.match(/csrftoken=([^;]+)/)[1]")
    headers = {"X-CSRFToken": token, "Referer": ADDRESS}
    part = {"name": "large.zip", "mimeType": "application/zip", "buffer": archive(pages)}
    made = page.request.post(
        f"{ADDRESS}api/documents/import", headers=headers, multipart={"file": part}, timeout=300_000
    )
    if not made.ok:
        raise SystemExit(made.text())
    number = made.json()["id"]
    times = []
    for _ in range(6):
        page.goto(ADDRESS)
        button = page.get_by_role("button", name="Open Large")
        button.wait_for()
        began = time.perf_counter()
        button.click()
        page.wait_for_function("window.nestPaint && nestPaint.length > 0", timeout=60_000, polling=20)
        times.append((time.perf_counter() - began) * 1e3)
        page.wait_for_function("nestLine.store.getState().complete", timeout=120_000)
    page.request.delete(f"{ADDRESS}api/documents/{number}", headers=headers)
    return times


def most_memory() -> float:
    """The most memory that a worker of the server takes, in MB."""
    home = Path(os.environ["NEST_HOME"])
    master = (home / "server.pid").read_text().strip()
    workers = Path(f"/proc/{master}/task/{master}/children").read_text().split()
    sizes = [
        int(row.split()[1]) / 1024
        for worker in workers
        for row in Path(f"/proc/{worker}/status").read_text().splitlines()
        if row.startswith("VmRSS")
    ]
    return max(sizes)


def printed() -> dict[str, list[float]]:
    """Milliseconds to write a PDF of 20 pages, 10,000 glyphs, 5 pictures, and an A3 page as PNG at 150 dpi."""
    raw, files = document(20, 110, 5)
    a3, _ = document(1, 500, 0)
    a3["pages"][0].update(width=842, height=1191)
    pictures: dict[str, PictureFile] = {}

    def picture(file: str) -> PictureFile:
        if file not in pictures:
            pictures[file] = read_picture(files[file])
        return pictures[file]

    kept = Studio(picture)
    out: dict[str, list[float]] = {"pdf": [], "png": []}
    for name, given in (("pdf", raw), ("png", a3)):
        read = kept.read(given)
        nests = kept.nest(read)
        for _ in range(5):
            began = time.perf_counter()
            content = write_pdf(read, nests, picture)
            if name == "png":
                png_pages(content, 150)
            out[name].append((time.perf_counter() - began) * 1e3)
    return out
