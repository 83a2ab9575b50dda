"""Every kind of finding, once: its code, the verdict it counts in, and the station that mends it.

Codes stand in results files and are never renamed.
"""

from __future__ import annotations

from typing import Literal

from jovial_tack.core.value import Value

#: The stations of the work, in their order.
Station = Literal[
    "survey", "lay_out", "ratios", "belt", "grip", "line_up", "fit_up", "run_check", "logbook"
]
#: The verdicts that follow from findings; *Order* follows from the belts that can be bought.
Judged = Literal["Fits", "Holds", "Lines up"]


class Kind(Value, frozen=True):
    """A kind of finding. unjudged: why it counts in no verdict, if it does not."""

    code: str
    verdict: Judged | None
    mended_at: Station
    unjudged: str = ""


PULLEYS_OVERLAP = Kind("pulleys_overlap", "Fits", "lay_out")
NO_CONTACT = Kind("no_contact", "Fits", "lay_out")
BELT_CROSSES_ITSELF = Kind("belt_crosses_itself", "Fits", "lay_out")
WRONG_ROTATION = Kind("wrong_rotation", "Fits", "lay_out")
DRIVE_LOOP = Kind("drive_loop", "Fits", "lay_out")
CLEARANCE = Kind("clearance", "Fits", "lay_out")
NEAR_TOGGLE = Kind("near_toggle", "Fits", "lay_out")
BELT_TOO_SHORT = Kind("belt_too_short", "Fits", "belt")
BELT_TOO_LONG = Kind("belt_too_long", "Fits", "belt")
ARM_OUTSIDE_WINDOW = Kind("arm_outside_window", "Fits", "belt")
ARM_AT_STOP = Kind("arm_at_stop", "Fits", "belt")
TEETH = Kind("teeth", "Fits", "belt")
V_SEAT = Kind("v_seat", "Fits", "belt")

SLIP = Kind("slip", "Holds", "grip")
BELT_FLOATS = Kind("belt_floats", "Holds", "grip")
LOW_RESERVE = Kind("low_reserve", "Holds", "grip")
TOO_TIGHT = Kind("too_tight", "Holds", "grip")
HUB_LOAD = Kind("hub_load", "Holds", "grip")
SPAN_RESONANCE = Kind("span_resonance", "Holds", "grip")
LOW_WRAP = Kind("low_wrap", "Holds", "lay_out")
TENSIONER_ON_TIGHT_SIDE = Kind("tensioner_on_tight_side", "Holds", "lay_out")
SMALL_PULLEY = Kind("small_pulley", "Holds", "ratios")
OVERSPEED = Kind("overspeed", "Holds", "ratios")
UNDERSPEED = Kind("underspeed", "Holds", "ratios")
BELT_SPEED = Kind("belt_speed", "Holds", "ratios")

MISALIGNED = Kind("misaligned", "Lines up", "line_up")
RIB_MISMATCH = Kind("rib_mismatch", "Lines up", "line_up")
PROUD_OF_RIM = Kind("proud_of_rim", "Lines up", "line_up")

NO_ROOM_FOR_SPACER = Kind("no_room_for_spacer", "Lines up", "line_up")
EAR_GAP = Kind("ear_gap", "Lines up", "line_up")
BOLT_ENGAGEMENT = Kind("bolt_engagement", "Holds", "line_up")
BOLT_BOTTOMS = Kind("bolt_bottoms", "Holds", "line_up")
STACK_OPENS = Kind("stack_opens", "Holds", "line_up")
SLOT_SLIPS = Kind("slot_slips", "Holds", "line_up")
BRACKET_GIVES = Kind("bracket_gives", "Lines up", "line_up")
SHANK_BOTTOMS = Kind("shank_bottoms", "Holds", "line_up")

_OF_A_PLATE = "said of a plate, at its card and by the verb bracket; no drive hangs on it"
PLATE_IN_PIECES = Kind("plate_in_pieces", None, "line_up", _OF_A_PLATE)
PLATE_COLLIDES = Kind("plate_collides", None, "line_up", _OF_A_PLATE)
EDGE_DISTANCE = Kind("edge_distance", None, "line_up", _OF_A_PLATE)
HOLES_CLOSE = Kind("holes_close", None, "line_up", _OF_A_PLATE)
WEB_WIDTH = Kind("web_width", None, "line_up", _OF_A_PLATE)
WEB_BLOCKED = Kind("web_blocked", None, "line_up", _OF_A_PLATE)
NO_ROOM_FOR_TOOL = Kind("no_room_for_tool", None, "line_up", _OF_A_PLATE)
SLOT_SHORT = Kind("slot_short", None, "line_up", _OF_A_PLATE)
HOLE_OFF = Kind("hole_off", None, "line_up", _OF_A_PLATE)
NEAR_BEND = Kind("near_bend", None, "line_up", _OF_A_PLATE)

READING_SUSPECT = Kind(
    "reading_suspect",
    None,
    "line_up",
    "a reading is no part of the build; planes follow when taken over",
)
NOT_DETERMINED = Kind(
    "not_determined", None, "lay_out", "what is missing is not wrong; a verdict without it is open"
)
_OF_THE_LOGBOOK = "a reminder: what is due by use or time is no fault of the layout"
CHANGE_DUE = Kind("change_due", None, "logbook", _OF_THE_LOGBOOK)
RETENSION_DUE = Kind("retension_due", None, "logbook", _OF_THE_LOGBOOK)
WEAR_LIMIT = Kind("wear_limit", None, "logbook", _OF_THE_LOGBOOK)
ATTACHMENT_MISSING = Kind("attachment_missing", None, "logbook", _OF_THE_LOGBOOK)
ATTACHMENT_CHANGED = Kind("attachment_changed", None, "logbook", _OF_THE_LOGBOOK)
INTERCHANGE = Kind(
    "interchange", None, "survey", "said of a part on the shelf, which is in no drive"
)

#: All kinds by their codes.
KINDS = {kind.code: kind for kind in list(globals().values()) if isinstance(kind, Kind)}
