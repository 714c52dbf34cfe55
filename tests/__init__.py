"""Property tests try the same examples each time; with GEDULD_SEARCH set they look for new ones."""

import os

from hypothesis import settings

settings.register_profile("same", derandomize=True, database=None, deadline=None)
if not os.environ.get("GEDULD_SEARCH"):
    settings.load_profile("same")
