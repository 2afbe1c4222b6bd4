from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "server.library"
    label = "library"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from core.materials.library import attach_shelf
        from server.library.own import find

        attach_shelf(find)
