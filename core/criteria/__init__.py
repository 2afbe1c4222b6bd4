"""What a result means: mould, timber, accumulation, and the verdict in words."""
