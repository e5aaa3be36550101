"""What is sawn from which board, what is bought, and in which order."""
