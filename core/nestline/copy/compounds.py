"""Where German compounds are joined: there a hyphen reads best ("Liegenschafts-amt", not "Liegen-schaftsamt").

Known by what always ends a part (an -s- after -schaft, -ung, -heit …) and by nouns that many compounds begin or end
with. The lists are from memory; a compound of rarer words is hyphenated as its syllables are, no worse than without.
"""

from __future__ import annotations

import re
from functools import lru_cache

PART_ENDS = "schafts ungs heits keits tions täts tums lings".split()
"""What a part ends in, with the letter that joins it to the next."""
NOUNS = (
    "abend abteilung amt amts anlage anfang antrag arbeit arbeits arzt auftrag ausgang ausstellung ausweis "
    "auto bad bahn bank bau baum becken beginn "
    "bereich berg bericht beruf berufs betrieb betriebs bezirk bild blatt blume boden brief brücke brunnen "
    "buch bühne bund bundes bürger büro dach dame "
    "dienst dorf drachen ecke eingang eis empfang ende energie erde ergebnis essen fabrik fahrer fahrt "
    "familie farbe feier feld fenster ferien fest feuer "
    "figur film fläche flasche flug forschung frage frau freizeit freund frucht führer führung fuß garten "
    "gast gebäude gebiet geburt geburts gedanke "
    "gefahr gegend geld gemeinde gemüse geschäft geschäfts geschichte gesellschaft gesetz gesicht gewerbe "
    "glas gold gott gras grenze größe grund gruppe "
    "hafen halle hand handel handels haupt haus heft heim herbst herr herz himmel hof holz hotel hund hütte "
    "industrie insel jahr jahres jugend junge "
    "kammer kampf karte katze kind kinder kirche kirchen klasse kleid klima koch konzert kopf kosten kraft "
    "krank kranken kreis krieg kriegs kuchen küche "
    "küchen kultur kunst kurs küste laden land landes landschaft leben lebens lehrer leiter leitung leute "
    "licht liebe lied linie liste luft macht "
    "mann mannschaft markt maschine material mauer meer meister menge mensch messe metall milch minute "
    "mittag mittags mittel möbel monat morgen motor "
    "mühle musik mutter nachbar nachmittag nachmittags nacht name natur netz obst öl ordnung ort papier park "
    "partei pferd pflanze pflege plan platz "
    "politik polizei post preis problem programm projekt quelle rad rand rat raum recht rechts rede regel "
    "regen regierung reihe reise rind ring rock "
    "rolle rose rundfunk saal sache saft salz sand schaden schale schein schiff schild schlag schloss schloß "
    "schluss schnee schnur schrank schrift schuh "
    "schule schüler schutz see seite sitz sommer sonne sonnen spiel sport sprache stadt stall stand stein "
    "stelle stern steuer stimme stock stoff strand "
    "straße straßen strom stück student studien stuhl stunde tafel tag tages tal tante tasche tasse teil "
    "teller tier tisch tochter tor tour turm tür "
    "übung uhr umwelt unfall unterricht urlaub urlaubs vater verband verein vereinigung verkauf verkehr "
    "verkehrs verlag vertrag verwaltung vogel volk "
    "vorführung wagen wahl wald wand ware wasser wechsel weg wein welt werk wert wetter wiese wind winter "
    "wirtschaft wirtschafts woche wochen wohnung "
    "wort wörter wunsch wurst zahl zeichen zeit zeitung zelt zentrum ziel zimmer zucker zug zukunft"
).split()
NO_PART = "e i sch schaft ung lich bar haft heit keit tum sam los chen lein nis ler ner st t".split()
"""What a word goes on with that only ends it: "Nachbar-schaft" is no compound."""
INFLECTED = r"(?:e|en|er|ern|es|s|n|nen)?"
LEAST_PART, LEAST_REST = 3, 5


@lru_cache(maxsize=8)
def _patterns() -> tuple[re.Pattern[str], re.Pattern[str], re.Pattern[str]]:
    nouns = "|".join(sorted(NOUNS, key=len, reverse=True))
    return (
        re.compile(rf"(?:{'|'.join(PART_ENDS)})(?=[^\W\d_]{{{LEAST_PART}}})"),
        re.compile(rf"(?=(?:{nouns}){INFLECTED}$)"),
        re.compile(rf"^(?:{nouns})(?!{'|'.join(NO_PART)})(?=[^\W\d_]{{{LEAST_REST}}})"),
    )


@lru_cache(maxsize=20_000)
def joints(word: str) -> frozenset[int]:
    """The places in a German word, as indices of the letter behind, where its parts are joined, as far as they are
    known."""
    small = word.lower()
    ended, last, first = _patterns()
    found = {m.end() for m in ended.finditer(small)}
    found |= {m.start() for m in last.finditer(small) if m.start() >= LEAST_PART}
    if begins := first.match(small):
        found.add(begins.end())
    return frozenset(found)
