"""What every room of the core takes from physics: constants, moist air, leaks of air under stack and wind. Knows no building, wall or case."""
