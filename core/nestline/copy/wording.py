"""Words that the engine proposes, by the copy's language."""

from __future__ import annotations

# How jump lines lead on and back in newspapers, from memory.
CONTINUED: dict[str, tuple[str, str]] = {
    "en": ("continued on page", "continued from page"),
    "da": ("fortsættes på side", "fortsat fra side"),
    "de": ("Fortsetzung auf Seite", "Fortsetzung von Seite"),
    "es": ("continúa en la página", "viene de la página"),
    "fi": ("jatkuu sivulla", "jatkoa sivulta"),
    "fr": ("suite page", "suite de la page"),
    "it": ("continua a pagina", "segue da pagina"),
    "nb": ("fortsetter på side", "fortsatt fra side"),
    "nl": ("vervolg op pagina", "vervolg van pagina"),
    "pl": ("ciąg dalszy na stronie", "ciąg dalszy ze strony"),
    "pt": ("continua na página", "continuação da página"),
    "sv": ("fortsättning på sidan", "fortsättning från sidan"),
}


def continued(language: str) -> tuple[str, str] | None:
    """What stands before the number in a jump line that leads on, and in one that leads back; None where it is not
    known."""
    return CONTINUED.get(language.split("-")[0])
