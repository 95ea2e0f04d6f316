"""Dummy copy: made-up prose of Quarrowby that stands in for copy to come, in the copy's language.

A few paragraphs are written out; then sentences are put together from openings, clauses and endings, no two alike, so
that the texture of many lines can be judged: some thousand different words of copy in every language.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

PROSE: dict[str, tuple[str, ...]] = {
    "en": (
        "The wind came over the common before anybody was awake, and by breakfast it had sorted the town "
        "into those who "
        "hold string and those who stand beside them.",
        "A good kite is mostly patience. You cut the sticks on a Monday, you find the paper on a Wednesday, and on "
        "Saturday you learn what you should have done on Tuesday.",
        "From the old signal tower you can see four weathers at once. The children name them, the grown-ups carry the "
        "umbrellas, and the dog runs after whichever one is leaving.",
        "Mrs. Appelbeck has flown the same red box for thirty summers. It has been mended so often, she "
        "says, that only "
        "the knot at the bottom is still the first one.",
        "Nobody hurries on the hill. The path goes round the gorse, round the pond, round the man who "
        "explains knots, and "
        "arrives at the top just when you have stopped asking.",
        "At four the long dragon is unrolled along the fence. Nine people lift it, one child lets go, and "
        "for a moment the "
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
        "Ο άνεμος ήρθε πάνω από το λιβάδι πριν ξυπνήσει κανείς, και ως το πρωινό είχε χωρίσει την πόλη σε "
        "όσους κρατούν "
        "σπάγκο και σε όσους στέκονται δίπλα.",
        "Ένας καλός χαρταετός είναι πάνω απ’ όλα υπομονή. Τη Δευτέρα κόβεις τα καλάμια, την Τετάρτη βρίσκεις το χαρτί, "
        "και το Σάββατο μαθαίνεις τι έπρεπε να κάνεις την Τρίτη.",
    ),
    "ar": (
        "جاءت الريح من فوق المرج قبل أن يستيقظ أحد، ومع الفطور كانت قد قسمت البلدة إلى من يمسكون الخيط ومن يقفون "
        "إلى جانبهم.",
        "الطائرة الورقية الجيدة صبر قبل كل شيء. تقطع العيدان يوم الاثنين، وتجد الورق يوم الأربعاء، وتتعلم يوم السبت ما "
        "كان عليك أن تفعله يوم الثلاثاء.",
        "من البرج القديم ترى أربعة أنواع من الطقس معا. الأطفال يسمونها، والكبار يحملون المظلات، والكلب يركض وراء "
        "ما يرحل منها.",
        "لا أحد يستعجل على التل. يدور الطريق حول الشجيرات وحول البركة وحول الرجل الذي يشرح العقد، ويصل إلى القمة حين "
        "تكف عن السؤال.",
    ),
    "es": (
        "El viento llegó al prado antes de que nadie despertara, y a la hora del desayuno ya había repartido el pueblo "
        "entre los que sujetan el hilo y los que miran.",
        "Una buena cometa es sobre todo paciencia. El lunes se cortan las varillas, el miércoles aparece el "
        "papel, y el "
        "sábado se aprende lo que había que hacer el martes.",
    ),
}


PARTS: dict[str, tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]]] = {
    "en": (
        (
            "Early in the morning",
            "On a grey Tuesday",
            "Just after the bells",
            "Before the first bus",
            "Late in September",
            "When the grass was dry",
            "On the far side of the pond",
            "Between two showers",
            "Every other Sunday",
            "At the foot of the tower",
            "By half past three",
            "In the year of the great storm",
            "With one hand in a pocket",
        ),
        (
            "the baker closed his shop and carried a box kite up the lane",
            "a girl from the mill let out all of her string",
            "nobody could say whose tail was caught in the hawthorn",
            "the postman stopped to count the colours",
            "two brothers quarrelled about a knot",
            "the schoolmaster measured the wind with a wet finger",
            "somebody's grandmother flew higher than all the rest",
            "the geese went round the hill instead of over it",
            "an old sheet turned out to be the best of sails",
            "the band played on although no one could hear it",
            "the smallest kite of all refused to come down",
            "a stranger asked the way and stayed until dusk",
            "the whole class lay in the grass and looked up",
            "the string hummed like a kettle",
            "a red parafoil pulled three people off their feet",
            "the judges forgot to judge",
            "every dog in Quarrowby sat quite still",
        ),
        (
            ", and that was the end of the matter.",
            ", which is more than can be said of the year before.",
            ", though the paper was only newspaper and glue.",
            "; the rest of us held our hats.",
            ", because nothing else had worked.",
            " and pretended that it had been the plan all along.",
            ", as anyone will tell you at the gate.",
            ", but the tea was still warm.",
            ", and the clouds moved on.",
            " without once looking down.",
            ", long after the lamps were lit.",
            ", to the surprise of the vicar.",
            "; there are photographs.",
            ", and nobody minded.",
            " while the kettle boiled over.",
        ),
    ),
    "de": (
        (
            "Früh am Morgen",
            "An einem grauen Dienstag",
            "Kurz nach dem Läuten",
            "Vor dem ersten Bus",
            "Ende September",
            "Als das Gras trocken war,",
            "Am anderen Ufer des Teichs",
            "Zwischen zwei Regenschauern",
            "Jeden zweiten Sonntag",
            "Am Fuß des Signalturms",
            "Gegen halb vier",
            "Im Jahr des großen Sturms",
            "Zum allgemeinen Erstaunen",
        ),
        (
            "schloss der Bäcker seinen Laden und trug einen Kastendrachen den Weg hinauf",
            "ließ ein Mädchen aus der Mühle die ganze Schnur abrollen",
            "hing ein Drachenschwanz im Weißdorn",
            "blieb der Briefträger stehen und zählte die Farben",
            "stritten sich zwei Brüder über einen Knoten",
            "maß der Lehrer den Wind mit nassem Finger",
            "flog eine Großmutter höher als alle anderen",
            "zogen die Gänse um den Hügel herum statt darüber",
            "wurde aus einem alten Leintuch das beste Segel",
            "spielte die Kapelle weiter, obwohl sie niemand hörte",
            "wollte der kleinste Drachen nicht mehr herunter",
            "fragte ein Fremder nach dem Weg und blieb bis zum Abend",
            "lag die ganze Klasse im Gras und schaute hinauf",
            "summte die Schnur wie ein Kessel",
            "vergaßen die Preisrichter zu richten",
        ),
        (
            ", und damit war die Sache erledigt.",
            ", was man vom Vorjahr nicht sagen kann.",
            ", obwohl das Papier nur Zeitung und Leim war.",
            "; wir anderen hielten unsere Hüte fest.",
            ", weil sonst nichts geholfen hatte.",
            ", wie einem jeder am Tor erzählt.",
            ", aber der Tee war noch warm.",
            ", und die Wolken zogen weiter.",
            ", ohne ein einziges Mal hinunterzusehen.",
            "; davon gibt es Fotografien.",
            ", lange nachdem die Lampen brannten.",
            ", und niemand hatte etwas dagegen.",
        ),
    ),
    "fr": (
        (
            "De bon matin,",
            "Un mardi gris,",
            "Juste après les cloches,",
            "Avant le premier autobus,",
            "À la fin de septembre,",
            "Quand l’herbe fut sèche,",
            "De l’autre côté de l’étang,",
            "Entre deux averses,",
            "Un dimanche sur deux,",
            "Au pied de la tour,",
            "Vers trois heures et demie,",
            "L’année de la grande tempête,",
        ),
        (
            "le boulanger ferma boutique et monta le chemin, un cerf-volant sous le bras",
            "une fille du moulin laissa filer toute sa ficelle",
            "personne ne sut dire à qui était la queue prise dans l’aubépine",
            "le facteur s’arrêta pour compter les couleurs",
            "deux frères se disputèrent à propos d’un nœud",
            "l’instituteur mesura le vent d’un doigt mouillé",
            "une grand-mère vola plus haut que tous les autres",
            "les oies contournèrent la colline",
            "un vieux drap se révéla la meilleure des voiles",
            "la fanfare joua sans que personne l’entendît",
            "le plus petit refusa de redescendre",
            "un inconnu demanda sa route et resta jusqu’au soir",
            "la ficelle chanta comme une bouilloire",
        ),
        (
            ", et l’affaire fut close.",
            ", ce qu’on ne peut pas dire de l’an dernier.",
            ", bien que le papier ne fût que journal et colle.",
            " ; nous autres tenions nos chapeaux.",
            ", parce que rien d’autre n’avait marché.",
            ", comme chacun vous le dira à la barrière.",
            ", mais le thé était encore chaud.",
            ", et les nuages passèrent.",
            " sans regarder une seule fois en bas.",
            " ; il en existe des photographies.",
            ", bien après l’heure des lampes.",
        ),
    ),
    "es": (
        (
            "Muy de mañana",
            "Un martes gris",
            "Justo después de las campanas",
            "Antes del primer autobús",
            "A finales de septiembre",
            "Cuando la hierba estuvo seca,",
            "Al otro lado del estanque",
            "Entre dos chubascos",
            "Un domingo sí y otro no",
            "Al pie de la torre",
            "Hacia las tres y media",
            "El año de la gran tormenta",
        ),
        (
            "el panadero cerró la tienda y subió el camino con una cometa de caja",
            "una niña del molino soltó todo el hilo",
            "nadie supo de quién era la cola enredada en el espino",
            "el cartero se detuvo a contar los colores",
            "dos hermanos discutieron por un nudo",
            "el maestro midió el viento con un dedo mojado",
            "la abuela de alguien voló más alto que los demás",
            "los gansos rodearon la colina",
            "una sábana vieja resultó ser la mejor vela",
            "la banda siguió tocando aunque nadie la oía",
            "la más pequeña no quiso bajar",
            "un forastero preguntó el camino y se quedó hasta la noche",
            "el hilo zumbaba como una tetera",
        ),
        (
            ", y ahí terminó el asunto.",
            ", que es más de lo que se puede decir del año pasado.",
            ", aunque el papel era solo periódico y cola.",
            "; los demás sujetábamos el sombrero.",
            ", porque nada más había funcionado.",
            ", como le dirá cualquiera en la puerta.",
            ", pero el té seguía caliente.",
            ", y las nubes siguieron su camino.",
            " sin mirar abajo ni una sola vez.",
            "; hay fotografías.",
            ", mucho después de encenderse las farolas.",
        ),
    ),
    "fi": (
        (
            "Varhain aamulla",
            "Harmaana tiistaina",
            "Heti kellojen jälkeen",
            "Ennen ensimmäistä bussia",
            "Syyskuun lopulla",
            "Lammen toisella puolella",
            "Kahden sadekuuron välissä",
            "Joka toinen sunnuntai",
            "Tornin juurella",
            "Puoli neljän maissa",
            "Suuren myrskyn vuonna",
        ),
        (
            "leipuri sulki kauppansa ja kantoi laatikkoleijan mäelle",
            "myllyn tyttö päästi kaiken narunsa irti",
            "kukaan ei tiennyt, kenen häntä oli takertunut orapihlajaan",
            "postinkantaja pysähtyi laskemaan värejä",
            "kaksi veljestä riiteli solmusta",
            "opettaja mittasi tuulta märällä sormella",
            "jonkun isoäiti lensi kaikkia muita korkeammalla",
            "hanhet kiersivät mäen",
            "vanhasta lakanasta tuli paras purje",
            "soittokunta soitti, vaikka kukaan ei kuullut",
            "kaikkein pienin ei suostunut tulemaan alas",
            "naru hyrisi kuin kattila",
        ),
        (
            ", ja asia oli sillä selvä.",
            ", mitä ei voi sanoa edellisestä vuodesta.",
            ", vaikka paperi oli vain sanomalehteä ja liimaa.",
            "; me muut pitelimme hattujamme.",
            ", koska mikään muu ei ollut auttanut.",
            ", kuten portilla kerrotaan.",
            ", mutta tee oli vielä lämmintä.",
            ", ja pilvet jatkoivat matkaansa.",
            " katsomatta kertaakaan alas.",
            "; siitä on valokuvia.",
        ),
    ),
    "el": (
        (
            "Νωρίς το πρωί",
            "Μια γκρίζα Τρίτη",
            "Λίγο μετά τις καμπάνες",
            "Πριν από το πρώτο λεωφορείο",
            "Στα τέλη του Σεπτέμβρη",
            "Στην άλλη άκρη της λίμνης",
            "Ανάμεσα σε δύο μπόρες",
            "Κάθε δεύτερη Κυριακή",
            "Στα πόδια του πύργου",
            "Γύρω στις τρεισήμισι",
            "Τη χρονιά της μεγάλης καταιγίδας",
        ),
        (
            "ο φούρναρης έκλεισε το μαγαζί και ανέβηκε με έναν χαρταετό στο χέρι",
            "ένα κορίτσι από τον μύλο άφησε όλο τον σπάγκο",
            "κανείς δεν ήξερε ποιου ήταν η ουρά που πιάστηκε στον θάμνο",
            "ο ταχυδρόμος στάθηκε να μετρήσει τα χρώματα",
            "δύο αδέλφια μάλωναν για έναν κόμπο",
            "ο δάσκαλος μέτρησε τον άνεμο με βρεγμένο δάχτυλο",
            "μια γιαγιά πέταξε ψηλότερα απ’ όλους",
            "οι χήνες έκαναν τον γύρο του λόφου",
            "ένα παλιό σεντόνι έγινε το καλύτερο πανί",
            "η μπάντα έπαιζε κι ας μην την άκουγε κανείς",
            "ο πιο μικρός δεν ήθελε να κατέβει",
            "ο σπάγκος βούιζε σαν κατσαρόλα",
        ),
        (
            ", και το θέμα έληξε εκεί.",
            ", κάτι που δεν ισχύει για πέρσι.",
            ", αν και το χαρτί ήταν εφημερίδα και κόλλα.",
            "· εμείς οι άλλοι κρατούσαμε τα καπέλα μας.",
            ", γιατί τίποτε άλλο δεν είχε πετύχει.",
            ", όπως θα σας πουν όλοι στην πύλη.",
            ", μα το τσάι ήταν ακόμη ζεστό.",
            ", και τα σύννεφα τράβηξαν παρακάτω.",
            " χωρίς να κοιτάξει κάτω ούτε μια φορά.",
            "· υπάρχουν φωτογραφίες.",
        ),
    ),
    "ar": (
        (
            "في الصباح الباكر",
            "في ثلاثاء رمادي",
            "بعد الأجراس بقليل",
            "قبل الحافلة الأولى",
            "في آخر أيلول",
            "حين جف العشب",
            "على الضفة الأخرى من البركة",
            "بين مطرتين",
            "كل أحد ثان",
            "عند أسفل البرج",
            "نحو الثالثة والنصف",
            "في سنة العاصفة الكبيرة",
        ),
        (
            "أغلق الخباز دكانه وصعد الطريق بطائرة كبيرة",
            "أطلقت فتاة من الطاحونة كل خيطها",
            "لم يعرف أحد ذيل من علق في الشجرة",
            "توقف ساعي البريد ليعد الألوان",
            "تشاجر أخوان على عقدة",
            "قاس المعلم الريح بإصبع مبلول",
            "طارت جدة أعلى من الجميع",
            "دارت الإوزات حول التل",
            "صار شرشف قديم أحسن شراع",
            "عزفت الفرقة ولم يسمعها أحد",
            "رفضت أصغرهن أن تنزل",
            "سأل غريب عن الطريق وبقي حتى المساء",
            "طن الخيط مثل إبريق الشاي",
        ),
        (
            "، وانتهى الأمر عند ذلك.",
            "، وهذا ما لا يقال عن السنة الماضية.",
            "، مع أن الورق كان جريدة وغراء.",
            "؛ أما نحن فأمسكنا قبعاتنا.",
            "، لأن شيئا آخر لم ينفع.",
            "، كما يخبرك الجميع عند الباب.",
            "، لكن الشاي كان لا يزال ساخنا.",
            "، ومضت الغيوم في طريقها.",
            " دون أن تنظر إلى الأسفل مرة واحدة.",
            "؛ وهناك صور لذلك.",
            "، بعد أن أضيئت المصابيح بوقت طويل.",
        ),
    ),
}
"""Openings, clauses and endings of sentences: every one goes with every other."""
SENTENCES = (3, 2, 4, 3, 5, 2, 3)
"""How many sentences paragraphs have, by turns."""


def has_dummy(language: str) -> bool:
    return language.split("-")[0].lower() in PROSE


def dummy_paragraphs(language: str, words: int) -> list[str]:
    """Paragraphs of at least so many words, in a language (English where there is no prose of it)."""
    known = language.split("-")[0].lower()
    known = known if known in PROSE else "en"
    out: list[str] = []
    count, made = 0, _sentences(known)
    prose = PROSE[known]
    while count < words:
        index = len(out)
        if 2 * index + 1 < len(prose):
            text = f"{prose[2 * index]} {prose[2 * index + 1]}"
        else:
            text = " ".join(next(made) for _ in range(SENTENCES[index % len(SENTENCES)]))
        out.append(text)
        count += len(text.split())
    return out


def _sentences(language: str) -> Iterator[str]:
    """Sentences without end, none like another until all have been said; neighbours share no part."""
    openings, clauses, endings = PARTS[language]
    whole = len(openings) * len(clauses) * len(endings)
    number = 0
    while True:
        # Each part goes round at its own pace; what is left of the count shifts them against each other.
        a, b, c = len(openings), len(clauses), len(endings)
        turn = number // _round_of(a, b, c)
        yield f"{openings[number % a]} {clauses[(number + turn) % b]}{endings[(number + 2 * turn + turn // b) % c]}"
        number = (number + 1) % whole


def _round_of(a: int, b: int, c: int) -> int:
    return math.lcm(a, b, c)


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
