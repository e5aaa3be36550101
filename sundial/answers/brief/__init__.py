"""The schema of a brief."""
