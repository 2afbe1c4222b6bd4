from django.apps import AppConfig
from django.conf import settings


class DemoConfig(AppConfig):
    name = "demo"

    def ready(self) -> None:
        """The stand-ins that ship are attached where the real devices would be, where they are asked for."""
        if not settings.STAND_INS:
            return
        from demo.gauge import read
        from demo.suppliers import articles
        from server.library import suppliers
        from server.survey.gauges import Gauge, attach

        attach(Gauge("simulated gauge", read))
        suppliers.attach(suppliers.Supplier("simulated list: made up, no such shop", articles))
