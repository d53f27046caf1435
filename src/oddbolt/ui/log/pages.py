"""The pages beside the photograph, by their places."""

LIFT_AS, ASK, TIME = 0, 1, 2  # what is being done
RUNNING, DEPTH = 0, 1  # what was done and found
