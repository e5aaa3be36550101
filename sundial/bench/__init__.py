"""The bench: a simulated controller drives a simulated mount under a sky of minutes, before a motor wears."""
