"""What the array should give at a moment or along a series."""
