"""What the page would ask about the throw-away kinds of ``tests/core/kinds``."""
