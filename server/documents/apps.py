from django.apps import AppConfig


class DocumentsConfig(AppConfig):
    name = "documents"

    def ready(self) -> None:
        from documents import signals  # noqa: F401
