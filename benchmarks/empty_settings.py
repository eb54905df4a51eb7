"""The app's server with an empty page of the same stack in place of the app (bench_pages)."""

from wheelometron.settings import *  # noqa: F403
from wheelometron.settings import BASE_DIR

FRONTEND_DIST = BASE_DIR / "frontend" / "empty" / "dist"
WHITENOISE_ROOT = FRONTEND_DIST
