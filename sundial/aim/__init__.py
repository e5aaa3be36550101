"""Aiming a frame: by compass, by the clock, by a shadow pin."""
