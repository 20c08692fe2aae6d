"""A camera that is worked on: what stands before it, how it stands, what it takes, and a card rehearsed on it."""
