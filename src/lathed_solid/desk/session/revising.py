"""Issuing the revision that is worked on: frozen as it is, with what was measured of it."""

from __future__ import annotations

import datetime

from ...core.job.revisions import issue
from ...core.refusal import Refusal
from .session import Session


def issue_revision(session: Session) -> str:
    """The letter of the revision that was frozen; empty when it could not be, and why is told."""
    current, proof = session.current, session.current.proof
    label = current.content.header.revision
    figures = (proof.mass.volume, proof.grams) if proof is not None else (None, None)
    try:
        job = issue(current.history.state, datetime.date.today().isoformat(), *figures)
    except Refusal as error:
        session.refuse(error)
        return ""
    session.take_job(job, f"revision {label} issued")
    session.say(f"Revision {label} is issued; work goes on as {job.content.header.revision}.", "good")
    return label
