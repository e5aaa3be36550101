"""What a simulated controller does in a day or a year, and its table of angles."""
