"""The demo documents, in the open format: Quarrowby Kite Day, a made-up town's yearly kite festival."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Raw = dict[str, Any]

COLORS = {
    "ink": "#1d2b27", "paper": "#fffdf8", "sky": "#dcebe9", "straw": "#f6dfa4", "kite red": "#cf4a32",
    "lake": "#2f6f8f", "hill": "#7fa98a", "night hill": "#1d3a33", "cream": "#fbf3dc",
}  # fmt: skip


def _copy(*paragraphs: Raw) -> Raw:
    return {"versions": {"en": {"language": "en", "paragraphs": list(paragraphs)}}}


def _p(style: str, *runs: str | Raw, **rules: Any) -> Raw:
    return {"style": style, **rules, "runs": [{"text": r} if isinstance(r, str) else r for r in runs]}


def _i(text: str) -> Raw:
    return {"text": text, "slope": "italic"}


def _b(text: str) -> Raw:
    return {"text": text, "weight": 700}


def poster() -> Raw:
    """A3: the day's story in a large kite, round a flying delta kite; the programme between kite and hill."""
    width = 841.89
    back = "M0 96C120 40 250 0 420 4C590 8 720 60 842 30L842 320L0 320Z"
    front = "M0 60C160 10 300 0 470 26C620 48 740 70 842 52L842 250L0 250Z"
    objects = [
        {"id": "cloud1", "name": "Cloud", "x": 40, "y": 268, "width": 190, "height": 80, "picture": {"file": "pictures/cloud.png"}},
        {"id": "cloud2", "name": "Cloud, right", "x": 640, "y": 505, "width": 240, "height": 100, "picture": {"file": "pictures/cloud.png"}},
        {"id": "hill1", "name": "Far hill", "x": -10, "y": 880, "width": width + 20, "height": 325,
         "outline": {"kind": "path", "d": back, "box": [842, 320]}, "fill": {"color": "hill"}},
        {"id": "tower", "name": "Signal tower", "x": 712, "y": 752, "width": 72, "height": 189, "picture": {"file": "pictures/tower.png"}},
        {"id": "hill2", "name": "Near hill", "x": -10, "y": 975, "width": width + 20, "height": 230,
         "outline": {"kind": "path", "d": front, "box": [842, 250]}, "fill": {"color": "night hill"}},
        {"id": "title", "name": "Title", "x": 40, "y": 52, "width": width - 80, "height": 92,
         "frame": {"copy": "Title", "hang": "cap", "stand": "baseline", "sit": "middle", "least_slot": 0}},
        {"id": "when", "name": "When", "x": 40, "y": 150, "width": width - 80, "height": 40,
         "frame": {"copy": "When", "hang": "cap", "stand": "baseline", "sit": "middle"}},
        {"id": "kite", "name": "Story kite", "x": 64, "y": 212, "width": 560, "height": 712, "outline": {"kind": "kite"},
         "fill": {"color": "straw"}, "frame": {"copy": "Story", "padding": 20, "sit": "middle", "hang": "cap"}},
        {"id": "delta", "name": "Delta kite", "x": 436, "y": 262, "width": 330, "height": 275, "turn": 16,
         "picture": {"file": "pictures/delta-kite.png", "alt": "a red and blue delta kite"},
         "wrap": {"by": "contour", "clearance": 12}},
        {"id": "day", "name": "The day", "x": 512, "y": 618, "width": 286, "height": 262,
         "outline": {"kind": "path", "d": "M118 0L286 0L286 120L176 120L176 262L0 262Z", "box": [286, 262]},
         "frame": {"copy": "Programme", "least_slot": "6em"}},
        {"id": "badge", "name": "Price badge", "x": 70, "y": 790, "width": 132, "height": 132, "turn": -8,
         "outline": {"kind": "polygon", "sides": 12}, "fill": {"color": "kite red"},
         "frame": {"copy": "Price", "padding": 10, "sit": "middle", "hang": "cap", "stand": "baseline", "setting": "turned", "least_slot": "1em"}},
        {"id": "way", "name": "The way there", "x": 40, "y": 1016, "width": width - 80, "height": 150,
         "outline": {"kind": "path", "d": "M0 52C130 8 280 -6 430 18C580 42 680 60 762 48L762 150L0 150Z", "box": [762, 150]},
         "frame": {"copy": "Way", "sit": "bottom", "hang": "cap", "stand": "baseline", "padding": 6}},
    ]  # fmt: skip
    copies = {
        "Title": _copy(_p("Title", "Quarrowby Kite Day")),
        "When": _copy(_p("When", "On the common, the last Saturday of August, from ten until the lanterns are lit")),
        "Story": _copy(
            _p("Story", "Every year in late summer the wind comes back to Quarrowby Common, and the whole town walks up to "
               "meet it. Bring string, bring friends, and bring ", _i("whatever you built"), " at the kitchen table: a diamond of "
               "brown paper, a box of cane and silk, or something with too many tails."),
            _p("Story", "At noon the long dragon goes up from the signal tower. It takes nine people to hold, and one child to "
               "let go. Judging is by ear as much as by eye: a good kite hums, and the quiet ones win the afternoon prize."),
            _p("Story", "Workshops run all day in the grey tent. Paper, paste and split cane are free; patience is lent by the "
               "allotment society, who also pour the tea. When the light goes, every line gets a lantern, and the hill "
               "writes its own stars."),
            _p("Story", _i("No wind? There is always wind.")),
        ),
        "Programme": _copy(
            _p("Hour", _b("10  "), "Tents open, string is cut"),
            _p("Hour", _b("12  "), "The long dragon goes up"),
            _p("Hour", _b("14  "), "Judging by ear"),
            _p("Hour", _b("16  "), "Quiet hour: parafoils only"),
            _p("Hour", _b("18  "), "Band on the common"),
            _p("Hour", _b("21  "), "Lanterns"),
        ),
        "Price": _copy(_p("Price", "Free"), _p("Price small", "to all who bring their own string")),
        "Way": _copy(
            _p("Way", "Walk up Ropewalk Lane and keep the tower on your left. Carts and prams take the mill track. If it rains we "
               "fly wet kites; if it storms we fly them on Sunday. Lost string is kept at the tower until somebody asks for it."),
        ),
    }  # fmt: skip
    styles = {
        "Title": {"font": "Abril Fatface", "size": 78, "leading": 84, "align": "center", "color": "night hill"},
        "When": {"font": "Oswald", "size": 19, "leading": 26, "align": "center", "color": "kite red"},
        "Story": {"font": "EB Garamond", "size": 18.5, "leading": 23, "align": "center", "space_after": 8},
        "Hour": {"font": "Source Sans 3", "size": 14, "leading": 19, "space_after": 3, "color": "night hill"},
        "Price": {"font": "Abril Fatface", "size": 31, "leading": 30, "align": "center", "color": "cream"},
        "Price small": {"font": "Source Sans 3", "size": 11, "leading": 13, "align": "center", "color": "cream"},
        "Way": {"font": "EB Garamond", "size": 18, "leading": 24, "align": "center", "color": "cream"},
    }
    page = {
        "width": "297mm",
        "height": "420mm",
        "bleed": "3mm",
        "margins": "14mm",
        "background": "sky",
        "objects": objects,
    }
    return _document("Quarrowby Kite Day, poster", "mm", styles, copies, [page])


