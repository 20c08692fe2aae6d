"""The bench: what is measured and what is seen, and what it says of a length."""
