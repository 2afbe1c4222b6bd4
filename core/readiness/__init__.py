"""Evidence to mechanism, mechanism to remedy, and whether an element may be covered: rules as data."""
