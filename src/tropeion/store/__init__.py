"""The collection on disk: SQLite, one transaction an action, a journal of every change."""
