"""The air of every space of a house by the hour: put together from elements, spaces, leaks and use; needs, humidity, months, factors b."""
