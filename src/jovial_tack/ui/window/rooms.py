"""The rooms of the desk, in the order of the work."""

from __future__ import annotations

from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.fit_up.room import FitUpRoom
from jovial_tack.ui.grip.room import GripRoom
from jovial_tack.ui.lay_out.room import LayOutRoom
from jovial_tack.ui.line_up.room import LineUpRoom
from jovial_tack.ui.logbook.room import LogbookRoom
from jovial_tack.ui.ratios.room import RatiosRoom
from jovial_tack.ui.room import Room
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.survey.room import SurveyRoom

ROOMS: tuple[type[Room], ...] = (
    SurveyRoom,
    LayOutRoom,
    RatiosRoom,
    BeltRoom,
    GripRoom,
    LineUpRoom,
    FitUpRoom,
    RunCheckRoom,
    LogbookRoom,
)
