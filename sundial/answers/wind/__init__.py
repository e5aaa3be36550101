"""Forces, what gives way first, how high it may stand, and what a forecast asks."""
