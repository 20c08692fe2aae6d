"""In one's own network: which addresses, with which certificate, and who was let in."""
