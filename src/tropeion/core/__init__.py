"""The job itself: no web, no database, no files, no clock."""
