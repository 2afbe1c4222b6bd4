"""A made-up weather station: the generated Corrie year written as the file of a logger of another make."""

from __future__ import annotations

import numpy as np

from core.climate.data import shipped

HEAD = "A station nobody has\nTime;Air temp (°C);Rel. humidity %;Wind speed km/h;Wind dir deg;Rain mm"


def weather_file(change: dict[int, str] | None = None, hours: int = 8760) -> bytes:
    """Latin-1 text, semicolons, decimal commas, two header lines; `change` replaces rows by their hour."""
    climate = shipped("corrie")
    columns = [
        climate["temperature_c"],
        climate["relative_humidity"] * 100.0,
        climate["wind_speed_m_s"] * 3.6,
        climate["wind_direction_deg"],
        climate["rain_mm"],
    ]
    table = np.resize(np.stack(columns, axis=1), (hours, 5))
    rows = [";".join([f"{i}", *(f"{value:.2f}".replace(".", ",") for value in row)]) for i, row in enumerate(table)]
    for hour, row in (change or {}).items():
        rows[hour] = row
    return "\n".join([HEAD, *rows]).encode("latin-1")
