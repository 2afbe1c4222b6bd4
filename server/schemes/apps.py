from typing import Any

from django.apps import AppConfig
from django.db import transaction
from django.db.models.signals import post_delete


class SchemesConfig(AppConfig):
    name = "server.schemes"
    label = "schemes"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        post_delete.connect(_forget_document, sender=self.get_model("Basis"))


def _forget_document(instance: Any, **_: Any) -> None:
    """The document of a row goes with it, once that is certain."""
    path = instance.path
    if instance.document:
        transaction.on_commit(lambda: path.unlink(missing_ok=True))
