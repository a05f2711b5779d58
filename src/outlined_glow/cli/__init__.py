"""The command line: the same actions as the window, without one."""
