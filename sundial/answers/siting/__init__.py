"""What shade takes, where the yard is best."""
