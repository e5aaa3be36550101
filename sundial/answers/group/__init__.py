"""Several builds in one yard."""
