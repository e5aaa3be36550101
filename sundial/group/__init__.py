"""Several builds in one yard: how each shades the others, what they make together, and arrays on one string."""
