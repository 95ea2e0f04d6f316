"""What is refused because of who asks."""

from nestline.errors import NestLineError


class Refused(NestLineError):
    """Somebody may not do that."""

    code = "barred"
    status = 403


class NotThere(NestLineError):
    """It is not there, or not for whoever asks: which of both is not told."""

    code = "not-there"
    status = 404
