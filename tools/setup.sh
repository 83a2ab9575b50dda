#!/bin/sh
# Set up what Jovial Tack needs: system packages (Debian and kin) and .venv from requirements.lock.
# Does nothing when all of it is there; a set-up that was interrupted is done afresh.
# usage: tools/setup.sh run|test
set -eu
cd "$(dirname "$0")/.."
purpose=${1:-run}

packages="python3-venv libgl1 libegl1 libxkbcommon0 libfontconfig1 libglib2.0-0 libdbus-1-3 \
libxkbcommon-x11-0 libxcb-cursor0 libxcb-icccm4 libxcb-keysyms1 libxcb-shape0"
[ "$purpose" = test ] && packages="$packages xvfb xauth desktop-file-utils appstream fonts-dejavu-core"

if command -v dpkg-query >/dev/null 2>&1; then
  missing=
  for package in $packages; do
    # libglib2.0-0 and a few others carry a t64 suffix on newer releases
    dpkg-query -W -f '${Status}\n' "$package" "${package}t64" 2>/dev/null \
      | grep -q '^install ok installed' || missing="$missing $package"
  done
  if [ -n "$missing" ]; then
    install="apt-get install -y --no-install-recommends$missing"
    if [ "$(id -u)" = 0 ]; then
      echo "Installing system packages:$missing"
      export DEBIAN_FRONTEND=noninteractive
      apt-get -qq update
      $install >/dev/null
    else
      echo "These system packages are needed first. Run this, then the same make command again:" >&2
      echo "  sudo $install" >&2
      exit 1
    fi
  fi
fi

python=
for candidate in python3 python3.13 python3.12 python3.11 /usr/bin/python3; do
  if "$candidate" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
    python=$candidate
    break
  fi
done
if [ -z "$python" ]; then
  echo "Python 3.11 or newer with venv is needed and was not found." >&2
  exit 1
fi

libraries=$(cat requirements.lock tools/setup.sh | sha256sum | cut -d' ' -f1)
program=$(sha256sum pyproject.toml | cut -d' ' -f1)
stamp=.venv/.libraries
if [ "$(cat "$stamp" 2>/dev/null)" != "$libraries" ] || ! .venv/bin/python -c '' 2>/dev/null; then
  echo "Setting up .venv (about a minute and a half, once) …"
  rm -rf .venv
  trap 'rm -rf .venv; echo "Set-up did not finish; nothing was left behind. Run it again." >&2' EXIT
  trap 'exit 1' INT TERM
  "$python" -m venv .venv
  .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements.lock
  echo "$libraries" > "$stamp"
  trap - EXIT
fi
if [ "$(cat .venv/.program 2>/dev/null)" != "$program" ]; then
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
  echo "$program" > .venv/.program
fi
