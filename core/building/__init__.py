"""The whole building: heat loss before and after."""
