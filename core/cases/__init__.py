"""Benchmarks with their reference data, the example cases, and the runner of `verify`."""
