"""What the wind does to a tilted panel field: forces, what gives way first, how high it may stand in each month."""
