"""What `./nest speed` measures; the table goes to docs/speed.md.

The reference page: 600 words in a leaf of 200 vertices round a contour of 300. The same words in the same font round
the same polygon are laid out by headless Chromium in the same run, a float being moved.
"""

from __future__ import annotations

import math
import os
import platform
import random
import statistics
import subprocess
import time
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
from shapely.geometry import Polygon

from benchmarks.browser import ROOT, application, on_page, open_document
from benchmarks.large import letters_in_a_chain, most_memory, opened, printed
from nestline.copy.shaped_copy import ShapedCopy
from nestline.copy.shaper import Shaper
from nestline.document.model import Paragraph
from nestline.errors import NestLineError
from nestline.fonts.library import shipped_fonts
from nestline.nesting.frame import nest_frame
from nestline.nesting.frame_rules import FrameRules
from nestline.nesting.frame_space import WrapRegion
from nestline.outlines.polygons import Region, region_of

SENTENCE = (
    "every year in late summer the wind comes back to the common and the whole town walks up to meet it with "
    "string and "
    "friends and whatever was built at the kitchen table "
)
WORDS = " ".join((SENTENCE * 30).split()[:600])
SIZE_PX, LEADING_PX = 16, 20
Times = list[float]


def ring(
    count: int, width: float, height: float, waves: float, x: float = 0, y: float = 0
) -> list[tuple[float, float]]:
    """A closed outline of `count` vertices in a box: a leaf, or with waves a contour."""
    out = []
    for i in range(count):
        a = 2 * math.pi * i / count
        r = 1 + waves * math.sin(9 * a)
        px = abs(math.sin(a)) ** 0.8 * math.copysign(1, math.sin(a)) if not waves else math.sin(a) * r / (1 + waves)
        py = math.cos(a) * (r / (1 + waves) if waves else 1)
        out.append((x + width / 2 * (1 + px), y + height / 2 * (1 - py)))
    return out


def timed(times: int, one: Callable[[int], object]) -> Times:
    """Milliseconds of each run, after a warm one."""
    one(0)
    out = []
    for i in range(times):
        began = time.perf_counter()
        one(i)
        out.append((time.perf_counter() - began) * 1e3)
    return out


def p(times: Times, share: float) -> float:
    return sorted(times)[min(len(times) - 1, int(len(times) * share))]


def ms(times: Times) -> str:
    return f"{statistics.median(times):.2f} / {p(times, 0.95):.2f}"


def core() -> dict[str, Callable[[int], object]]:
    """Nests of the 600 words round a contour that is moved each time."""
    shaper = Shaper(shipped_fonts())
    rules = {"size": "16px", "leading": "20px", "runs": [{"text": WORDS}]}

    def copy_of(**more: object) -> ShapedCopy:
        return shaper.copy([Paragraph.model_validate({**rules, **more})], {}, "en")

    first_fit, optimal = copy_of(breaking="first-fit"), copy_of(breaking="optimal", align="justify")
    leaf = region_of(Polygon(ring(200, 640, 720, 0)))
    contour = region_of(Polygon(ring(300, 150, 150, 0.08, 260, 200)))
    box = (0.0, 0.0, 640.0, 720.0)

    def nest(outline: Region, frame: FrameRules, copy: ShapedCopy = first_fit) -> Callable[[int], object]:
        def one(i: int) -> object:
            wrap = WrapRegion(contour.moved(i % 40 * 1.3, i % 27 * 1.1), "w")
            done = nest_frame(outline, box, (wrap,), copy, frame, shaper)
            return done.drawn.x

        return one

    done = nest(leaf, FrameRules())(0)
    assert isinstance(done, np.ndarray)
    rectangle = region_of(Polygon([(0, 0), (480, 0), (480, 2000), (0, 2000)]))
    by_box = FrameRules(band="line-box", hang="line-box", stand="line-box")
    return {
        "leaf": nest(leaf, FrameRules()),
        "rectangle": nest(rectangle, by_box),
        "middle": nest(leaf, FrameRules(sit="middle")),
        "optimal": nest(leaf, FrameRules(slots_by_copy=True), optimal),
        "optimal rectangle": nest(rectangle, replace(by_box, slots_by_copy=True), optimal),
        "optimal middle": nest(leaf, FrameRules(sit="middle", slots_by_copy=True), optimal),
    }


