"""Where the sun stands."""
