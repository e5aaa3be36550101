"""Two arms beside each other: designs, run sheets, repeats; what a trial shows is computed when it is shown."""
