from django.apps import AppConfig


class SurveyConfig(AppConfig):
    name = "server.survey"
    default_auto_field = "django.db.models.BigAutoField"
