from typing import Any

from django.apps import AppConfig
from django.db import transaction
from django.db.models.signals import post_delete


class DossierConfig(AppConfig):
    name = "server.dossier"
    label = "dossier"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from server.dossier.work import REPORT, make
        from server.runs.kinds import register

        register(REPORT, make)
        post_delete.connect(_forget_file, sender=self.get_model("Report"))


def _forget_file(instance: Any, **_: Any) -> None:
    """The file of a report goes with its row, once that is certain."""
    path = instance.path  # the row has no number any more when that is certain
    transaction.on_commit(lambda: path.unlink(missing_ok=True))
