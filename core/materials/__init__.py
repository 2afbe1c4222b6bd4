"""Generic materials, every value with where it is from, and how they enter a case."""
