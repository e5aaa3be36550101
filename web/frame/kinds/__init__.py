"""What the page asks of each kind of frame: a module and a template a kind, and a picture for each choice."""
