"""What feeds a board: its sources, what they need, the way to the rail, and how long they last."""
