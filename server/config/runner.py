"""The test runner: Django's, which ends with what failed and one line that counts, first ends stray sessions of the
test database, and gives random tests the seed of the run (core/tests/draws.py).

Where several run at once (config.dealing), each takes one class of tests after the other that no other has taken.
"""

import faulthandler
import os
import time
import unittest
from collections.abc import Callable, Iterator
from typing import Any

import hypothesis
from django.contrib.auth.models import Permission
from django.contrib.contenttypes.models import ContentType
from django.db import connections, transaction
from django.test import TransactionTestCase
from django.test.runner import DiscoverRunner

from config.dealing import SEED, Claims, class_of, processor_seconds

#: How long all tests of a process may take, in seconds.
LONGEST = 3000
#: How many of the slowest tests are named.
SLOWEST = 15

#: What ends once no more tests in a browser come: those are taken first.
AFTER_BROWSERS: list[Callable[[], None]] = []


def name_of(test: unittest.TestCase) -> str:
    """The dotted name; a test may have a value of its own called `id`."""
    return unittest.TestCase.id(test) if isinstance(test, unittest.TestCase) else test.id()


def in_browser(test: unittest.TestCase) -> bool:
    return type(test).__module__.startswith("e2e.")


class Timed(unittest.TextTestResult):
    """A result that also keeps how long each test took, in seconds."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.took: list[tuple[float, str]] = []

    def startTest(self, test: unittest.TestCase) -> None:
        self.began = time.perf_counter()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        self.took.append((time.perf_counter() - self.began, name_of(test)))


class Dealt(unittest.TestSuite):
    """The tests of a suite, class by class as this process gets hold of them (all, where it is alone): those in a
    browser first, and of each kind those first that took longest last time."""

    def __init__(self, tests: unittest.TestSuite, claims: Claims | None) -> None:
        super().__init__()
        self.claims = claims
        self.classes: dict[str, list[unittest.TestCase]] = {}
        for test in each(tests):
            self.classes.setdefault(class_of(name_of(test)), []).append(test)

    def __iter__(self) -> Iterator[unittest.TestCase]:
        browsers = {name for name, tests in self.classes.items() if in_browser(tests[0])}
        for group in (browsers, set(self.classes) - browsers):
            for name in self.claims.longest_first(group) if self.claims else sorted(group):
                if self.claims is None:
                    yield from self.classes[name]
                elif self.claims.take(name):
                    began, spent = time.perf_counter(), processor_seconds(os.getpid())
                    yield from self.classes[name]
                    took = time.perf_counter() - began, processor_seconds(os.getpid()) - spent
                    self.claims.done(name, *took, len(self.classes[name]))
            for end in AFTER_BROWSERS:
                end()
            connections.close_all()  # tests in a browser end connections from outside

    def _removeTestAtIndex(self, index: int) -> None:
        """Tests are kept: what is dealt is no list."""


def each(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    """The tests of a suite, also of suites within it."""
    for one in suite:
        if isinstance(one, unittest.TestSuite):
            yield from each(one)
        else:
            yield one


def given_the_seed(suite: unittest.TestSuite) -> None:
    """Have tests of Hypothesis draw by the seed of the run, where there is one."""
    for test in each(suite) if SEED else ():
        method = getattr(type(test), getattr(test, "_testMethodName", ""), None)
        if method is not None and hypothesis.is_hypothesis_test(method):
            hypothesis.seed(f"{SEED} {name_of(test)}")(method)


def failing(result: unittest.TestResult) -> dict[unittest.TestCase, str]:
    """The tests that failed, with what they failed by; one with several parts that fail is one."""
    return {getattr(test, "test_case", test): trace for test, trace in (*result.failures, *result.errors)}


def emptied(case: TransactionTestCase) -> None:
    """Take all rows away that a test has left: Django truncates every table, and fills those of permissions anew, for a
    second a test. Foreign keys are looked at when all are gone."""
    for alias in case.databases or ():
        tables = set(connections[alias].introspection.django_table_names(only_existing=True, include_views=False))
        tables -= {Permission._meta.db_table, ContentType._meta.db_table}
        with transaction.atomic(alias), connections[alias].cursor() as cursor:
            for table in sorted(tables):
                cursor.execute(f'DELETE FROM "{table}"')


class Runner(DiscoverRunner):
    """Django's runner with a closing line `N passed, N failed, N skipped`.

    Before it the slowest tests and, a line each, those that failed: what a reader of the last lines alone has to know.
    A test in a browser that failed is run once more, for a browser also fails by a machine that is at work elsewhere;
    if it passes then, it passed, and is named as unsteady.
    """

    def get_resultclass(self) -> Any:
        return super().get_resultclass() or Timed

    def run_suite(self, suite: Any, **kwargs: Any) -> Any:
        given_the_seed(suite)
        result: unittest.TestResult = super().run_suite(Dealt(suite, Claims.of_this_run()), **kwargs)
        again = [test for test in failing(result) if in_browser(test)]
        unsteady: dict[str, str] = {}
        if again:
            second = super().run_suite(self.test_suite([type(t)(t._testMethodName) for t in again]), **kwargs)
            still = {name_of(test) for test in failing(second)}
            unsteady = {
                name_of(t): trace for t, trace in failing(result).items() if t in again and name_of(t) not in still
            }
            for kind in (result.failures, result.errors):
                kind[:] = [one for one in kind if name_of(getattr(one[0], "test_case", one[0])) not in unsteady]
        faulty = {name_of(test): trace for test, trace in failing(result).items()}
        failed = len(faulty) + len(result.unexpectedSuccesses)
        slow = sorted(getattr(result, "took", []), reverse=True)[:SLOWEST]
        self.closing = [f"{seconds:6.1f} s  {name}" for seconds, name in slow]
        for word, those in {"UNSTEADY": unsteady, "FAILED": faulty}.items():
            self.closing += [f"{word} {name}: {trace.strip().splitlines()[-1]}" for name, trace in those.items()]
        self.closing.append(f"{result.testsRun - failed - len(result.skipped)} passed, {failed} failed")
        if result.skipped:
            self.closing[-1] += f", {len(result.skipped)} skipped"
        return result

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        TransactionTestCase._fixture_teardown = emptied  # type: ignore[attr-defined]

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        for connection, *_ in old_config:
            name = connection.settings_dict["NAME"]
            connection.close()  # a test may have ended it from outside
            with connections[connection.alias].cursor() as cursor:
                cursor.execute(
                    "select pg_terminate_backend(pid) from pg_stat_activity where datname = %s and pid <> "
                    "pg_backend_pid()",
                    [name],
                )
            connections[connection.alias].close()  # where a browser's loop runs it is another than `connection`
        super().teardown_databases(old_config, **kwargs)

    def run_tests(self, *args: Any, **kwargs: Any) -> int:
        # A test that never ends is told by where it stands, and fails.
        faulthandler.dump_traceback_later(LONGEST, exit=True)
        failures = super().run_tests(*args, **kwargs)
        print(*getattr(self, "closing", ["0 passed, 1 failed"]), sep="\n")
        return failures
