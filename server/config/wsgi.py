"""The WSGI application. Loading it warms the engine, so that the first drag is as quick as the last."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()

if os.environ.get("NEST_WARM") == "1":
    from documents.studios import compile_apart
    from doors.compiling import await_loops
    from nestline.warming import warm

    await_loops()
    compile_apart()
    warm()
    # What is loaded stays: the workers share its memory, and no collection looks at it again.
    gc.collect()
    gc.freeze()
gc.set_threshold(20_000, 20, 20)
