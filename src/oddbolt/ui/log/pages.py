"""The pages beside the photograph, by their places."""

LIFT_AS, ASK, TIME, SEEN = 0, 1, 2, 3  # what is being done
RUNNING, DEPTH = 0, 1  # what was done and found
