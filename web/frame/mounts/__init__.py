"""What the page asks of each kind of mount: a module a kind, a template of how its headline goes on, and one of its own questions."""
