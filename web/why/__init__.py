"""Why is it low: the suspects of a day and the next question; and the trainer, with days that were played."""
