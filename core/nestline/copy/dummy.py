"""Dummy copy: made-up prose of Quarrowby that stands in for copy to come, in the copy's language."""

from __future__ import annotations

PROSE: dict[str, tuple[str, ...]] = {
    "en": (
        "The wind came over the common before anybody was awake, and by breakfast it had sorted the town into those who "
        "hold string and those who stand beside them.",
        "A good kite is mostly patience. You cut the sticks on a Monday, you find the paper on a Wednesday, and on "
        "Saturday you learn what you should have done on Tuesday.",
        "From the old signal tower you can see four weathers at once. The children name them, the grown-ups carry the "
        "umbrellas, and the dog runs after whichever one is leaving.",
        "Mrs. Appelbeck has flown the same red box for thirty summers. It has been mended so often, she says, that only "
        "the knot at the bottom is still the first one.",
        "Nobody hurries on the hill. The path goes round the gorse, round the pond, round the man who explains knots, and "
        "arrives at the top just when you have stopped asking.",
        "At four the long dragon is unrolled along the fence. Nine people lift it, one child lets go, and for a moment the "
        "whole field is very quiet.",
    ),
    "de": (
        "Der Wind kam über die Wiese, bevor jemand wach war, und zum Frühstück hatte er die Stadt schon geteilt: in "
        "Leute, die eine Schnur halten, und Leute, die daneben stehen.",
        "Ein guter Drachen ist vor allem Geduld. Am Montag schneidet man die Stäbe, am Mittwoch findet man das Papier, "
        "und am Samstag weiß man, was man am Dienstag hätte tun sollen.",
        "Vom alten Signalturm sieht man vier Wetter zugleich. Die Kinder geben ihnen Namen, die Großen tragen die "
        "Regenschirme, und der Hund läuft dem hinterher, das gerade geht.",
        "Auf dem Hügel hat es niemand eilig. Der Weg führt um den Ginster, um den Teich und um den Mann, der Knoten "
        "erklärt, und kommt oben an, wenn keiner mehr fragt.",
    ),
    "fr": (
        "Le vent est venu sur la lande avant que personne ne soit levé, et au petit déjeuner il avait déjà partagé la "
        "ville entre ceux qui tiennent une ficelle et ceux qui regardent.",
        "Un bon cerf-volant, c’est surtout de la patience. On coupe les baguettes le lundi, on trouve le papier le "
        "mercredi, et le samedi on apprend ce qu’il fallait faire le mardi.",
        "Sur la colline, personne ne se presse. Le chemin fait le tour de l’étang, puis de l’homme qui explique les "
        "nœuds, et il arrive en haut quand on a cessé de demander.",
    ),
    "fi": (
        "Tuuli tuli nummen yli ennen kuin kukaan oli hereillä, ja aamiaiseen mennessä se oli jakanut kaupungin niihin, "
        "jotka pitelevät narua, ja niihin, jotka seisovat vieressä.",
        "Hyvä leija on enimmäkseen kärsivällisyyttä. Maanantaina veistetään rimat, keskiviikkona löytyy paperi, ja "
        "lauantaina tiedetään, mitä tiistaina olisi pitänyt tehdä.",
    ),
    "el": (
        "Ο άνεμος ήρθε πάνω από το λιβάδι πριν ξυπνήσει κανείς, και ως το πρωινό είχε χωρίσει την πόλη σε όσους κρατούν "
        "σπάγκο και σε όσους στέκονται δίπλα.",
        "Ένας καλός χαρταετός είναι πάνω απ’ όλα υπομονή. Τη Δευτέρα κόβεις τα καλάμια, την Τετάρτη βρίσκεις το χαρτί, "
        "και το Σάββατο μαθαίνεις τι έπρεπε να κάνεις την Τρίτη.",
    ),
    "es": (
        "El viento llegó al prado antes de que nadie despertara, y a la hora del desayuno ya había repartido el pueblo "
        "entre los que sujetan el hilo y los que miran.",
        "Una buena cometa es sobre todo paciencia. El lunes se cortan las varillas, el miércoles aparece el papel, y el "
        "sábado se aprende lo que había que hacer el martes.",
    ),
}


def has_dummy(language: str) -> bool:
    return language.split("-")[0].lower() in PROSE


def dummy_paragraphs(language: str, words: int) -> list[str]:
    """Paragraphs of at least so many words, in a language (English where there is no prose of it)."""
    prose = PROSE.get(language.split("-")[0].lower(), PROSE["en"])
    out: list[str] = []
    count = index = 0
    while count < words:
        # Two sentences a paragraph; another start at each round.
        a, b = prose[index % len(prose)], prose[(index + 1) % len(prose)]
        text = f"{a} {b}" if len(prose) > 1 else a
        out.append(text)
        count += len(text.split())
        index += 2 if len(prose) % 2 else 3
    return out


def cut_to(paragraphs: list[str], words: int) -> list[str]:
    """The first so many words, ended with a full stop."""
    out: list[str] = []
    left = words
    for text in paragraphs:
        if left <= 0:
            break
        parts = text.split()
        taken = parts[:left]
        left -= len(taken)
        line = " ".join(taken)
        if len(taken) < len(parts):
            line = line.rstrip(",;:—– ") + ("" if line[-1:] in ".!?" else ".")
        out.append(line)
    return out
