"""What stands over the window for a moment: the sheet of keys, the settings, the report of a failure."""
