"""What whole jobs through the window share."""

from tests.ui_fixtures import *  # noqa: F403
