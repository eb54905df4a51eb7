"""The WSGI application that waitress serves."""

import os
import threading
from importlib import import_module

from django.core.wsgi import get_wsgi_application

from speedchain.placement.field import warm

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wheelometron.settings")
application = get_wsgi_application()


LOADED_LATE = ("scipy.integrate", "scipy.linalg", "scipy.optimize", "scipy.signal", "scipy.stats")
"""What the core imports when it first needs it; scipy.stats alone takes half a second."""


def prepare() -> None:
    """What the first requests would otherwise wait for."""
    from speedchain.bench.moment import Moment, bench_moment
    from speedchain.bench.profile import Profile
    from speedchain.document.installation import example_installation
    from speedchain.evaluation import evaluate
    from speedchain.views.signal import view_signal

    warm()
    for name in LOADED_LATE:
        import_module(name)
    example = example_installation()
    evaluation = evaluate(example)
    view_signal(example, evaluation)
    bench_moment(example, evaluation, Moment(profile=Profile.swept(50, 50, 1), now_s=3))


threading.Thread(target=prepare, daemon=True).start()
