"""Coupled heat and moisture transport in one dimension, EN 15026, by finite volumes."""
