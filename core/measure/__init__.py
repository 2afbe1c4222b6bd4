"""What site measurements mean: blower door, surface temperatures, wood moisture."""