def following() -> dict[str, Times]:
    """Frames that follow 60 words of copy, of which one is changed each time: from the edited document to its nests,
    shaping of the changed paragraph included."""
    from support import STORY, document, frame, paragraph, studio

    def case(kind: str, **rules: Any) -> Callable[[int], object]:
        kept = studio()

        def one(i: int) -> object:
            raw = document([frame(kind, padding=8, **rules)], paragraph(f"{STORY} kite {i}", size=10, align="center"))
            return kept.nest(kept.read(raw))

        return one

    fit = {"fit_type": {"least": 5, "grow": True, "greatest": 30}}
    return {
        "bottom": timed(40, case("rectangle", give=["bottom"])),
        "proportion": timed(40, case("heart", give=["in-proportion"])),
        "fit": timed(40, case("rectangle", **fit)),
        "fit heart": timed(40, case("heart", **fit)),
    }


def chain() -> dict[str, Times]:
    """5,000 words through a chain of 12 frames on 12 pages, each with a wrap: from the edit to the nests."""
    from nestline.document import edits
    from support import STORY, document, frame, paragraph, studio

    words = (STORY.split() * 100)[:5000]
    paragraphs = [paragraph(" ".join(words[i : i + 50]), size=10, leading=12) for i in range(0, 5000, 50)]
    pages = []
    for n in range(12):
        thing = {**frame(x=40, y=40, width=260, height=520, padding=6), "id": f"f{n}"}
        wrap = {
            "id": f"w{n}",
            "x": 200,
            "y": 150,
            "width": 90,
            "height": 90,
            "outline": {"kind": "ellipse"},
            "wrap": {"by": "outline", "clearance": 8},
        }
        pages.append({"width": 420, "height": 595, "objects": [thing, wrap]})
    raw = {**document([], *paragraphs), "pages": pages, "chains": [[f"f{n}" for n in range(12)]]}
    kept = studio()
    state = {"raw": raw}

    def changed(operation: Callable[[int], dict[str, Any]]) -> Callable[[int], object]:
        def one(i: int) -> object:
            state["raw"] = edits.apply(state["raw"], [operation(i)]).document
            return kept.nest(kept.read(state["raw"]))

        return one

    def typed(number: int) -> Callable[[int], dict[str, Any]]:
        at = ["copies", "story", "versions", "en", "paragraphs", number, "runs"]
        text = paragraphs[number]["runs"][0]["text"]
        return lambda i: {"do": "put", "at": at, "value": [{"text": f"{text} {'x' * (i % 7 + 1)}"}]}

    def lines_change() -> Callable[[int], dict[str, Any]]:
        at = ["copies", "story", "versions", "en", "paragraphs", 3, "runs"]
        text = paragraphs[3]["runs"][0]["text"]
        draw = random.Random(4)
        drawn = [" ".join(draw.choices(words, k=24 * (i % 2) + 6 * (i // 2 % 3))) for i in range(400)]
        return lambda i: {"do": "put", "at": at, "value": [{"text": f"{text} {drawn[i % len(drawn)]}"}]}

    return {
        "chain late": timed(40, changed(typed(90))),
        "chain early": timed(40, changed(typed(3))),
        "chain lines": timed(60, changed(lines_change())),
        "chain drag": timed(60, changed(lambda i: {"do": "put", "at": ["objects", "w5", "x"], "value": 200 - i % 50})),
    }


def traced() -> dict[str, Times]:
    """A picture of 4,000 × 3,000 px on a plain background, traced from its file."""
    import io

    from PIL import Image, ImageDraw

    from nestline.document.model import Contour
    from nestline.pictures.contour import traced as tracing
    from nestline.pictures.files import read_picture
    from nestline.pictures.plain import run_through

    large = Image.new("RGB", (4000, 3000), (246, 245, 240))
    ImageDraw.Draw(large).polygon([(2000, 200), (3600, 1400), (2000, 2800), (500, 1400)], fill=(200, 70, 50))
    content = io.BytesIO()
    large.save(content, "JPEG", quality=90)
    picture = read_picture(content.getvalue())
    contour = Contour.model_validate({"from": "plain"})
    return {"trace": timed(3, lambda i: run_through(tracing(picture, contour)))}


MOVED = """() => {
  const float = document.querySelector('#float'), copy = document.querySelector('#copy');
  const out = [];
  for (let i = 0; i < 50; i++) {
    const began = performance.now();
    for (let j = 0; j < 10; j++) { float.style.marginTop = ((i * 10 + j) % 40) * 1.3 + 'px'; void copy.offsetHeight; }
    if (i >= 20) out.push((performance.now() - began) / 10);
  }
  return out;
}"""
ROUNDS = 24
"""Short ones: the speed of a shared machine changes from second to second, and both are to have the same."""
COPY = f"<p id=copy style='font-size:{SIZE_PX}px;line-height:{LEADING_PX}px;margin:0'>{WORDS}</p>"


def shaped(points: list[tuple[float, float]], width: float, height: float, more: str) -> str:
    """A float whose `shape-outside` are some points of its box, in px."""
    polygon = ",".join(f"{x:.2f}px {y:.2f}px" for x, y in points)
    return f"<div style='width:{width:.2f}px;height:{height:.2f}px;shape-outside:polygon({polygon});{more}'></div>"


def pages_of_chromium() -> dict[str, str]:
    """The rectangle and the leaf in CSS. Its floats stand at the sides: the leaf is made of those that leave it free,
    the contour is a third one, and copy stands right of it only."""
    contour = shaped([(x * 4 / 3, y * 4 / 3) for x, y in ring(300, 150, 150, 0.08)], 200, 200, "float:left;").replace(
        "<div", "<div id=float", 1
    )
    width, height = 640 * 4 / 3, 720 * 4 / 3
    points = sorted(((x * 4 / 3, y * 4 / 3) for x, y in ring(200, 640, 720, 0)), key=lambda point: point[1])
    lefts = [p for p in points if p[0] <= width / 2 + 1e-6]
    rights = [(x - width / 2, y) for x, y in points if x >= width / 2 - 1e-6]
    beside = [shaped([(width / 2, 0), *rights, (width / 2, height)], width / 2, height, "float:right;")]
    # A float stands right of those before it: the left side is cut in three, the contour beside the middle one.
    for top, bottom in ((0.0, 200 * 4 / 3), (200 * 4 / 3, 450 * 4 / 3), (450 * 4 / 3, height)):
        ends = [(float(np.interp(y, [q[1] for q in lefts], [q[0] for q in lefts])), y) for y in (top, bottom)]
        edge = [ends[0], *(q for q in lefts if top < q[1] < bottom), ends[1]]
        outside = [(0.0, 0.0), *((x, y - top) for x, y in edge), (0.0, bottom - top)]
        beside.append(shaped(outside, max(x for x, _ in edge), bottom - top, "float:left;clear:left;"))
    beside.insert(3, contour.replace("float:left;", "float:left;margin-left:100px;"))
    return {
        "rectangle": f"<div style='width:640px'>{contour}{COPY}</div>",
        "leaf": f"<div style='width:{width:.2f}px'>{''.join(beside)}{COPY}</div>",
    }


def side_by_side() -> tuple[dict[str, list[Times]], dict[str, list[Times]]]:
    """The same words round the same moved contour, laid out again by Chromium and by the engine, taking turns: the
    times of each round."""
    from chromium import chromium_page, show

    ours = core()
    found: dict[str, list[Times]] = {name: [] for name in ours}
    theirs: dict[str, list[Times]] = {}
    with chromium_page() as page:
        for _ in range(ROUNDS):
            for name, html in pages_of_chromium().items():
                show(page, shipped_fonts().face("EB Garamond").path, "", html)
                theirs.setdefault(name, []).append(page.evaluate(MOVED))
            for name, one in ours.items():
                found[name].append(timed(10 if "middle" in name else 60, one))
    return theirs, found


def in_the_browser() -> tuple[Times, Times]:
    """Dragging the delta kite over the demo's poster: pointer to nest, and painting."""
    with application() as page:
        open_document(page, "Quarrowby Kite Day")
        x, y, w, h = page.evaluate("nestLine.store.getState().scene.objects.delta.box")

        def drag(steps: int, begin: int = 0) -> None:
            at = on_page(page, x + w / 2, y + h * 0.45)
            page.mouse.move(*at)
            page.mouse.down()
            for i in range(steps):
                # Nowhere twice: a nest that is remembered would take no time.
                page.mouse.move(at[0] - (i % 60) * 1.3 - (begin + i) * 0.02, at[1] + (i % 60) * 0.8)
                page.wait_for_timeout(16)
            page.keyboard.press("Escape")
            page.mouse.up()
            page.wait_for_timeout(300)

        drag(60)  # warms both workers
        drag(60, 60)
        page.evaluate("(nestLine.previewTimes.length = 0, nestPaint.length = 0)")
        drag(240, 120)
        return page.evaluate("nestLine.previewTimes"), page.evaluate("nestPaint")


KEYS_TO_NESTS = """() => {
  window.keysToNests = [];
  let pressed = 0;
  addEventListener("keydown", () => (pressed = performance.now()), true);
  nestLine.store.subscribe((now, before) => {
    if (now.scene !== before.scene && pressed) keysToNests.push(performance.now() - pressed);
    if (now.scene !== before.scene) pressed = 0;
  });
}"""


def typed_in_the_browser() -> Times:
    """Letters typed into the demo's flyer, a chain over two pages with objects in its copy: key to stored and
    nested."""
    with application() as page:
        open_document(page, "Kite Day, flyer")
        page.get_by_role("button", name="Story", exact=True).click()
        page.get_by_role("textbox", name="Copy").click()
        page.keyboard.press("End")
        page.keyboard.type("warm ", delay=150)
        page.evaluate(KEYS_TO_NESTS)
        page.keyboard.type("bring string and friends up to the hill", delay=150)
        page.wait_for_function("!nestLine.store.getState().saving")
        times: Times = page.evaluate("keysToNests")
        while page.evaluate("nestLine.store.getState().undoLabel") == "Type":
            page.keyboard.press("Control+z")
            page.wait_for_timeout(500)
        return times


def plain_loop() -> float:
    """Seconds of three million additions in Python: how fast the machine is just now, which changes on a shared one."""
    began, total = time.perf_counter(), 0
    for number in range(3_000_000):
        total += number
    return time.perf_counter() - began


def machine() -> str:
    model = next(
        (row.split(":")[1].strip() for row in open("/proc/cpuinfo") if row.startswith("model name")), platform.machine()
    )
    version = subprocess.run(
        ["/usr/bin/chromium-headless-shell", "--version"], capture_output=True, text=True, check=False
    ).stdout.strip()
    return f"{os.cpu_count()} cores of {model}, Python {platform.python_version()}, {version}"


def main() -> None:
    loops = [plain_loop()]
    try:
        their_rounds, our_rounds = side_by_side()
        theirs = {name: sum(rounds, []) for name, rounds in their_rounds.items()}
        ours = {**{name: sum(rounds, []) for name, rounds in our_rounds.items()}, **following(), **chain(), **traced()}
        pointer, paint = in_the_browser()
        typed = typed_in_the_browser()
        with application() as page:
            half, all_pages = opened(page, 50), opened(page, 100)
            letters = letters_in_a_chain(page)
        memory, written = most_memory(), printed()
    except NestLineError as error:
        raise SystemExit(str(error)) from None

    def beside(name: str, outline: str) -> str:
        rounds = zip(our_rounds[name], their_rounds[outline], strict=True)
        return f"{statistics.median(statistics.median(a) / statistics.median(b) for a, b in rounds):.2f} ×"

    loops.append(plain_loop())
    rows = [
        ("contour moved beside 600 words in a rectangle, Chromium's relayout", ms(theirs["rectangle"]), "", ""),
        (
            "the same in the engine, first fit, to word positions",
            ms(ours["rectangle"]),
            "≤ 0.5 ×",
            beside("rectangle", "rectangle"),
        ),
        (
            "the same, optimal breaking (justified)",
            ms(ours["optimal rectangle"]),
            "≤ 1 ×",
            beside("optimal rectangle", "rectangle"),
        ),
        ("600 words in a leaf of 200 vertices round a contour of 300, Chromium's relayout", ms(theirs["leaf"]), "", ""),
        ("the same in the engine, first fit, to word positions", ms(ours["leaf"]), "≤ 0.5 ×", beside("leaf", "leaf")),
        ("the same, optimal breaking (justified)", ms(ours["optimal"]), "≤ 1 ×", beside("optimal", "leaf")),
        (
            "the leaf, first fit, lines in the middle",
            ms(ours["middle"]),
            "≤ 5 ms",
            f"{statistics.median(ours['middle']):.1f} ms",
        ),
        (
            "the leaf, optimal breaking, lines in the middle",
            ms(ours["optimal middle"]),
            "≤ 5 ms",
            f"{statistics.median(ours['optimal middle']):.1f} ms",
        ),
        ("a word typed in a rectangle that gives at the bottom", ms(ours["bottom"]), "", ""),
        (
            "a word typed in a heart that gives in proportion",
            ms(ours["proportion"]),
            "≤ 15 ms",
            f"{statistics.median(ours['proportion']):.1f} ms",
        ),
        (
            "a word typed, type fitted to a rectangle",
            ms(ours["fit"]),
            "≤ 15 ms",
            f"{statistics.median(ours['fit']):.1f} ms",
        ),
        (
            "a word typed, type fitted to a heart",
            ms(ours["fit heart"]),
            "≤ 15 ms",
            f"{statistics.median(ours['fit heart']):.1f} ms",
        ),
        (
            "a word typed in a chain of 5,000 words over 12 frames, near its end",
            ms(ours["chain late"]),
            "≤ 20 ms",
            f"{statistics.median(ours['chain late']):.1f} ms",
        ),
        (
            "the same near its beginning: frames behind keep their nests, moved on, while its lines are as many",
            ms(ours["chain early"]),
            "≤ 20 ms",
            f"{statistics.median(ours['chain early']):.1f} ms",
        ),
        (
            "words pasted there and cut again, 0 to 36, so that all that follows begins at other lines",
            ms(ours["chain lines"]),
            "≤ 20 ms",
            f"{statistics.median(ours['chain lines']):.1f} ms",
        ),
        ("a wrap dragged over its sixth frame", ms(ours["chain drag"]), "", ""),
        (
            "a picture of 4,000 × 3,000 px on a plain background traced",
            ms(ours["trace"]),
            "≤ 2,000 ms",
            f"{statistics.median(ours['trace']):.0f} ms",
        ),
        (
            "pointer to new nest in the browser, demo poster",
            ms(pointer),
            "p50 ≤ 25 ms, p95 ≤ 50 ms",
            f"{len(pointer)} steps",
        ),
        ("painting it on the canvas, apart", ms(paint), "", f"{len(paint)} frames"),
        (
            "a letter typed in the browser, demo flyer: from the key to its nests, stored",
            ms(typed),
            "",
            f"{len(typed)} letters",
        ),
        (
            "a document of 100 pages, 50,000 words, 100 pictures opened, its first page drawn",
            ms(all_pages),
            "≤ 2,000 ms",
            f"{max(all_pages):.0f} ms at most",
        ),
        ("one of 50 pages", ms(half), "", ""),
        (
            "a letter typed in a chain of 50,000 words over 100 pages: answered with what is seen",
            ms(letters["times"]),
            "≤ 60 ms",
            f"{statistics.median(letters['times']):.0f} ms",
        ),
        (
            "that answer",
            f"{max(letters['bytes']) / 1000:.0f} KB",
            "≤ 60 KB",
            f"{max(letters['bytes']) / 1000:.0f} KB at most",
        ),
        ("the pages that are not seen, half a second later", ms(letters["rest"]), "", ""),
        ("the most memory that a worker takes then", "", "≤ 500 MB", f"{memory:.0f} MB"),
        (
            "a PDF of 20 pages, 10,000 glyphs, 5 pictures",
            ms(written["pdf"]),
            "≤ 1,500 ms",
            f"{statistics.median(written['pdf']):.0f} ms",
        ),
        (
            "an A3 page as PNG at 150 dpi",
            ms(written["png"]),
            "≤ 1,000 ms",
            f"{statistics.median(written['png']):.0f} ms",
        ),
    ]
    table = "\n".join(f"| {' | '.join(row)} |" for row in rows)
    text = (
        "# Speed\n\nMeasured by `./nest speed` in one run, everything on one machine and warm; times in ms, "
        "p50 / p95.\n"
        f"\nMachine: {machine()}. A plain loop of three million additions took {loops[0]:.2f} s before and "
        f"{loops[1]:.2f} s after (the\n"
        f"machine is shared, and two to four times as fast in some hours as in others).\n\n| what | ms | "
        f"goal | reached |\n| --- | --- | --- | --- |\n{table}\n\n"
        "Chromium moves a float whose `shape-outside` is the same polygon of 300 vertices beside the same "
        "600 words in the same\n"
        "font file, and is asked for the height of the copy; the engine goes as far as the x of every word. "
        "The two take turns,\n"
        "24 short rounds each. A ratio is the middle one of the rounds' ratios of p50. In the leaf Chromium "
        "has a float at each side cut to the same vertices (the left\n"
        "one in three parts), and sets copy right of the contour only, where the engine sets it on both sides.\n"
        "A large document is opened six times from the list of documents, by whichever worker answers, warm or not.\n"
        "A letter is an edit: stored with its inverse, the pages nested, everything that follows brought to rest.\n"
        "The pointer's time runs from asking for a preview to having its nest in the client's store: HTTP, "
        "sign-in check, one\n"
        "query, the edit, nesting, JSON both ways.\n"
    )
    (ROOT / "docs" / "speed.md").write_text(text)
    print(table)


if __name__ == "__main__":
    main()
