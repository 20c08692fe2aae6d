"""What a screen asks of the whole collection."""
