"""What tests of the window share."""

from tests.ui.log_steps import bench, demo  # noqa: F401
from tests.ui_fixtures import *  # noqa: F403
