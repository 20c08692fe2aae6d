"""What to buy: the least money that keeps a kit in use."""
