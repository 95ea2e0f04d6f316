"""What Prometheus reads."""

import re

from tests.test_api import ApiCase


class Metrics(ApiCase):
    def test_requests_are_counted_by_view_and_status_and_what_waits_is_told(self) -> None:
        def count() -> float:
            told = self.client.get("/metrics").content.decode()
            found = re.findall(
                r"django_http_responses_total_by_status_view_method_total"
                r'\{method="GET",status="200",view="api:who"\} ([\d.]+)',
                told,
            )
            self.assertIn("nest_line_jobs_waiting 0", told)
            return float(found[0]) if found else 0.0

        before = count()
        for _ in range(3):
            self.client.get("/api/session")
        self.assertEqual(count(), before + 3)

    def test_it_tells_nobodys_words_or_names(self) -> None:
        id = self.new()
        self.client.get(f"/api/documents/{id}")
        told = self.client.get("/metrics").content.decode()
        self.assertNotRegex(told, r"(?i)flyer|\bada\b|string, bring")
