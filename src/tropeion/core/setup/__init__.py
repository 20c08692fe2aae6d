"""A rig as it goes out of the door: what is done in order, what is entered, how it balances, what goes together."""
