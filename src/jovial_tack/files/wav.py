"""Recordings in the open WAV format, read as samples."""

from __future__ import annotations

import io
import os
import struct
import wave
from pathlib import Path

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.errors import SoundError
from jovial_tack.files.reading import open_regular
from jovial_tack.files.whole import mark_read_in, reason, replace_file

#: No more of a recording is read than is listened to, s, nor than fits into memory easily.
_LISTENED_S, _MOST_FRAMES, _MOST_CHANNELS = 60.0, 12_000_000, 16
_WIDE = (1, 2, 3, 4)
_DAMAGED = (
    wave.Error,
    EOFError,
    ValueError,
    RuntimeError,
    struct.error,
    ZeroDivisionError,
    OverflowError,
)


def read_wav(path: Path) -> tuple[Float, float]:
    """The samples (N,) of a recording's first minute, its channels as one, from -1 to 1; and how many a
    second.

    Raises SoundError that names the file and what is wrong with it.
    """
    mark_read_in(path)
    try:
        with os.fdopen(open_regular(path), "rb") as file, wave.open(file) as opened:
            wide, channels = opened.getsampwidth(), opened.getnchannels()
            rate = opened.getframerate()
            if wide not in _WIDE:
                raise SoundError(f"samples of 8, 16, 24 or 32 bits: {path.name} has {8 * wide}")
            if channels > _MOST_CHANNELS:
                raise SoundError(f"a recording of up to {_MOST_CHANNELS} channels: {path.name}")
            most = min(round(_LISTENED_S * rate), _MOST_FRAMES)
            held = opened.readframes(min(opened.getnframes(), most))
    except _DAMAGED as error:
        raise SoundError(f"no recording in WAV with plain samples: {path.name} ({error})") from None
    except OSError as error:
        raise SoundError(f"the recording cannot be read: {path.name} ({reason(error)})") from None
    whole = len(held) - len(held) % (wide * channels)
    if not whole or rate <= 0:
        raise SoundError(f"a recording without samples: {path.name}")
    samples = _samples(held[:whole], wide).reshape(-1, channels)
    return samples.mean(axis=1), float(rate)


def _samples(held: bytes, wide: int) -> Float:
    """Samples of so many bytes each; those of one byte have no sign."""
    if wide == 1:
        return np.frombuffer(held, np.uint8).astype(float) / 128.0 - 1.0
    if wide == 3:
        # three bytes become the upper ones of four
        parts = np.zeros((len(held) // 3, 4), np.uint8)
        parts[:, 1:] = np.frombuffer(held, np.uint8).reshape(-1, 3)
        return parts.view("<i4")[:, 0].astype(float) / 2**31
    kind = {2: "<i2", 4: "<i4"}[wide]
    return np.asarray(np.frombuffer(held, kind).astype(float) / 2.0 ** (8 * wide - 1))


def write_wav(
    path: Path, samples: Float, rate_hz: float, *, wide: int = 2, channels: int = 1
) -> None:
    """Write samples (N,) as a recording, as loud as it can be, every channel alike; wide: bytes a
    sample.

    Raises SaveError.
    """
    most = float(np.abs(samples).max()) if samples.size else 0.0
    scaled = 0.8 * samples / (most or 1.0)
    if wide == 1:
        held = np.round(128 + 127 * scaled).astype(np.uint8)[:, None]
    else:
        whole = np.round(scaled * (2.0 ** (8 * wide - 1) - 1)).astype("<i4")
        held = whole.view(np.uint8).reshape(-1, 4)[:, :wide]
    stream = io.BytesIO()
    with wave.open(stream, "wb") as file:
        file.setnchannels(channels)
        file.setsampwidth(wide)
        file.setframerate(round(rate_hz))
        file.writeframes(np.tile(held, channels).tobytes())
    replace_file(path, stream.getvalue())
