"""Money: finance, and how sure a figure is."""
