"""The application's addresses: the typed API under /api/, the client everywhere else."""

import logging
import secrets
import sys

from django.conf import settings
from django.contrib import admin
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie
from django_prometheus.exports import ExportToDjangoView
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.security import django_auth

from assets.libraries import router as libraries
from assets.recipes import router as recipes
from assets.shelf import router as shelf
from assets.spelling import router as spelling
from assets.texts import router as texts
from documents.jobs_api import router as jobs
from documents.models import Job
from documents.reading_lengths import router as lengths
from documents.routes import ROUTERS
from documents.routes.assets import router as assets
from documents.routes.everything import router as everything
from doors.errors import SIGNED_OUT, TOO_OLD, StalePage, not_valid, problem, problem_of
from doors.health import AWAY, healthz, is_away, let_go, readyz
from doors.reference import reference
from nestline.errors import NestLineError
from people.accounts import router as account
from people.entry import router as entry
from people.invitations import router as invitations
from people.passkeys import entry as passkey_entry
from people.passkeys import own as passkeys
from people.sessions import router as sessions
from people.teams import router as teams

log = logging.getLogger("nestline")
MOST_LOGGED = 2000
"""How much of what was asked goes into the log with a fault, in bytes."""
api = NinjaAPI(title="Nest Line", version="1", docs_url=None, auth=django_auth, urls_namespace="api")
api.add_router("/session", sessions, auth=None)
api.add_router("/entry", entry, auth=None)
api.add_router("/entry", passkey_entry, auth=None)
api.add_router("/account", account)
api.add_router("/account", passkeys)
api.add_router("/account", invitations)
api.add_router("/account", everything)
api.add_router("/teams", teams)
for router in ROUTERS:
    api.add_router("/documents", router)
api.add_router("/jobs", jobs)
api.add_router("/recipes", recipes)
api.add_router("/libraries", libraries)
api.add_router("/lengths", lengths)
api.add_router("/spelling", spelling)
api.add_router("/texts", texts)
api.add_router("/shelf", shelf)
api.add_router("", assets)


@api.exception_handler(NestLineError)
def _in_users_words(request: HttpRequest, error: NestLineError) -> HttpResponse:
    return problem_of(error)


@api.exception_handler(ValidationError)
def _not_valid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    return not_valid(error.errors)


@api.exception_handler(AuthenticationError)
def _signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return problem(SIGNED_OUT, 401)


@api.exception_handler(HttpError)
def _refused(request: HttpRequest, error: HttpError) -> HttpResponse:
    """What the framework itself refuses: a body that is no JSON, a page of another session."""
    if error.status_code == StalePage.status:
        return problem(TOO_OLD, StalePage.status, StalePage.code)
    return problem(error.message, error.status_code)


@api.exception_handler(Exception)
def _unexpected(request: HttpRequest, error: Exception) -> HttpResponse:
    """The database is away, a statement waited longer than it may, or a fault nobody foresaw: that is said with the
    reference of its line in the log, which holds what was asked."""
    if is_away(error):
        let_go()
        log.warning("the database: %s", str(error).splitlines()[0] if str(error) else type(error).__name__)
        return problem(AWAY, 503, headers={"Retry-After": "2"})
    reference = secrets.token_hex(4)
    asked = request.body[:MOST_LOGGED].decode("utf-8", "replace") if request.content_type == "application/json" else ""
    who = getattr(request, "user", None)
    log.error(
        "fault %s: user %s, %s %s %s",
        reference,
        getattr(who, "pk", None),
        request.method,
        request.get_full_path(),
        asked,
        exc_info=error,
    )
    return problem(
        f"Something went wrong in the server that should not have. Nothing was changed. Its log calls it {reference}.",
        500,
    )


def handler500(request: HttpRequest) -> HttpResponse:
    """What fails outside the API's own handling: in the middleware, where a session is read and stored."""
    error = sys.exc_info()[1]
    return _unexpected(request, error if isinstance(error, Exception) else Exception("unknown"))


def handler400(request: HttpRequest, exception: Exception) -> HttpResponse:
    """A request that Django does not take; one whose session could not be stored because the database went away comes
    so, too."""
    causes: list[BaseException] = [exception]
    while (cause := causes[-1].__context__) is not None:
        causes.append(cause)
    if any(is_away(one) for one in causes):
        let_go()
        return problem(AWAY, 503, headers={"Retry-After": "2"})
    return problem("the server cannot read this request", 400)


@ensure_csrf_cookie
def client(request: HttpRequest) -> HttpResponse:
    """The client's page; the client looks at the address itself."""
    page = settings.WEB_DIST / "index.html"
    if not page.is_file():
        return HttpResponse("The client is not built yet: run ./nest start", status=503, content_type="text/plain")
    return HttpResponse(page.read_bytes())


def metrics(request: HttpRequest) -> HttpResponse:
    """How many requests of which kind, and how long they took, for Prometheus; and what waits. The front lets none but
    this machine ask."""
    waiting = Job.objects.filter(state="waiting").count()
    content = ExportToDjangoView(request).content + (
        b"# HELP nest_line_jobs_waiting Jobs that wait for a worker.\n# TYPE nest_line_jobs_waiting gauge\n"
        + f"nest_line_jobs_waiting {waiting}\n".encode()
    )
    return HttpResponse(content, content_type="text/plain; version=0.0.4")


urlpatterns = [
    path("healthz", healthz),
    path("readyz", readyz),
    path("metrics", metrics),
    path("api/reference", reference(api)),
    path("api/", api.urls),
    path("admin/", admin.site.urls),
    re_path(r"^(?!api/|static/|admin/|metrics).*$", client),
]
