"""Why it may read low."""
