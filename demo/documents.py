"""The demo documents, in the open format: Quarrowby Kite Day, a made-up town's yearly kite festival."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Raw = dict[str, Any]

COLORS = {
    "ink": "#1d2b27",
    "paper": "#fffdf8",
    "sky": "#dcebe9",
    "straw": "#f6dfa4",
    "kite red": "#b4361f",
    "lake": "#2f6f8f",
    "hill": "#7fa98a",
    "night hill": "#1d3a33",
    "cream": "#fbf3dc",
}


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
        {
            "id": "cloud1",
            "name": "Cloud",
            "x": 40,
            "y": 268,
            "width": 190,
            "height": 80,
            "picture": {"file": "pictures/cloud.png"},
        },
        {
            "id": "cloud2",
            "name": "Cloud, right",
            "x": 640,
            "y": 505,
            "width": 240,
            "height": 100,
            "picture": {"file": "pictures/cloud.png"},
        },
        {
            "id": "hill1",
            "name": "Far hill",
            "x": -10,
            "y": 880,
            "width": width + 20,
            "height": 325,
            "outline": {"kind": "path", "d": back, "box": [842, 320]},
            "fill": {"color": "hill"},
        },
        {
            "id": "tower",
            "name": "Signal tower",
            "x": 712,
            "y": 752,
            "width": 72,
            "height": 189,
            "picture": {"file": "pictures/tower.png"},
        },
        {
            "id": "hill2",
            "name": "Near hill",
            "x": -10,
            "y": 975,
            "width": width + 20,
            "height": 230,
            "outline": {"kind": "path", "d": front, "box": [842, 250]},
            "fill": {"color": "night hill"},
        },
        {
            "id": "title",
            "name": "Title",
            "x": 40,
            "y": 52,
            "width": width - 80,
            "height": 92,
            "frame": {"copy": "Title", "hang": "cap", "stand": "baseline", "sit": "middle", "least_slot": 0},
        },
        {
            "id": "when",
            "name": "When",
            "x": 40,
            "y": 150,
            "width": width - 80,
            "height": 40,
            "frame": {"copy": "When", "hang": "cap", "stand": "baseline", "sit": "middle"},
        },
        {
            "id": "kite",
            "name": "Story kite",
            "x": 64,
            "y": 212,
            "width": 560,
            "height": 712,
            "outline": {"kind": "kite"},
            "fill": {"color": "straw"},
            "frame": {"copy": "Story", "padding": 20, "sit": "middle", "hang": "cap"},
        },
        {
            "id": "delta",
            "name": "Delta kite",
            "x": 436,
            "y": 262,
            "width": 330,
            "height": 275,
            "turn": 16,
            "picture": {"file": "pictures/delta-kite.png", "alt": "a red and blue delta kite"},
            "wrap": {"by": "contour", "clearance": 12},
        },
        {
            "id": "day",
            "name": "The day",
            "x": 512,
            "y": 618,
            "width": 286,
            "height": 262,
            "outline": {"kind": "path", "d": "M118 0L286 0L286 120L176 120L176 262L0 262Z", "box": [286, 262]},
            "frame": {"copy": "Programme", "least_slot": "6em"},
        },
        {
            "id": "badge",
            "name": "Price flag",
            "x": 40,
            "y": 838,
            "width": 190,
            "height": 84,
            "turn": -6,
            "outline": {"kind": "flag", "depth": 0.12},
            "fill": {"color": "kite red"},
            "frame": {
                "copy": "Price",
                "padding": [8, 34, 8, 18],
                "sit": "middle",
                "hang": "cap",
                "stand": "baseline",
                "setting": "turned",
                "least_slot": 0,
                "wrap_lines": False,
                "give": ["right"],
            },
        },
        {
            "id": "way",
            "name": "The way there",
            "x": 40,
            "y": 1016,
            "width": width - 80,
            "height": 150,
            "outline": {
                "kind": "path",
                "d": "M0 52C130 8 280 -6 430 18C580 42 680 60 762 48L762 150L0 150Z",
                "box": [762, 150],
            },
            "frame": {"copy": "Way", "sit": "bottom", "hang": "cap", "stand": "baseline", "padding": 6},
        },
    ]
    copies = {
        "Title": _copy(_p("Title", "Quarrowby Kite Day")),
        "When": _copy(_p("When", "On the common, the last Saturday of August, from ten until the lanterns are lit")),
        "Story": _copy(
            _p(
                "Story",
                "Every year in late summer the wind comes back to Quarrowby Common, and the whole town walks up to "
                "meet it. Bring string, bring friends, and bring ",
                _i("whatever you built"),
                " at the kitchen table: a diamond of "
                "brown paper, a box of cane and silk, or something with too many tails.",
            ),
            _p(
                "Story",
                "At noon the long dragon goes up from the signal tower. It takes nine people to hold, and one child to "
                "let go. Judging is by ear as much as by eye: a good kite hums, and the quiet ones win the "
                "afternoon prize.",
            ),
            _p(
                "Story",
                "Workshops run all day in the grey tent. Paper, paste and split cane are free; patience is lent by the "
                "allotment society, who also pour the tea. When the light goes, every line gets a lantern, "
                "and the hill "
                "writes its own stars.",
            ),
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
            _p(
                "Way",
                "Walk up Ropewalk Lane and keep the tower on your left. Carts and prams take the mill track. "
                "If it rains we "
                "fly wet kites; if it storms we fly them on Sunday. Lost string is kept at the tower until "
                "somebody asks for it.",
            ),
        ),
    }
    styles = {
        "Title": {"font": "Abril Fatface", "size": 78, "leading": 84, "align": "center", "color": "night hill"},
        "When": {"font": "Oswald", "size": 19, "leading": 26, "align": "center", "color": "kite red"},
        "Story": {"font": "EB Garamond", "size": 18.5, "leading": 23, "align": "center", "space_after": 8},
        "Hour": {"font": "Source Sans 3", "size": 14, "leading": 19, "space_after": 3, "color": "night hill"},
        "Price": {"font": "Abril Fatface", "size": 33, "leading": 32, "color": "cream"},
        "Price small": {"font": "Source Sans 3", "size": 12, "leading": 17, "color": "cream"},
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
    }
    label = {"sit": "middle", "hang": "cap", "stand": "baseline", "band": "line-box", "least_slot": 0}
    block = {"band": "line-box", "hang": "line-box", "stand": "line-box", "least_slot": 0}
    bold = {"font": "Source Sans 3", "weight": 700, "size": "18px", "leading": "24px", "align": "center"}
    recipes = {
        "Tag": {
            "frame": {
                **label,
                "give": ["right"],
                "wrap_lines": False,
                "padding": [0, "16px", 0, "16px"],
                "whole_pixels": True,
            },
            "fill": {"color": "kite red"},
            "text": {"font": "Oswald", "size": "14px", "leading": "18px", "align": "center", "color": "cream"},
        },
        "Wide button": {
            "frame": label,
            "fill": {"color": "night hill"},
            "stroke": None,
            "text": {**bold, "color": "paper"},
        },
        "Quiet button": {
            "frame": label,
            "fill": None,
            "stroke": {"color": "night hill", "width": "1.5px", "position": "inside"},
            "text": {**bold, "color": "night hill"},
        },
    }
    objects: list[Raw] = [
        {"id": "sky", "name": "Sky", "x": 0, "y": 0, "width": "390px", "height": "300px", "fill": {"color": "sky"}},
        {
            "id": "cloud",
            "name": "Cloud",
            "x": "156px",
            "y": "16px",
            "width": "112px",
            "height": "47px",
            "picture": {"file": "pictures/cloud.png"},
        },
        {
            "id": "kite",
            "name": "Diamond kite",
            "x": "262px",
            "y": "60px",
            "width": "104px",
            "height": "169px",
            "turn": 18,
            "picture": {"file": "pictures/diamond-kite.png", "alt": "a blue and straw diamond kite"},
            "wrap": {"by": "contour", "clearance": "14px", "sides": "left"},
        },
        {
            "id": "head",
            "name": "Heading",
            "x": "24px",
            "y": "72px",
            "width": "342px",
            "height": "144px",
            "frame": {"copy": "Heading", **block, "hang": "cap"},
        },
        {
            "id": "lead",
            "name": "Lead",
            "x": "24px",
            "y": "216px",
            "width": "342px",
            "height": "72px",
            "frame": {"copy": "Lead", **block},
        },
        {
            "id": "card",
            "name": "Card",
            "x": "20px",
            "y": "324px",
            "width": "350px",
            "height": "150px",
            "outline": {"kind": "rectangle", "radius": "18px"},
            "fill": {"color": "cream"},
            "frame": {"copy": "Card", "padding": "22px", **block, "hang": "cap", "sit": "middle", "stand": "baseline"},
        },
        {
            "id": "round",
            "name": "Price",
            "x": "272px",
            "y": "348px",
            "width": "76px",
            "height": "76px",
            "outline": {"kind": "ellipse"},
            "fill": {"color": "straw"},
            "wrap": {"by": "outline", "clearance": "12px", "sides": "left"},
            "frame": {"copy": "Price", **label},
        },
        {
            "id": "badge",
            "name": "Tag",
            "x": "20px",
            "y": "494px",
            "width": "124px",
            "height": "30px",
            "outline": {"kind": "rectangle", "radius": "15px"},
            "recipe": "Tag",
            "frame": {"copy": "Badge"},
        },
        {
            "id": "badge2",
            "name": "Tag, second",
            "x": "154px",
            "y": "494px",
            "width": "112px",
            "height": "30px",
            "outline": {"kind": "rectangle", "radius": "15px"},
            "recipe": "Tag",
            "fill": {"color": "lake"},
            "ties": [{"edge": "left", "to": "badge", "its": "right", "gap": "10px"}],
            "frame": {"copy": "Badge two"},
        },
        {
            "id": "list",
            "name": "What to bring",
            "x": "24px",
            "y": "552px",
            "width": "342px",
            "height": "100px",
            "frame": {"copy": "Bring", **block},
        },
        {
            "id": "go",
            "name": "Main button",
            "x": "20px",
            "y": "690px",
            "width": "350px",
            "height": "56px",
            "outline": {"kind": "rectangle", "radius": "14px"},
            "recipe": "Wide button",
            "frame": {"copy": "Go"},
        },
        {
            "id": "mark",
            "name": "Kite mark",
            "x": "60px",
            "y": "700px",
            "width": "13px",
            "height": "19px",
            "outline": {"kind": "kite"},
            "fill": {"color": "straw"},
            "anchor": {"place": "in-line", "shift": "-3px"},
        },
        {
            "id": "later",
            "name": "Second button",
            "x": "20px",
            "y": "758px",
            "width": "350px",
            "height": "52px",
            "outline": {"kind": "rectangle", "radius": "14px"},
            "recipe": "Quiet button",
            "frame": {"copy": "Later"},
        },
    ]
    copies = {
        "Heading": _in_four(
            ["Heading"],
            ["Your place on the hill"],
            ["Dein Platz auf dem Hügel"],
            ["Paikkasi mäellä"],
            ["Η θέση σου στον λόφο"],
        ),
        "Lead": _in_four(
            ["Lead"],
            ["Saturday on the common. The gate opens at ten; the wind keeps its own hours."],
            ["Samstag auf der Wiese. Das Tor öffnet um zehn; der Wind kommt, wann er will."],
            ["Lauantaina niityllä. Portti aukeaa kymmeneltä; tuuli tulee kun tulee."],
            ["Σάββατο στο λιβάδι. Η πύλη ανοίγει στις δέκα· ο άνεμος όποτε θέλει."],
        ),
        "Card": _in_four(
            ["Card head", "Card"],
            ["A day for one kite", "String is cut at the tower. Tails over nine metres fly from the north side."],
            ["Ein Tag, ein Drachen", "Schnur gibt es am Turm. Lange Schwänze fliegen von Norden."],
            ["Päivä yhdelle leijalle", "Narua saa tornilta. Pitkät hännät lentävät pohjoisesta."],
            ["Μια μέρα, ένας αετός", "Σπάγκος στον πύργο. Οι μακριές ουρές πετούν από βορρά."],
        ),
        "Price": _in_four(["Round"], ["3"], ["3"], ["3"], ["3"]),
        "Badge": _in_four(
            [None], ["DOGS WELCOME"], ["HUNDE WILLKOMMEN"], ["KOIRAT TERVETULLEITA"], ["ΔΕΚΤΟΙ ΟΙ ΣΚΥΛΟΙ"]
        ),
        "Badge two": _in_four([None], ["TEA INCLUDED"], ["TEE INBEGRIFFEN"], ["TEE SISÄLTYY"], ["ΜΕ ΤΣΑΪ"]),
        "Bring": _in_four(
            ["Card head", "Card"],
            [
                "Bring with you",
                "A kite, a friend, gloves for the long dragon, and a lantern if you mean to stay until the end.",
            ],
            ["Bring mit", "Einen Drachen, jemanden dazu, Handschuhe und eine Laterne, wenn du bis zum Ende bleibst."],
            ["Ota mukaan", "Leija, ystävä, hanskat pitkää lohikäärmettä varten ja lyhty, jos jäät loppuun asti."],
            ["Φέρε μαζί σου", "Έναν αετό, έναν φίλο, γάντια και ένα φανάρι, αν μείνεις ως το τέλος."],
        ),
        "Go": _in_four(
            [None], ["Reserve a place"], ["Einen Platz reservieren"], ["Varaa paikka"], ["Κράτησε θέση"], mark="mark"
        ),
        "Later": _in_four(
            [None], ["Fly without one"], ["Ohne Platz fliegen"], ["Lennä ilman paikkaa"], ["Πέτα χωρίς θέση"]
        ),
    }
    styles |= {
        "Row": {"font": "Source Sans 3", "weight": 600, "size": "17px", "leading": "22px", "color": "night hill"},
        "Hour": {"font": "Oswald", "size": "17px", "leading": "22px", "color": "kite red"},
        "Ticket": {
            "font": "Source Sans 3",
            "size": "16px",
            "leading": "22px",
            "align": "center",
            "color": "night hill",
        },
        "Number": {"font": "Abril Fatface", "size": "44px", "leading": "48px", "align": "center", "color": "kite red"},
    }
    screens = [objects, _hours(copies, label), _kept(copies, label, block)]
    pages = [{"width": "390px", "height": "844px", "background": "paper", "objects": screen} for screen in screens]
    return {**_document("Ticket screens", "px", styles, copies, pages), "recipes": recipes}


def _hours(copies: Raw, label: Raw) -> list[Raw]:
    """The second screen: a heading as large as its box allows, rows that end with an ellipsis, a button as wide as its
    words."""
    rows = [
        (
            "10",
            ["Tents open, string is cut"],
            ["Die Zelte öffnen, Schnur wird geschnitten"],
            ["Teltat auki, narua leikataan"],
            ["Ανοίγουν οι σκηνές"],
        ),
        (
            "12",
            ["The long dragon goes up from the signal tower"],
            ["Der lange Drache steigt vom Signalturm auf"],
            ["Pitkä lohikäärme nousee merkkitornista"],
            ["Ο μακρύς δράκος σηκώνεται από τον πύργο"],
        ),
        ("14", ["Judging by ear"], ["Gewertet wird nach Gehör"], ["Tuomarit kuuntelevat"], ["Κρίνουμε με το αυτί"]),
        (
            "16",
            ["Quiet hour: parafoils and very small kites only"],
            ["Stille Stunde: nur Matten und sehr kleine Drachen"],
            ["Hiljainen tunti: vain varjoliitimet ja pienet leijat"],
            ["Ώρα ησυχίας: μόνο μαλακοί και μικροί αετοί"],
        ),
        ("18", ["Band on the common"], ["Musik auf der Wiese"], ["Soittokunta niityllä"], ["Μουσική στο λιβάδι"]),
        (
            "21",
            ["Lanterns on every line"],
            ["Laternen an jeder Leine"],
            ["Lyhdyt joka narussa"],
            ["Φανάρια σε κάθε σπάγκο"],
        ),
    ]
    copies["Fitted"] = _in_four(
        ["Heading"],
        ["When the wind is up"],
        ["Wenn der Wind aufkommt"],
        ["Kun tuuli nousee"],
        ["Όταν σηκωθεί ο άνεμος"],
    )
    copies["All"] = _in_four(
        [None], ["Show the whole day"], ["Den ganzen Tag zeigen"], ["Näytä koko päivä"], ["Δείξε όλη τη μέρα"]
    )
    out: list[Raw] = [
        {
            "id": "band2",
            "name": "Band",
            "x": 0,
            "y": 0,
            "width": "390px",
            "height": "190px",
            "fill": {"color": "straw"},
        },
        {
            "id": "bunting",
            "name": "Bunting",
            "x": "-6px",
            "y": "10px",
            "width": "402px",
            "height": "76px",
            "picture": {"file": "pictures/bunting.png"},
        },
        {
            "id": "fitted",
            "name": "Heading, fitted",
            "x": "24px",
            "y": "92px",
            "width": "342px",
            "height": "78px",
            "frame": {"copy": "Fitted", **label, "fit_type": {"least": "16px", "greatest": "60px", "grow": True}},
        },
    ]
    for number, (hour, *texts) in enumerate(rows):
        copies[f"Row {hour}"] = _in_four(["Row"], *texts)
        copies[f"Hour {hour}"] = _in_four(["Hour"], [hour], [hour], [hour], [hour])
        y = 214 + 76 * number
        out += [
            {
                "id": f"card{hour}",
                "name": f"Card {hour}",
                "x": "20px",
                "y": f"{y}px",
                "width": "350px",
                "height": "64px",
                "outline": {"kind": "rectangle", "radius": "14px"},
                "fill": {"color": "cream"},
            },
            {
                "id": f"row{hour}",
                "name": f"Row {hour}",
                "x": "94px",
                "y": f"{y + 21}px",
                "width": "258px",
                "height": "22px",
                "frame": {
                    "copy": f"Row {hour}",
                    "band": "line-box",
                    "hang": "line-box",
                    "stand": "line-box",
                    "least_slot": 0,
                    "leftover": {"ends": "with-the-last-line", "mark": "…"},
                },
            },
            {
                "id": f"hour{hour}",
                "name": f"Hour {hour}",
                "x": "40px",
                "y": f"{y}px",
                "width": "40px",
                "height": "64px",
                "frame": {"copy": f"Hour {hour}", **label},
                "ties": [{"edge": "baseline", "to": f"row{hour}"}],
            },
        ]
    out.append(
        {
            "id": "all",
            "name": "Show all",
            "x": "95px",
            "y": "704px",
            "width": "200px",
            "height": "48px",
            "outline": {"kind": "rectangle", "radius": "24px"},
            "recipe": "Quiet button",
            "frame": {
                "copy": "All",
                "give": ["left", "right"],
                "wrap_lines": False,
                "padding": [0, "26px", 0, "26px"],
                "whole_pixels": True,
            },
        }
    )
    return out


def _kept(copies: Raw, label: Raw, block: Raw) -> list[Raw]:
    """The third screen: a ticket, and two buttons in a row that keep their gap."""
    copies["Kept"] = _in_four(
        ["Heading"], ["See you up there"], ["Bis gleich da oben"], ["Mäellä nähdään"], ["Τα λέμε εκεί πάνω"]
    )
    copies["Ticket"] = _in_four(
        ["Ticket", "Number", "Ticket"],
        ["Your place", "214", "North side, behind the tea tent. Bring string."],
        ["Dein Platz", "214", "Nordseite, hinter dem Teezelt. Bring Schnur mit."],
        ["Paikkasi", "214", "Pohjoispuoli, teeteltan takana. Ota narua."],
        ["Η θέση σου", "214", "Βόρεια πλευρά, πίσω από το τσάι. Φέρε σπάγκο."],
    )
    copies["Share"] = _in_four([None], ["Share"], ["Teilen"], ["Jaa"], ["Κοινοποίησε"])
    copies["Calendar"] = _in_four([None], ["Keep the day"], ["Tag merken"], ["Muista päivä"], ["Κράτα τη μέρα"])
    small = {"wrap_lines": False, "give": ["right"], "padding": [0, "22px", 0, "22px"], "whole_pixels": True}
    return [
        {
            "id": "night",
            "name": "Evening",
            "x": 0,
            "y": 0,
            "width": "390px",
            "height": "844px",
            "fill": {"color": "sky"},
        },
        {
            "id": "hills",
            "name": "Hills",
            "x": "-10px",
            "y": "700px",
            "width": "442px",
            "height": "144px",
            "picture": {"file": "pictures/hills.png"},
        },
        {
            "id": "lantern",
            "name": "Lantern",
            "x": "270px",
            "y": "40px",
            "width": "88px",
            "height": "122px",
            "picture": {"file": "pictures/lantern.png"},
            "wrap": {"by": "contour", "clearance": "14px", "sides": "left"},
        },
        {
            "id": "kept",
            "name": "Heading",
            "x": "24px",
            "y": "76px",
            "width": "342px",
            "height": "120px",
            "frame": {"copy": "Kept", **block, "hang": "cap"},
        },
        {
            "id": "ticket",
            "name": "Ticket",
            "x": "30px",
            "y": "236px",
            "width": "330px",
            "height": "220px",
            "outline": {"kind": "ticket", "depth": 0.12},
            "fill": {"color": "cream"},
            "stroke": {"color": "night hill", "width": "1.5px", "position": "inside"},
            "frame": {
                "copy": "Ticket",
                "padding": ["20px", "40px", "20px", "40px"],
                "sit": "middle",
                "hang": "cap",
                "stand": "baseline",
                "band": "line-box",
                "least_slot": 0,
            },
        },
        {
            "id": "share",
            "name": "Share",
            "x": "30px",
            "y": "490px",
            "width": "110px",
            "height": "50px",
            "outline": {"kind": "rectangle", "radius": "14px"},
            "recipe": "Wide button",
            "frame": {"copy": "Share", **small},
        },
        {
            "id": "calendar",
            "name": "Keep the day",
            "x": "150px",
            "y": "490px",
            "width": "150px",
            "height": "50px",
            "outline": {"kind": "rectangle", "radius": "14px"},
            "recipe": "Quiet button",
            "frame": {"copy": "Calendar", **small},
            "ties": [{"edge": "left", "to": "share", "its": "right", "gap": "12px"}],
        },
    ]


def _in_four(styles: list[str | None], *texts: list[str], mark: str | None = None) -> Raw:
    """A copy in English, German, Finnish and Greek, a style a paragraph; `mark` is an object in line before its
    words."""
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
        "format": "nest-line",
        "version": 1,
        "title": title,
        "language": "en",
        "unit": unit,
        "colors": COLORS,
        "styles": styles,
        "copies": copies,
        "pages": pages,
    }


def flyer() -> Raw:
    """A5, two sides: a chain over both, round a kite on a table and a dragon in the sky; what belongs to the copy moves
    with it."""
    width, height = 419.53, 595.28
    front: list[Raw] = [
        {
            "id": "title",
            "name": "Title",
            "x": 34,
            "y": 34,
            "width": 351,
            "height": 40,
            "frame": {
                "copy": "Title",
                "hang": "cap",
                "stand": "baseline",
                "sit": "middle",
                "least_slot": 0,
                "fit_type": {"least": 20, "greatest": 60, "grow": True},
            },
        },
        {
            "id": "lead",
            "name": "Lead",
            "x": 34,
            "y": 88,
            "width": 351,
            "height": 34,
            "frame": {"copy": "Lead", "hang": "cap"},
        },
        {
            "id": "box",
            "name": "Box kite",
            "x": 110,
            "y": 186,
            "width": 200,
            "height": 236,
            "picture": {"file": "pictures/box-kite-on-white.jpg", "alt": "a box kite on a white table"},
            "contour": {"from": "plain", "smoothness": 0.25},
            "wrap": {"by": "contour", "clearance": 9},
        },
        {
            "id": "front",
            "name": "Story",
            "x": 34,
            "y": 128,
            "width": 351,
            "height": 418,
            "frame": {"copy": "Story", "columns": 2, "gutter": "1p3", "hang": "ascender"},
        },
        {
            "id": "cap1",
            "name": "Caption",
            "x": 147,
            "y": 410,
            "width": 126,
            "height": 20,
            "recipe": "Caption",
            "frame": {"copy": "Caption box"},
            "ties": [{"edge": "top", "to": "box", "its": "bottom", "gap": -16}],
            "wrap": {"by": "box", "clearance": [0, 8, 8, 8]},
        },
        {
            "id": "side",
            "name": "Sidebar",
            "x": 217,
            "y": 460,
            "width": 168,
            "height": 60,
            "outline": {"kind": "rectangle", "radius": 6},
            "recipe": "Sidebar",
            "frame": {"copy": "Sidebar"},
        },
        {
            "id": "reel",
            "name": "Reel of string",
            "x": 6,
            "y": 300,
            "width": 22,
            "height": 27.2,
            "picture": {"file": "pictures/reel.png", "alt": "a reel of red string"},
            "anchor": {"place": "beside", "side": "left", "x": -6, "y": 1},
        },
        {
            "id": "mark",
            "name": "Kite mark",
            "x": 0,
            "y": 0,
            "width": 5.5,
            "height": 7.4,
            "outline": {"kind": "kite"},
            "fill": {"color": "kite red"},
            "anchor": {"place": "in-line", "shift": -0.5},
        },
        {
            "id": "onward",
            "name": "Jump line",
            "x": 34,
            "y": 550,
            "width": 351,
            "height": 12,
            "recipe": "Jump line",
            "frame": {"copy": "Onward", "pushed": False},
            "ties": [{"edge": "right", "to": "front"}, {"edge": "top", "to": "front", "its": "bottom", "gap": 5}],
        },
    ]
    foil = "M0 46C70 -14 250 -14 320 46L320 128C250 84 70 84 0 128Z"
    back: list[Raw] = [
        {
            "id": "sky",
            "name": "Dragon in the sky",
            "x": -9,
            "y": 164,
            "width": width + 18,
            "height": height - 155,
            "picture": {
                "file": "pictures/dragon-kite-in-the-sky.jpg",
                "alt": "a long dragon kite in a cloudy sky",
                "scale": 1.02,
            },
            "contour": {
                "from": "busy",
                "smoothness": 0.3,
                "subject": {"keep": [[[0.494, 0.639], [0.515, 0.639]]]},
            },  # a pale ribbon, marked
            "wrap": {"by": "contour", "clearance": 12},
        },
        {
            "id": "back",
            "name": "Story, overleaf",
            "x": 34,
            "y": 170,
            "width": 351,
            "height": 378,
            "frame": {"copy": "Story", "columns": 2, "gutter": "1p3", "hang": "ascender"},
        },
        {
            "id": "quote",
            "name": "Pull quote",
            "x": 66,
            "y": 52,
            "width": 288,
            "height": 106,
            "outline": {"kind": "path", "d": foil, "box": [320, 128]},
            "fill": {"color": "lake"},
            "wrap": {"by": "outline", "clearance": 12},
            "frame": {
                "copy": "Quote",
                "sit": "middle",
                "hang": "ex",
                "stand": "baseline",
                "padding": 9,
                "least_slot": "4em",
            },
        },
        {
            "id": "backward",
            "name": "Jump line",
            "x": 34,
            "y": 30,
            "width": 351,
            "height": 12,
            "frame": {"copy": "Backward", "pushed": False, "least_slot": 0},
            "ties": [{"edge": "left", "to": "back"}],
        },
        {
            "id": "credit",
            "name": "Picture credit",
            "x": 320,
            "y": 572,
            "width": 60,
            "height": 12,
            "recipe": "Picture credit",
            "frame": {"copy": "Credit", "give": ["left"]},
            "ties": [{"edge": "right", "to": "back"}],
        },
    ]
    jump = {"runs": [{"text": "more string on page "}, {"field": "next-page", "of": "front"}]}
    come = {
        "runs": [{"text": "from page "}, {"field": "previous-page", "of": "back"}],
        "size": 8.5,
        "leading": 11,
        "slope": "italic",
        "style": "Body",
        "first_indent": 0,
    }
    copies = {
        "Title": _copy(_p("Title", "String, paste and patience")),
        "Lead": _copy(_p("Lead", "How a box kite is made in an afternoon, and why it hums.")),
        "Story": _copy(
            _p(
                "Body",
                {"object": "mark"},
                "\u00a0\u00a0Four sticks of split cane, two bands of paper, and more string than you think. "
                "A box kite has no "
                "tail and wants none: it stands on the wind like a chair. The one on this page took the "
                "allotment society an "
                "afternoon, two pots of tea and one argument.",
                first_indent=0,
            ),
            _p(
                "Body",
                "Cut the cane first, while your hands are clean. Each stick is as long as your arm and a "
                "hand more; anything "
                "longer bends, anything shorter sulks. Notch both ends, and do not trust the notch: bind it.",
            ),
            _p(
                "Body",
                {"object": "reel"},
                "String is the heart of it. Red is easy to find in grass; waxed is kind to fingers. Wind it "
                "on a reel that "
                "somebody else can hold, because you will want both hands for the paste, and the kite will "
                "want all four.",
            ),
            _p(
                "Body",
                "Brown paper flies as well as silk, and tells you sooner when it is about to tear. Paste it "
                "round the sticks "
                "while it is damp; it dries as tight as a drum, and that is where the hum comes from. Judges "
                "listen for it: a good "
                "kite hums, and the quiet ones win the afternoon prize.",
            ),
            _p(
                "Body",
                "Then walk up Ropewalk Lane with the tower on your left, and wait. The wind comes up the "
                "hill a little after "
                "noon. Hold the kite by its bridle, not by its sticks; give it line when it asks, and none "
                "when it begs.",
            ),
            _p(
                "Body",
                "Nobody flies alone here. The line that crosses yours belongs to a neighbour, and the "
                "quickest way out of a "
                "tangle is to walk towards each other until you can shake hands. More than one wedding in "
                "the parish register "
                "began with a knot, and at least one lawsuit ended with it.",
            ),
            _p(
                "Body",
                "At noon the long dragon goes up from the signal tower. It takes nine people to hold, and "
                "one child to let "
                "go. When it is up, everything else follows: deltas first, then diamonds, then the things "
                "with too many tails, "
                "and last of all whatever was built at the kitchen table this morning and is still wet.",
            ),
            _p(
                "Body",
                "Do not run. Running is for those who do not trust the wind, and it wears out grass and "
                "grandmothers. Stand "
                "with your back to it, let the kite lean, and pay out line as you would pay a debt: "
                "steadily, and without "
                "looking down. If it dives, give it more and it will think again.",
            ),
            _p(
                "Body",
                "Small kites fly high and large ones fly long. The dragon is the exception to both: it is heavy as a "
                "wet dog and goes up only because nine people believe in it at the same moment. Its eyes are "
                "two enamel plates, its "
                "teeth are cut from last year’s posters, and every disc of its body was somebody’s tablecloth.",
            ),
            _p(
                "Body",
                "After tea the wind turns and comes off the mill. This is the hour for parafoils, which have "
                "no bones at all "
                "and must be filled like a pillow. They make no sound. Lie down under one and look up: it is "
                "the nearest "
                "thing to a ceiling that the common has.",
            ),
            _p(
                "Body",
                "When the light goes, every line gets a lantern, and the hill writes its own stars. Bring a "
                "coat. Bring "
                "somebody who has never held a line, and hand them yours.",
            ),
        ),
        "Caption box": _copy(_p("Body", "Cane, brown paper and two bands of colour.")),
        "Sidebar": _copy(
            _p("Side head", "You will need"),
            _p(
                "Body",
                "Four canes, two sheets of brown paper, flour paste, a reel of waxed string, and a kitchen table that "
                "nobody needs before supper.",
            ),
        ),
        "Onward": _copy(jump),
        "Backward": _copy(come),
        "Quote": _copy(_p("Quote", "It stands on the wind like a chair")),
        "Credit": _copy({"runs": [{"text": "Drawn for Kite Day"}]}),
    }
    styles = {
        "Title": {"font": "Abril Fatface", "size": 34, "leading": 38, "color": "night hill"},
        "Lead": {"font": "EB Garamond", "size": 14, "leading": 18, "slope": "italic", "color": "kite red"},
        "Body": {
            "font": "EB Garamond",
            "size": 10.4,
            "leading": 13,
            "align": "justify",
            "hyphenate": True,
            "first_indent": 10,
            "stretch": {"letter_space": 0.02, "letter_width": 0.015},
            "keep": {"start": 2, "end": 2},
        },
        "Side head": {"font": "Oswald", "size": 12, "leading": 16, "color": "kite red", "space_after": 2},
        "Quote": {
            "font": "EB Garamond",
            "size": 16,
            "leading": 18,
            "align": "center",
            "slope": "italic",
            "color": "cream",
            "breaking": "balanced",
        },
    }
    sheet = {"width": "148mm", "height": "210mm", "bleed": "3mm", "margins": "12mm"}
    recipes = {
        "Caption": {
            "frame": {"give": ["bottom"], "padding": ["0.5em", 0, 0, 0], "least_slot": 0},
            "fill": None,
            "stroke": None,
            "text": {
                "font": "EB Garamond",
                "size": 8.5,
                "leading": 10.5,
                "slope": "italic",
                "align": "center",
                "breaking": "balanced",
            },
        },
        "Jump line": {
            "frame": {"give": ["left"], "wrap_lines": False},
            "fill": None,
            "stroke": None,
            "text": {"font": "EB Garamond", "size": 8.5, "leading": 11, "align": "end", "slope": "italic"},
        },
        "Picture credit": {
            "frame": {"give": ["left"], "wrap_lines": False, "padding": [2, 4, 2, 4], "pushed": False},
            "fill": {"color": "paper", "opacity": 0.85},
            "stroke": None,
            "text": {"font": "Source Sans 3", "size": 6.5, "leading": 8},
        },
        "Sidebar": {
            "frame": {"give": ["bottom"], "padding": "1em", "least_slot": 0},
            "fill": {"color": "straw"},
            "stroke": None,
            "wrap": {"by": "box", "clearance": 11},
            "text": {"font": "Source Sans 3", "size": 9, "leading": 12, "hyphenate": True},
        },
    }
    for paragraph in (
        *copies["Caption box"]["versions"]["en"]["paragraphs"],
        copies["Sidebar"]["versions"]["en"]["paragraphs"][1],
    ):
        del paragraph["style"]  # theirs comes from the recipe
    pages = [{**sheet, "objects": front}, {**sheet, "objects": back}]
    return {
        **_document("Kite Day, flyer", "mm", styles, copies, pages),
        "recipes": recipes,
        "chains": [["front", "back"]],
    }


SHEET_WORDS = (
    "The wind on the common has never read a poster. It comes when it comes, lifts what is light, and leaves "
    "the rest for "
    "the people with string. Each of these small frames is here to be pulled about: give it another outline, "
    "more room, "
    "larger type, and watch where its lines go. Nothing here is too good to be spoiled, and undo brings all of it back."
)


def workshop() -> Raw:
    """US Letter: a frame of every outline to play with, and some faults on purpose."""
    kinds: list[tuple[str, Raw, str, str]] = [
        ("Rectangle", {"kind": "rectangle", "radius": 10}, "start", "straw"),
        ("Ellipse", {"kind": "ellipse"}, "center", "sky"),
        ("Hexagon", {"kind": "polygon", "sides": 6}, "center", "cream"),
        ("Heart", {"kind": "heart"}, "center", "straw"),
        ("Leaf", {"kind": "leaf"}, "center", "sky"),
        ("Kite", {"kind": "kite"}, "center", "cream"),
        ("Speech bubble", {"kind": "bubble"}, "start", "straw"),
        ("Arch", {"kind": "arch"}, "center", "sky"),
        ("Drop", {"kind": "drop"}, "center", "cream"),
        ("Flag", {"kind": "flag"}, "start", "straw"),
        ("Ticket", {"kind": "ticket"}, "center", "sky"),
        ("Cloud", {"kind": "cloud"}, "center", "cream"),
        ("Star", {"kind": "star", "points": 7, "depth": 0.3}, "center", "straw"),
        ("Ring", {"kind": "ring", "depth": 0.55}, "justify", "sky"),
        (
            "Free outline",
            {
                "kind": "path",
                "d": "M0 30C40 -10 80 60 120 10L160 40C150 90 170 110 120 130C80 150 30 140 10 110C-10 80 20 60 0 30Z",
                "box": [160, 138],
            },
            "center",
            "cream",
        ),
    ]
    words = SHEET_WORDS.split()
    counts = [54, 41, 38, 30, 34, 23, 37, 42, 20, 48, 47, 22, 16, 5, 38]
    objects: list[Raw] = [
        {
            "id": "title",
            "name": "Title",
            "x": 36,
            "y": 30,
            "width": 540,
            "height": 34,
            "frame": {"copy": "Title", "hang": "cap", "stand": "baseline", "sit": "middle", "least_slot": 0},
        },
    ]
    copies = {"Title": _copy(_p("Title", "Workshop sheet"))}
    for number, ((name, outline, align, color), count) in enumerate(zip(kinds, counts, strict=True)):
        column, row = number % 5, number // 5
        copies[name] = _copy(
            {
                "style": "Small",
                "align": align,
                "runs": [{"text": " ".join((words * 2)[number * 3 : number * 3 + count])}],
            }
        )
        objects.append(
            {
                "id": f"s{number + 1}",
                "name": name,
                "x": 36 + column * 110,
                "y": 78 + row * 134,
                "width": 100,
                "height": 122,
                "outline": outline,
                "fill": {"color": color},
                "frame": {"copy": name, "padding": 6, "sit": "middle", "hang": "ex", "least_slot": "1.5em"},
            }
        )
    rivers = (
        "A line set too narrow for its type has nowhere to put what it has to spare, so that white water runs "
        "between the words from one line to the next, and the eye goes down it instead of along."
    )
    copies |= {
        "River": _copy({"style": "Fault", "align": "justify", "breaking": "first-fit", "runs": [{"text": rivers}]}),
        "Widow": _copy(
            {
                "style": "Fault",
                "last_word_alone": True,
                "runs": [
                    {
                        "text": "The last line of a paragraph, alone at the head of a column, looks lost: it is "
                        "called a widow, and nobody asked it to dance."
                    }
                ],
            },
            {"style": "Fault", "runs": [{"text": "A second paragraph follows it."}]},
        ),
        "Dark": _copy(
            {
                "style": "Fault",
                "runs": [
                    {
                        "text": "Where this copy crosses the dark hill it can no longer be read, and the printer "
                        "will not ask."
                    }
                ],
            }
        ),
        "Over": _copy({"style": "Fault", "runs": [{"text": SHEET_WORDS}]}),
    }
    below = 496
    objects += [
        {"id": "river", "name": "A river", "x": 36, "y": below, "width": 92, "height": 186, "frame": {"copy": "River"}},
        {
            "id": "widow",
            "name": "A widow",
            "x": 146,
            "y": below,
            "width": 200,
            "height": 66,
            "frame": {"copy": "Widow", "columns": 2, "gutter": 10},
        },
        {
            "id": "patch",
            "name": "Dark hill",
            "x": 410,
            "y": below + 20,
            "width": 166,
            "height": 70,
            "picture": {"file": "pictures/hills.png"},
        },
        {
            "id": "dark",
            "name": "Over a dark patch",
            "x": 376,
            "y": below + 62,
            "width": 200,
            "height": 40,
            "frame": {"copy": "Dark"},
        },
        {
            "id": "over",
            "name": "Too much copy",
            "x": 146,
            "y": below + 110,
            "width": 170,
            "height": 62,
            "stroke": {"color": "ink", "width": 0.5},
            "frame": {"copy": "Over", "padding": 5},
        },
        {
            "id": "delta",
            "name": "Delta kite",
            "x": 430,
            "y": below + 118,
            "width": 120,
            "height": 100,
            "picture": {"file": "pictures/delta-kite.png", "alt": "a delta kite"},
            "wrap": {"by": "contour", "clearance": 8},
        },
    ]
    styles = {
        "Title": {"font": "Abril Fatface", "size": 26, "leading": 30, "color": "night hill"},
        "Small": {"font": "EB Garamond", "size": 8, "leading": 9.6},
        "Fault": {"font": "EB Garamond", "size": 10, "leading": 12.5},
    }
    page = {"width": "8.5in", "height": "11in", "bleed": 0, "margins": "0.5in", "objects": objects}
    return _document("Workshop sheet", "in", styles, copies, [page])


DEMO: tuple[Callable[[], Raw], ...] = (workshop, ticket, flyer, poster)
