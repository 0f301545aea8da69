"""Stations measured on their stand-ins."""

from nonna.bench.sheet.opening import prepared
from nonna.bench.sheet.standin_jobs import job_of, measured
from nonna.procedures.catalogue import evaluate
from nonna.procedures.session import Session
from nonna.standin.world import World


def on_standin(site, name, subject, *, seed=3, **setup):
    opened = prepared(site, name, subject)
    session = Session(name, opened.facts)
    for field, value in setup.items():
        session = session.with_setup(**{field: value})
    found = measured(job_of(site, session), World.from_seed(seed))
    return evaluate(session.facts.document(name, found.readings))
