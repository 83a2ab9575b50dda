"""The sheet of whatever spring keeps a belt tight: an arm's, or a slide's."""

from __future__ import annotations

from jovial_tack.document.model import SpringSlideTensioner
from jovial_tack.document.targets import ArmAt
from jovial_tack.sheets.arm import ARM
from jovial_tack.sheets.sheet import Sheet, Shown
from jovial_tack.sheets.slide import SLIDE


def _of(view: Shown[ArmAt]) -> Sheet[ArmAt]:
    return SLIDE if isinstance(view.drive.tensioner, SpringSlideTensioner) else ARM


SPRUNG: Sheet[ArmAt] = Sheet(
    title=lambda v: _of(v).title(v),
    subtitle=lambda v: _of(v).subtitle(v),
    figures=lambda v: _of(v).figures(v),
    acts=lambda v: _of(v).acts(v),
    caution=lambda v: _of(v).caution(v),
    findings=lambda v: _of(v).findings(v),
    is_there=lambda b, t: ARM.is_there(b, t) or SLIDE.is_there(b, t),
    related=lambda v: _of(v).related(v),
)
