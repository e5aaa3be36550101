"""What this sun should give: at one moment, and through a series that was read."""
