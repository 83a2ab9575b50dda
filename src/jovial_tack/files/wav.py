"""Recordings in the open WAV format, read as samples."""

from __future__ import annotations

import io
import wave
from pathlib import Path

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.errors import SoundError
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import reason, replace_file

_MOST_BYTES = 100_000_000


def read_wav(path: Path) -> tuple[Float, float]:
    """The samples (N,) of a recording, its channels as one, from -1 to 1; and how many a second.

    Raises SoundError that names the file and what is wrong with it.
    """
    try:
        with wave.open(io.BytesIO(read_regular(path, _MOST_BYTES))) as opened:
            wide, channels = opened.getsampwidth(), opened.getnchannels()
            rate, held = opened.getframerate(), opened.readframes(opened.getnframes())
    except (wave.Error, EOFError) as error:
        raise SoundError(f"no recording in WAV with plain samples: {path.name} ({error})") from None
    except OSError as error:
        raise SoundError(f"the recording cannot be read: {path.name} ({reason(error)})") from None
    whole = len(held) - len(held) % (wide * channels)
    if not whole or rate <= 0:
        raise SoundError(f"a recording without samples: {path.name}")
    return _samples(held[:whole], wide).reshape(-1, channels).mean(axis=1), float(rate)


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
