"""The weather year."""
