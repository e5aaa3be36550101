"""What becomes of a year's energy."""
