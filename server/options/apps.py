from django.apps import AppConfig


class OptionsConfig(AppConfig):
    name = "server.options"
    label = "options"

    def ready(self) -> None:
        from server.options.standing import STANDS, find
        from server.runs.kinds import register

        register(STANDS, find)
