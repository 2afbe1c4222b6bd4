"""Hourly weather: data, generator, sun on faces, driving rain, indoor air."""
