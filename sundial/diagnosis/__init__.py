"""Why is it low? A rule base of causes, the evidence that tells them apart, and invented days to learn on."""
