"""R and U of build-ups."""
