"""From sound to the words of a grammar. Knows nothing of a teardown."""
