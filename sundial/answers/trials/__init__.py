"""What a trial of two arms shows."""
