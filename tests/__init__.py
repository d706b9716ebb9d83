"""Tests of everything, run by tests/run.py. How long an example takes is no test's subject."""

from hypothesis import HealthCheck, settings

settings.register_profile("ravden", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("ravden")
