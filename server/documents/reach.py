"""Who may do what with a document. This is the one place that says so; what it does not allow is refused."""

from __future__ import annotations

from typing import Literal, get_args

from django.db.models import Exists, OuterRef, Q

from documents.models import Document, Share
from people.errors import NotThere, Refused

Need = Literal["see", "edit", "own"]
"""To read it, export it, ask about it; to change it as well; to share it, delete it, put it into a folder."""
NEEDS: tuple[Need, ...] = get_args(Need)


class Gone(NotThere):
    """The document is not there, or not for whoever asks."""


def gone() -> Gone:
    return Gone("this document is not here any more, or it is not shared with you")


def allowed(user_id: int, need: Need) -> Q:
    """The documents with which a user may do what is needed: their own, and those shared with them or a team of
    theirs."""
    mine = Q(owner_id=user_id)
    if need == "own":
        return mine
    enough = [level for level in ("see", "edit") if NEEDS.index(level) >= NEEDS.index(need)]
    with_me = Q(user_id=user_id) | Q(team__members__user_id=user_id)
    return mine | Q(Exists(Share.objects.filter(with_me, document=OuterRef("pk"), may__in=enough)))


def check(user_id: int, document_id: int, need: Need) -> None:
    """Raises Gone where the user may not even see the document, Refused where they may not do what is needed."""
    rows = Document.objects.filter(id=document_id, deleted=None)
    if rows.filter(allowed(user_id, need)).exists():
        return
    found = rows.filter(allowed(user_id, "see")).select_related("owner").first()
    if found is None:
        raise gone()
    whose = found.owner.get_username()
    if need == "edit":
        raise Refused(f"you may see this document, not change it; ask {whose}, or duplicate it")
    raise Refused(f"only {whose}, whose document it is, may do that")


def level_of(user_id: int, row: Document) -> Need:
    """The most that a user may do with a document that they see."""
    if row.owner_id == user_id:
        return "own"
    return "edit" if Document.objects.filter(allowed(user_id, "edit"), id=row.id).exists() else "see"
