"""Is it worth it? Money, ranges and a verdict."""
