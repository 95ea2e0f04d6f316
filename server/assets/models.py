"""Pictures and fonts that users have brought."""

from django.conf import settings
from django.db import models
from django.db.models import Exists, OuterRef, Q

from people.models import Member


def within_reach(user_id: int | OuterRef) -> Q:
    """What somebody may use of a library: their own, and what was given to a team of theirs."""
    theirs = user_id if isinstance(user_id, int) else OuterRef(user_id)
    mine = Member.objects.filter(user_id=theirs, team_id=OuterRef("team_id"))
    return Q(owner_id=user_id) | Q(Exists(mine))


class Picture(models.Model):
    """A picture of one user, kept by its content: `file` is the name documents use for it."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="pictures")
    file = models.CharField(max_length=200)
    name = models.CharField(max_length=200)
    sha256 = models.CharField(max_length=64)
    media_type = models.CharField(max_length=40)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    transparent = models.BooleanField()
    size = models.PositiveBigIntegerField()
    team = models.ForeignKey("people.Team", on_delete=models.SET_NULL, null=True, related_name="pictures")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "file"], name="picture_file")]

    @property
    def kept(self) -> str:
        """The name of its file among the media: shared by all users who brought the same picture."""
        return f"pictures/{self.sha256[:2]}/{self.sha256}"


class Font(models.Model):
    """A face of a font that a user has brought: one file of one weight and slope."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="fonts")
    family = models.CharField(max_length=120)
    weight = models.PositiveSmallIntegerField()
    slope = models.CharField(max_length=10)
    sha256 = models.CharField(max_length=64)
    size = models.PositiveBigIntegerField()
    may_embed = models.BooleanField()
    team = models.ForeignKey("people.Team", on_delete=models.SET_NULL, null=True, related_name="fonts")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "family", "weight", "slope"], name="font_face")]

    @property
    def key(self) -> str:
        """What a face of it is called (nestline.fonts.library)."""
        return f"own-{self.sha256[:24]}"

    @property
    def kept(self) -> str:
        """The name of its file among the media."""
        return f"fonts/{self.sha256[:2]}/{self.key}.otf"


class Recipe(models.Model):
    """A recipe of a user's library: rules of the open format (`recipes` of docs/document-format.md), colours as
    figures."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="recipes")
    name = models.CharField(max_length=80)
    rules = models.JSONField()
    for_new_frames = models.BooleanField(default=False)
    team = models.ForeignKey("people.Team", on_delete=models.SET_NULL, null=True, related_name="recipes")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["owner", "name"], name="recipe_name"),
            models.UniqueConstraint(
                fields=["owner"], condition=models.Q(for_new_frames=True), name="one_recipe_for_new_frames"
            ),
        ]


class TeamColor(models.Model):
    """A colour that a team uses, as #rrggbb."""

    team = models.ForeignKey("people.Team", on_delete=models.CASCADE, related_name="colors")
    name = models.CharField(max_length=60)
    figure = models.CharField(max_length=7)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["team", "name"], name="team_color")]
