"""Whether beams bend or strain too much."""
