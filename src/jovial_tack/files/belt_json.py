"""What `belt` and `number` print with --json, key by key."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.belt.as_seen import AsFitted
from jovial_tack.answers.belt.buying import BeltChoice, BroughtHome
from jovial_tack.answers.belt.counter import Numbered, ToAskFor
from jovial_tack.answers.belt.feel import Feel, Felt
from jovial_tack.answers.belt.measured import Measured
from jovial_tack.answers.belt.tone import Heard
from jovial_tack.answers.belt.toothed import GUIDANCE, ToothedAnswer
from jovial_tack.answers.belt.window import Candidate, Window
from jovial_tack.answers.results import number
from jovial_tack.core.belt.numbers import Reading
from jovial_tack.files.results_json import place_json

Json = dict[str, Any]


def belt_choice_json(choice: BeltChoice) -> Json:
    """As `belt --json` tells it."""
    installed, window = choice.installed, choice.window
    return {
        "drive": choice.drive,
        "installed": None if installed is None else candidate_json(installed),
        "window": None if window is None else window_json(window),
        "candidates": [candidate_json(candidate) for candidate in choice.candidates],
        "bring_home": [brought_home_json(belt) for belt in choice.bring_home],
        "uncertain_mm": number(choice.uncertain_mm),
        "surveyed": choice.surveyed,
        "any_fits": number(choice.any_fits),
        "problem": choice.problem,
        "reason": choice.reason,
    }


def window_json(window: Window) -> Json:
    """The lengths that fit."""
    return {
        "shortest_mm": window.shortest_mm,
        "longest_mm": window.longest_mm,
        "mid_mm": window.mid_mm,
    }


def brought_home_json(belt: BroughtHome) -> Json:
    """One of the belts to bring home."""
    return {
        "number": belt.number,
        "effective_length_mm": belt.effective_length_mm,
        "probability": belt.probability,
    }


def _toggle(belt: Candidate) -> Json:
    """How far the adjuster is from its toggle: degrees of an arm, mm of a slide."""
    if belt.toggle is not None and belt.toggle.slide_mm is not None:
        return {"toggle_mm": number(belt.toggle.slide_mm)}
    return {"toggle_deg": None if belt.toggle is None else number(belt.toggle.arm_angle_deg)}


def candidate_json(belt: Candidate) -> Json:
    """A belt that was looked at; how it is put on follows where that was looked into."""
    told: Json = {
        "number": belt.number,
        "effective_length_mm": number(belt.effective_length_mm),
        **place_json(belt.place),
        "window_fraction": number(belt.window_fraction),
        "tension_n": number(belt.tension_n),
        "fits": belt.fits,
        "can_be_fitted": belt.can_be_fitted,
        "reason": belt.reason,
        "tension_hot_n": number(belt.tension_hot_n),
        "growth_left_mm": number(belt.growth_left_mm),
        **_toggle(belt),
        "price": number(belt.price),
        "count": belt.count,
        "runs_in_window": belt.runs_in_window,
        "holds": belt.holds,
        "too_tight": belt.too_tight,
    }
    if belt.fitting is not None:
        told |= {
            "slack_mm": number(belt.fitting.slack_mm),
            "last_pulley": belt.fitting.last.pulley,
            "leave_off": list(belt.fitting.leave_off),
            "peak_tension_n": number(belt.fitting.peak_tension_n),
        }
    return told


def as_fitted_json(found: AsFitted) -> Json:
    """As `belt --arm-at … --json` tells it."""
    return {
        "implied_mm": number(found.implied_mm),
        "label_mm": number(found.label_mm),
        "off_mm": number(found.off_mm),
        "sigma_mm": number(found.sigma_mm),
        "causes": [cause.words for cause in found.causes],
        "weights": [number(cause.weight) for cause in found.causes],
    }


def measured_json(found: Measured) -> Json:
    """As `belt --measured … --json` tells it."""
    return {
        "way": found.way,
        "reading_mm": number(found.reading_mm),
        "expected_mm": number(found.expected_mm),
        "old_mm": number(found.old_mm),
        "order_mm": number(found.order_mm),
        "sigma_mm": number(found.sigma_mm),
        "trade_mm": number(found.trade_mm),
        "trade_fits": found.trade_fits,
        "steps": list(found.steps),
    }


def felt_json(felt: Felt) -> Json:
    """As `belt --push … --play … --json` tells it."""
    return {
        "from": felt.span,
        "length_mm": number(felt.length_mm),
        "push_n": number(felt.push_n),
        "play_mm": number(felt.play_mm),
        "tension_n": number(felt.tension_n),
        "between_n": [number(n) for n in felt.between_n],
        "verdict": felt.verdict,
        "set_to": feel_json(felt.set_to),
        "least": None if felt.least is None else feel_json(felt.least),
        "most": None if felt.most is None else feel_json(felt.most),
    }


def heard_json(heard: Heard) -> Json:
    """As `belt --tone … --json`, or --twist, tells it."""
    bands = {"set_to": heard.set_to, "least": heard.least, "most": heard.most}
    return {
        "from": heard.span,
        "length_mm": number(heard.length_mm),
        "tone_hz": number(heard.tone_hz),
        **({} if heard.twist_nm is None else {"twist_nm": number(heard.twist_nm)}),
        "tension_n": number(heard.tension_n),
        "between_n": [number(n) for n in heard.between_n],
        "verdict": heard.verdict,
        **{
            name: None
            if one is None
            else {
                "tension_n": number(one.tension_n),
                "tone_hz": number(one.tone_hz),
                "twist_nm": number(one.twist_nm),
            }
            for name, one in bands.items()
        },
    }


def feel_json(feel: Feel) -> Json:
    """How a tension feels."""
    return {
        "tension_n": number(feel.tension_n),
        "push_n": number(feel.push_n),
        "play_mm": number(feel.play_mm),
    }


def reading_json(reading: Reading) -> Json:
    """As `number --json` tells it."""
    return {
        "scheme": reading.scheme,
        "profile": reading.profile,
        "ribs": reading.ribs,
        "length_mm": reading.length_mm,
        "length_kind": reading.length_kind,
        "width_mm": reading.width_mm,
        "prefix": reading.prefix,
        "suffix": reading.suffix,
        "style": reading.style,
    }


def to_ask_for_json(found: ToAskFor) -> Json:
    """As `number --length … --json` tells it."""
    return {
        "profile": found.profile,
        "width": found.width,
        "effective_length_mm": number(found.length_mm),
        "sigma_mm": number(found.sigma_mm),
        "first": numbered_json(found.first),
        "second": None if found.second is None else numbered_json(found.second),
        "not_to_take": list(found.not_to_take),
        "steps": list(found.steps),
    }


def numbered_json(belt: Numbered) -> Json:
    """A stocked belt in every scheme."""
    return {
        "number": belt.number,
        "elsewhere": dict(belt.elsewhere),
        "effective_length_mm": belt.effective_length_mm,
        "off_mm": belt.off_mm,
    }


def toothed_json(answer: ToothedAnswer) -> Json:
    """As `toothed --json` tells it."""
    drive = answer.drive
    return {
        "center_distance_mm": drive.center_distance_mm,
        "teeth_in_mesh": list(drive.teeth_in_mesh),
        "ratio": drive.ratio,
        "cam_play_deg_per_mm": drive.cam_play_deg(1.0),
        "belt_mm": drive.belt_mm,
        "pitch_radii_mm": list(drive.radii_mm),
        "belt_slack_mm": answer.slack_mm,
        "cam_play_deg": answer.play_deg,
        "one_tooth_deg": answer.one_tooth_deg,
        "warm_strain": answer.warm_strain,
        "warm_tension_change_n": answer.warm_tension_change_n,
        "warm_center_mm": answer.warm_center_mm,
        "pull_per_tooth_n": None if answer.pull_n is None else list(answer.pull_n),
        "jump_slack_mm": answer.jump_slack_mm,
        "least_mesh": min(drive.teeth_in_mesh),
        "cautions": list(drive.cautions()),
        "guidance": list(GUIDANCE),
    }
