"""A request of someone who is signed in: the only ones that routes with a sign-in check get."""

from django.contrib.auth.models import User
from django.http import HttpRequest


class Asked(HttpRequest):
    user: User
