"""What grows with use: records of what was done with the gear. They refer to it by id and are no part of it."""
