"""Air through the leaks of a house: its ledger, and what flows through each row by stack, wind and fans."""
