"""What each foot bears, and what holds it."""
