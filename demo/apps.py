from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "demo"

    def ready(self) -> None:
        """The stand-ins that ship are attached where the real devices would be."""
        from demo.gauge import read
        from demo.suppliers import articles
        from server.library import suppliers
        from server.survey.gauges import Gauge, attach

        attach(Gauge("simulated gauge", read))
        suppliers.attach(suppliers.Supplier("simulated list: made up, no such shop", articles))
