"""Holes, pieces, edges and weights of the frame, and where to drill it."""
