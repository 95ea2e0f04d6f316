"""What is painted on the bench: all that is seen, and nothing that is not."""

from typing import Any

from e2e.support import BrowserCase

COUNT_WORDS = """() => {
  window.painted = [];
  const fill = CanvasRenderingContext2D.prototype.fillText;
  CanvasRenderingContext2D.prototype.fillText = function (text, x, y) {
    if (this.canvas.getAttribute("role") === "application") {
      const at = this.getTransform().transformPoint(new DOMPoint(x, y));
      painted.push([text, at.x / devicePixelRatio, at.y / devicePixelRatio]);
    }
    return fill.call(this, text, x, y);
  };
}"""

WORDS = " ".join(f"w{n}" for n in range(900))


def frame(id: str, **more: Any) -> dict[str, Any]:
    return {"id": id, "x": 60, "y": 60, "width": 475, "height": 720, "frame": {"copy": id}, **more}


class Painting(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()
        copies = {
            id: {"versions": {"en": {"language": "en", "paragraphs": [{"size": 9, "runs": [{"text": WORDS}]}]}}}
            for id in "abcd"
        }
        turned = frame("b", turn=30, frame={"copy": "b", "setting": "turned"})
        # More copy than fits: it runs past the edge, and off the page.
        short = frame("c", height=40)
        sheets = [
            {"width": 595, "height": 842, "objects": [thing]} for thing in (frame("a"), turned, short, frame("d"))
        ]
        self.open_raw({"format": "nest-line", "version": 1, "title": "Long", "copies": copies, "pages": sheets})
        self.page.evaluate(COUNT_WORDS)

    def painted_at(
        self, scale: float, x: float, y: float
    ) -> tuple[set[tuple[str, int, int]], set[tuple[str, int, int]]]:
        """The words painted with a view, and those painted with the same view when the bench is so large that nothing
        lies beside it, as far as they stand in the smaller one; each with its place."""
        see = f"""() => {{
          painted.length = 0;
          nestLine.store.setState({{ view: {{ scale: {scale}, x: {x}, y: {y} }} }});
        }}"""
        self.page.evaluate(see)
        self.drawn()
        here = self.page.evaluate(
            "[painted, document.querySelector('canvas').clientWidth, document.querySelector('canvas').clientHeight]"
        )
        self.page.evaluate(
            "document.querySelector('canvas').style.cssText = 'width: 9000px; height: 9000px; max-width: none'"
        )
        self.page.wait_for_function("document.querySelector('canvas').clientWidth === 9000")
        self.page.evaluate(see)
        self.drawn()
        everything = self.page.evaluate("painted")
        self.page.evaluate("document.querySelector('canvas').style.cssText = ''")
        self.drawn()
        few, width, height = here

        def words(rows: list[list[Any]]) -> set[tuple[str, int, int]]:
            return {(text, round(px), round(py)) for text, px, py in rows if text.startswith("w")}

        seen = {(text, px, py) for text, px, py in words(everything) if 20 <= px <= width - 20 and 20 <= py <= height}
        return words(few), seen

    def test_every_word_that_is_seen_is_painted_and_few_others(self) -> None:
        for scale, x, y in ((0.4, 40, 20), (2, -300, -900), (1.5, -100, -1900), (3, -600, -3900), (0.8, 60, -2600)):
            few, seen = self.painted_at(scale, x, y)
            with self.subTest(scale=scale, x=x, y=y):
                self.assertGreater(len(seen), 20)
                self.assertEqual(seen - few, set())
                self.assertLess(len(few), 2500)  # of 3,600 on all pages

    def test_what_something_catches_on_is_drawn_once_it_is_there(self) -> None:
        box = self.state("scene.objects.a.box")
        self.page.evaluate(
            """() => {
              nestLine.store.setState({ snapping: true });
              window.early = 0;
              nestLine.store.subscribe((now, before) => { if (now.caught.length && now.caught !== before.caught &&
                now.tried === before.tried) early++; });
            }"""
        )
        mouse = self.page.mouse
        mouse.move(*self.on_page(box[0] + 200, box[1] + 300))
        mouse.down()
        mouse.move(*self.on_page(box[0] + 204, box[1] + 303), steps=8)
        self.page.wait_for_function("nestLine.store.getState().caught.length > 0")
        mouse.up()
        self.settled()
        self.assertEqual(self.page.evaluate("early"), 0)
        self.assertEqual(self.state("caught"), [])
