"""The test runner: Django's, which ends with one line that counts, and first ends stray sessions of the test database."""

import unittest
from typing import Any

from django.db import connections
from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Django's runner with a closing line `N passed, N failed, N skipped`."""

    def run_suite(self, suite: Any, **kwargs: Any) -> Any:
        result: unittest.TestResult = super().run_suite(suite, **kwargs)
        # A test with several parts that fail is one.
        faulty = [test for test, _ in (*result.failures, *result.errors)]
        failed = len({getattr(t, "test_case", t).id() for t in faulty}) + len(result.unexpectedSuccesses)
        self.closing = f"{result.testsRun - failed - len(result.skipped)} passed, {failed} failed"
        if result.skipped:
            self.closing += f", {len(result.skipped)} skipped"
        return result

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        for connection, *_ in old_config:
            name = connection.settings_dict["NAME"]
            connection.close()  # a test may have ended it from outside
            with connections[connection.alias].cursor() as cursor:
                cursor.execute(
                    "select pg_terminate_backend(pid) from pg_stat_activity where datname = %s and pid <> pg_backend_pid()",
                    [name],
                )
        super().teardown_databases(old_config, **kwargs)

    def run_tests(self, *args: Any, **kwargs: Any) -> int:
        failures = super().run_tests(*args, **kwargs)
        print(getattr(self, "closing", "0 passed, 1 failed"))
        return failures
