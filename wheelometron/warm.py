"""What the first requests would otherwise wait for, computed once beforehand."""

from importlib import import_module

LOADED_LATE = ("scipy.integrate", "scipy.linalg", "scipy.optimize", "scipy.signal", "scipy.stats")
"""What the core imports when it first needs it; scipy.stats alone takes half a second."""


def warm_up() -> None:
    """Load what is loaded late, and look once at an installation through the views that take longest."""
    from speedchain.bench.moment import Moment, bench_moment
    from speedchain.bench.profile import Profile
    from speedchain.document.installation import example_installation
    from speedchain.evaluation import evaluate
    from speedchain.placement.field import warm
    from speedchain.views.signal import view_signal

    warm()
    for name in LOADED_LATE:
        import_module(name)
    example = example_installation()
    evaluation = evaluate(example)
    view_signal(example, evaluation)
    bench_moment(example, evaluation, Moment(profile=Profile.swept(50, 50, 1), now_s=3))
