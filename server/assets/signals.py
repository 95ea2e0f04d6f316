"""Files go with the last row that names them."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from django.db import transaction
from django.db.models.signals import post_delete
from django.dispatch import receiver

from assets import media
from assets.holding import may_delete
from assets.models import Font, Picture


@receiver(post_delete, sender=Picture)
@receiver(post_delete, sender=Font)
def file_goes(sender: type[Picture | Font], instance: Picture | Font, **_: Any) -> None:
    """Take the file away once the deletion is certain, unless another row names the same content."""

    def go() -> None:
        # While a backup is made no file goes: the backup may name it still.
        if sender._default_manager.filter(sha256=instance.sha256).exists() or not may_delete():
            return
        # What is deleted is deleted; a store that is away keeps a file that nobody names.
        with suppress(media.Away):
            beside = [
                name for name in media.names(instance.kept.rpartition("/")[0]) if name.startswith(f"{instance.kept}.")
            ]
            media.forget(instance.kept, *beside)

    transaction.on_commit(go)