def ticket() -> Raw:
    """A phone screen, 390 × 844 px: buttons and badges that follow recipes and their words, in four languages."""
    styles = {
        "Heading": {"font": "Abril Fatface", "size": "38px", "leading": "42px", "color": "night hill"},
        "Lead": {"font": "Source Sans 3", "size": "17px", "leading": "24px", "color": "ink"},
        "Card head": {"font": "Source Sans 3", "weight": 700, "size": "19px", "leading": "25px", "color": "night hill"},
        "Card": {"font": "Source Sans 3", "size": "15px", "leading": "21px", "color": "ink"},
        "Round": {"font": "Abril Fatface", "size": "30px", "leading": "32px", "align": "center", "color": "night hill"},
    }  # fmt: skip
    label = {"sit": "middle", "hang": "cap", "stand": "baseline", "band": "line-box", "least_slot": 0}
    block = {"band": "line-box", "hang": "line-box", "stand": "line-box", "least_slot": 0}
    bold = {"font": "Source Sans 3", "weight": 700, "size": "18px", "leading": "24px", "align": "center"}
    recipes = {
        "Tag": {
            "frame": {**label, "give": ["right"], "wrap_lines": False, "padding": [0, "16px", 0, "16px"], "whole_pixels": True},
            "fill": {"color": "kite red"},
            "text": {"font": "Oswald", "size": "14px", "leading": "18px", "align": "center", "color": "cream"},
        },
        "Wide button": {"frame": label, "fill": {"color": "night hill"}, "stroke": None, "text": {**bold, "color": "paper"}},
        "Quiet button": {
            "frame": label, "fill": None, "stroke": {"color": "night hill", "width": "1.5px", "position": "inside"},
            "text": {**bold, "color": "night hill"},
        },
    }  # fmt: skip
    objects: list[Raw] = [
        {"id": "sky", "name": "Sky", "x": 0, "y": 0, "width": "390px", "height": "300px", "fill": {"color": "sky"}},
        {"id": "cloud", "name": "Cloud", "x": "156px", "y": "16px", "width": "112px", "height": "47px", "picture": {"file": "pictures/cloud.png"}},
        {"id": "kite", "name": "Diamond kite", "x": "262px", "y": "60px", "width": "104px", "height": "169px", "turn": 18,
         "picture": {"file": "pictures/diamond-kite.png", "alt": "a blue and straw diamond kite"}, "wrap": {"by": "contour", "clearance": "14px", "sides": "left"}},
        {"id": "head", "name": "Heading", "x": "24px", "y": "72px", "width": "342px", "height": "144px", "frame": {"copy": "Heading", **block, "hang": "cap"}},
        {"id": "lead", "name": "Lead", "x": "24px", "y": "216px", "width": "342px", "height": "72px", "frame": {"copy": "Lead", **block}},
        {"id": "card", "name": "Card", "x": "20px", "y": "324px", "width": "350px", "height": "150px", "outline": {"kind": "rectangle", "radius": "18px"},
         "fill": {"color": "cream"}, "frame": {"copy": "Card", "padding": "22px", **block, "hang": "cap", "sit": "middle", "stand": "baseline"}},
        {"id": "round", "name": "Price", "x": "272px", "y": "348px", "width": "76px", "height": "76px", "outline": {"kind": "ellipse"},
         "fill": {"color": "straw"}, "wrap": {"by": "outline", "clearance": "12px", "sides": "left"}, "frame": {"copy": "Price", **label}},
        {"id": "badge", "name": "Tag", "x": "20px", "y": "494px", "width": "124px", "height": "30px", "outline": {"kind": "rectangle", "radius": "15px"},
         "recipe": "Tag", "frame": {"copy": "Badge"}},
        {"id": "badge2", "name": "Tag, second", "x": "154px", "y": "494px", "width": "112px", "height": "30px", "outline": {"kind": "rectangle", "radius": "15px"},
         "recipe": "Tag", "fill": {"color": "lake"}, "ties": [{"edge": "left", "to": "badge", "its": "right", "gap": "10px"}], "frame": {"copy": "Badge two"}},
        {"id": "list", "name": "What to bring", "x": "24px", "y": "552px", "width": "342px", "height": "100px", "frame": {"copy": "Bring", **block}},
        {"id": "go", "name": "Main button", "x": "20px", "y": "690px", "width": "350px", "height": "56px", "outline": {"kind": "rectangle", "radius": "14px"},
         "recipe": "Wide button", "frame": {"copy": "Go"}},
        {"id": "mark", "name": "Kite mark", "x": "60px", "y": "700px", "width": "13px", "height": "19px", "outline": {"kind": "kite"}, "fill": {"color": "straw"},
         "anchor": {"place": "in-line", "shift": "-3px"}},
        {"id": "later", "name": "Second button", "x": "20px", "y": "758px", "width": "350px", "height": "52px", "outline": {"kind": "rectangle", "radius": "14px"},
         "recipe": "Quiet button", "frame": {"copy": "Later"}},
    ]  # fmt: skip
    copies = {
        "Heading": _in_four(
            ["Heading"], ["Your place on the hill"], ["Dein Platz auf dem Hügel"], ["Paikkasi mäellä"], ["Η θέση σου στον λόφο"]
        ),
        "Lead": _in_four(
            ["Lead"], ["Saturday on the common. The gate opens at ten; the wind keeps its own hours."],
            ["Samstag auf der Wiese. Das Tor öffnet um zehn; der Wind kommt, wann er will."],
            ["Lauantaina niityllä. Portti aukeaa kymmeneltä; tuuli tulee kun tulee."],
            ["Σάββατο στο λιβάδι. Η πύλη ανοίγει στις δέκα· ο άνεμος όποτε θέλει."],
        ),
        "Card": _in_four(
            ["Card head", "Card"], ["A day for one kite", "String is cut at the tower. Tails over nine metres fly from the north side."],
            ["Ein Tag, ein Drachen", "Schnur gibt es am Turm. Lange Schwänze fliegen von Norden."],
            ["Päivä yhdelle leijalle", "Narua saa tornilta. Pitkät hännät lentävät pohjoisesta."],
            ["Μια μέρα, ένας αετός", "Σπάγκος στον πύργο. Οι μακριές ουρές πετούν από βορρά."],
        ),
        "Price": _in_four(["Round"], ["3"], ["3"], ["3"], ["3"]),
        "Badge": _in_four([None], ["DOGS WELCOME"], ["HUNDE WILLKOMMEN"], ["KOIRAT TERVETULLEITA"], ["ΔΕΚΤΟΙ ΟΙ ΣΚΥΛΟΙ"]),
        "Badge two": _in_four([None], ["TEA INCLUDED"], ["TEE INBEGRIFFEN"], ["TEE SISÄLTYY"], ["ΜΕ ΤΣΑΪ"]),
        "Bring": _in_four(
            ["Card head", "Card"],
            ["Bring with you", "A kite, a friend, gloves for the long dragon, and a lantern if you mean to stay until the end."],
            ["Bring mit", "Einen Drachen, jemanden dazu, Handschuhe und eine Laterne, wenn du bis zum Ende bleibst."],
            ["Ota mukaan", "Leija, ystävä, hanskat pitkää lohikäärmettä varten ja lyhty, jos jäät loppuun asti."],
            ["Φέρε μαζί σου", "Έναν αετό, έναν φίλο, γάντια και ένα φανάρι, αν μείνεις ως το τέλος."],
        ),
        "Go": _in_four([None], ["Reserve a place"], ["Einen Platz reservieren"], ["Varaa paikka"], ["Κράτησε θέση"], mark="mark"),
        "Later": _in_four([None], ["Fly without one"], ["Ohne Platz fliegen"], ["Lennä ilman paikkaa"], ["Πέτα χωρίς θέση"]),
    }  # fmt: skip
    page = {"width": "390px", "height": "844px", "background": "paper", "objects": objects}
    return {**_document("Ticket screen", "px", styles, copies, [page]), "recipes": recipes}


def _in_four(styles: list[str | None], *texts: list[str], mark: str | None = None) -> Raw:
    """A copy in English, German, Finnish and Greek, a style a paragraph; `mark` is an object in line before its words."""
    versions = {}
    for language, paragraphs in zip(("en", "de", "fi", "el"), texts, strict=True):
        made = []
        for style, text in zip(styles, paragraphs, strict=True):
            runs: list[Raw] = [{"object": mark}, {"text": f"\u00a0\u00a0{text}"}] if mark else [{"text": text}]
            made.append({**({"style": style} if style else {}), "runs": runs})
        versions[language] = {"language": language, "paragraphs": made}
    return {"versions": versions}


def _document(title: str, unit: str, styles: Raw, copies: Raw, pages: list[Raw]) -> Raw:
    return {
        "format": "nest-line", "version": 1, "title": title, "language": "en", "unit": unit, "colors": COLORS,
        "styles": styles, "copies": copies, "pages": pages,
    }  # fmt: skip


DEMO: tuple[Callable[[], Raw], ...] = (ticket, poster)
