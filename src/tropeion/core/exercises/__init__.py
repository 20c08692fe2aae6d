"""Practice: questions made from the gear at hand, with one right answer each, and when they come again."""
