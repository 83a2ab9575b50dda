"""Who squeals: recordings made up with a squeal that swells once at each turn of one thing."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from jovial_tack.core.errors import SoundError
from jovial_tack.core.run_check.recorder import RATE_HZ, recording
from jovial_tack.core.run_check.squeal import who_squeals
from jovial_tack.files.wav import read_wav, write_wav


def test_what_beats_is_named_and_never_another() -> None:
    rng = np.random.default_rng(5)
    named, silent, told_revs = 0, 0, []
    for case in range(12):
        turns = {f"pulley {k}": float(v) for k, v in enumerate(rng.uniform(0.8, 3.2, size=5))}
        turns["belt"] = float(rng.uniform(0.15, 0.4))
        who = str(rng.choice(list(turns)))
        rpm, firings = rng.uniform(700, 2200), float(rng.choice([2, 3, 4]))
        squeals = case % 4 != 3  # every fourth has no squeal in it
        sound = recording(rng, rpm, firings, turns[who], 0.6 if squeals else 0.0)
        told = rpm * rng.uniform(0.97, 1.03)  # as read off a dial
        found = who_squeals(sound, RATE_HZ, told, turns, firings)
        told_revs.append(abs(found.crank_rpm / rpm - 1))
        assert not found.named or (squeals and who in found.named)
        named += found.named == (who,)
        silent += not squeals
    assert silent == 3 and named >= 7, named
    assert max(told_revs) < 0.006  # heard by the firing, more closely than told


def test_what_turns_alike_is_told_together_and_what_cannot_be_judged_is_refused() -> None:
    rng = np.random.default_rng(8)
    sound = recording(rng, 900.0, 4.0, 1.7, 0.8)
    turns = {"first": 1.70, "second": 1.71, "third": 2.4}
    assert set(who_squeals(sound, RATE_HZ, 900.0, turns, 4.0).named) == {"first", "second"}
    for samples, rate, rpm, said in (
        (sound[:RATE_HZ], RATE_HZ, 900.0, "3 seconds"),
        (sound, 4000, 900.0, "4,500"),
        (sound, RATE_HZ, 9.0, "100 to"),
        (np.zeros(5 * RATE_HZ), RATE_HZ, 900.0, "silent"),
    ):
        with pytest.raises(SoundError, match=said):
            who_squeals(samples, rate, rpm, turns, 4.0)


def test_recordings_of_every_width_read_alike(tmp_path: Path) -> None:
    sound = recording(np.random.default_rng(1), 900.0, 4.0, 1.7, 0.8, seconds=3.0)
    whole = 0.8 * sound / np.abs(sound).max()
    for wide, channels, off in ((1, 1, 0.01), (2, 2, 1e-4), (3, 1, 1e-6), (4, 2, 1e-8)):
        path = tmp_path / f"{wide}.wav"
        write_wav(path, sound, RATE_HZ, wide=wide, channels=channels)
        samples, rate = read_wav(path)
        assert rate == RATE_HZ and np.abs(samples - whole).max() < off, wide
    (tmp_path / "none.wav").write_text("no sound")
    with pytest.raises(SoundError, match=r"none\.wav"):
        read_wav(tmp_path / "none.wav")
    with pytest.raises(SoundError, match=r"gone\.wav"):
        read_wav(tmp_path / "gone.wav")
