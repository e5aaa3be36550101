"""Trials: two ways beside each other, from the design and its run sheet to a ratio with its interval."""
