"""What the processes of jobs have loaded before they are made: loaded once, by the process that all of them are forked
from."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
django.setup()

from documents import exchange, exports, jobs  # noqa: E402, F401
from nestline.warming import warm  # noqa: E402

warm()
