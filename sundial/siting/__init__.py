"""Where to put the array: what every obstacle costs, what a change gives back, and the yard as a map of energy."""
