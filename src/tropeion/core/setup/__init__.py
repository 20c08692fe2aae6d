"""Setting up a rig: steps in order, entries in the body, balance, accessories that go together."""
