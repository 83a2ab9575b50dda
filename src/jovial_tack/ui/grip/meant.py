"""Which drive the cards of this room are about."""

from __future__ import annotations

from jovial_tack.document.targets import drive_of
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.session import Session


def drive_meant(session: Session) -> str | None:
    """The drive of what is selected, else one that slips, else the first; None without a belt."""
    build = session.history.build
    own = drive_of(session.selection)
    if own is not None:
        return own
    shaft = shaft_of(build, session.selection)
    for drive in build.drives:
        if shaft is not None and any(pulley.shaft == shaft for pulley in drive.pulleys):
            return drive.id
    slips = [d.id for d in session.results.drives if any(f.code == "slip" for f in d.findings)]
    here = [drive.id for drive in build.drives]
    return next((name for name in slips if name in here), here[0] if here else None)
