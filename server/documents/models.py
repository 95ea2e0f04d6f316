"""Documents in rows that match what an edit touches: a page, a version of a copy, the document's own fields.

Fields whose shape is the core's (objects, paragraphs, styles) are JSON that only the edit door writes, after the core
has validated it.
"""

from django.conf import settings
from django.db import models
from django.db.models import Q


class Document(models.Model):
    """A document. `revision` counts its changes: an edit names the revision it was made on."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="documents")
    title = models.CharField(max_length=200, blank=True)
    folder = models.CharField(max_length=100, blank=True, default="", db_default="")
    head = models.JSONField(default=dict)
    revision = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        indexes = [models.Index(fields=["owner", "-changed"], condition=Q(deleted=None), name="document_list")]

    def __str__(self) -> str:
        return self.title


class Page(models.Model):
    """A page: its sheet (size, margins, background) and its objects, back to front."""

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="pages")
    position = models.PositiveIntegerField()
    sheet = models.JSONField()
    objects_json = models.JSONField(default=list, db_column="objects")

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["document", "position"], name="page_place")]


class Copy(models.Model):
    """One version of a copy: its language and paragraphs, and what it was translated from."""

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="copies")
    name = models.CharField(max_length=200)
    version = models.CharField(max_length=80)
    language = models.CharField(max_length=40)
    paragraphs = models.JSONField(default=list)
    source = models.JSONField(null=True, default=None)
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["document", "name", "version"], name="copy_version")]


class Step(models.Model):
    """One revision's change: the operations that undo it, the window that made it, and the id that it gave it."""

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="steps")
    revision = models.PositiveIntegerField()
    inverse = models.JSONField()
    window = models.CharField(max_length=40, blank=True)
    mark = models.CharField(max_length=40, blank=True)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["revision"]
        constraints = [
            models.UniqueConstraint(fields=["document", "revision"], name="step_revision"),
            models.UniqueConstraint(fields=["document", "mark"], condition=~Q(mark=""), name="step_mark"),
        ]


class Window(models.Model):
    """A window in which a document is open, and when it was heard of last."""

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="windows")
    name = models.CharField(max_length=40)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="windows")
    seen = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["document", "name"], name="window_name")]


class Edit(models.Model):
    """A change that was made: its operations and those that undo it. Undone edits wait for redo until the next change.

    `after` is the revision at which it was made last, or taken back; 0 of before there were steps. Edits of one `run`
    are taken back together: words typed in one go, though another window changed something in between.
    """

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="edits")
    number = models.PositiveIntegerField()
    label = models.CharField(max_length=120)
    operations = models.JSONField()
    inverse = models.JSONField()
    join = models.CharField(max_length=120, blank=True)
    undone = models.BooleanField(default=False)
    window = models.CharField(max_length=40, blank=True)
    after = models.PositiveIntegerField(default=0)
    run = models.PositiveIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)
    last = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["document", "number"], name="edit_number")]


class Job(models.Model):
    """Something that takes long, worked out apart (documents.jobs): what was asked, how far it is, and what
    came of it."""

    OPEN = ("waiting", "running")

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="jobs")
    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="jobs", null=True)
    kind = models.CharField(max_length=20)
    given = models.JSONField(default=dict)
    state = models.CharField(max_length=20, default="waiting")
    share = models.FloatField(default=0)
    said = models.TextField(blank=True)
    path = models.CharField(max_length=400, blank=True)
    name = models.CharField(max_length=300, blank=True)
    media = models.CharField(max_length=80, blank=True)
    size = models.BigIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True, blank=True)

    class Meta:
        indexes = [models.Index(fields=["owner", "-id"], name="job_list")]


class Share(models.Model):
    """A document shared with somebody, or with a team: to see it, or to change it, too."""

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="shares")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="shares")
    team = models.ForeignKey("people.Team", on_delete=models.CASCADE, null=True, related_name="shares")
    may = models.CharField(max_length=10, choices=[("see", "see"), ("edit", "edit")])
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=Q(user=None) ^ Q(team=None), name="share_with_one"),
            models.UniqueConstraint(fields=["document", "user"], condition=~Q(user=None), name="share_user"),
            models.UniqueConstraint(fields=["document", "team"], condition=~Q(team=None), name="share_team"),
        ]

    @property
    def whom(self) -> str:
        """The name of whom, or of the team that, it is shared with."""
        return self.team.name if self.team else self.user.get_username() if self.user else ""
