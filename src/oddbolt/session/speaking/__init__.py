"""What can be said now, and what it means: the bench by voice."""
