"""Build-ups: layers from outside to inside with framing, limits and how each is known."""
