"""What holds a frame: ballast, buried posts and piers, ground screws, and the soil under them. Planning estimates."""
