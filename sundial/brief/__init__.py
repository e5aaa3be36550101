"""The brief: one build as an open JSON file."""
