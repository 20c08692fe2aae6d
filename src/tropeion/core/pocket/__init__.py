"""Answers to carry: what a phone can look up where nothing computes."""
