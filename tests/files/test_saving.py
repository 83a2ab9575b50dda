"""Saving: whole or not at all, the one before kept, and a clear word when it cannot be done."""

from __future__ import annotations

import errno
import os
import stat
from pathlib import Path
from typing import Any

import pytest

from jovial_tack.core.errors import SaveError
from jovial_tack.document.edits.engine import set_title
from jovial_tack.files.build_file import fingerprint_of, write_build
from support import built, read_case

SAID = {errno.ENOSPC: "disk is full", errno.EROFS: "read-only", errno.EACCES: "may not write"}
CALLS = ["os.fsync", "os.replace", "os.link", "tempfile.mkstemp"]


@pytest.mark.parametrize("code", SAID)
@pytest.mark.parametrize("call", CALLS)
def test_a_save_that_fails_leaves_the_old_file(
    call: str, code: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    build = built(read_case("two_pulleys_locked")["build"])
    path = tmp_path / "keep.jtack"
    write_build(build, path)
    before = path.read_bytes()

    def refuse(*_: Any, **__: Any) -> None:
        raise OSError(code, os.strerror(code))

    with monkeypatch.context() as patched:
        patched.setattr(call, refuse)
        with pytest.raises(SaveError, match=SAID[code]) as told:
            write_build(set_title(build, "another"), path)
    assert "keep.jtack" in str(told.value)
    assert "\n" not in str(told.value)
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir() if not p.name.endswith(("k", "~"))] == []


def test_the_save_before_is_kept(tmp_path: Path) -> None:
    build = built(read_case("two_pulleys_locked")["build"])
    path = tmp_path / "a.jtack"
    write_build(build, path)
    first = path.read_bytes()
    path.chmod(0o640)
    mark = write_build(set_title(build, "second"), path)
    assert (tmp_path / "a.jtack~").read_bytes() == first
    assert b"second" in path.read_bytes()
    assert stat.S_IMODE(path.stat().st_mode) == 0o640
    assert fingerprint_of(path) == mark
    assert sorted(p.name for p in tmp_path.iterdir()) == ["a.jtack", "a.jtack~"]


def test_a_link_is_followed_and_a_place_that_is_not_there_is_told(tmp_path: Path) -> None:
    build = built(read_case("two_pulleys_locked")["build"])
    real = tmp_path / "real.jtack"
    write_build(build, real)
    link = tmp_path / "link.jtack"
    link.symlink_to(real)
    write_build(set_title(build, "through the link"), link)
    assert link.is_symlink()
    assert b"through the link" in real.read_bytes()
    with pytest.raises(SaveError, match="folder does not exist"):
        write_build(build, tmp_path / "nowhere" / "x.jtack")
    with pytest.raises(SaveError, match="is a folder"):
        write_build(build, tmp_path)
