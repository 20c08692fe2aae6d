"""Where two pieces meet: contacts, coupling parts, what mates and what holds."""
