"""Moisture: steady by month, vapour profile, and transient."""
