#!/bin/sh
# Pin requirements.in into requirements.lock, with hashes and without naming any package index.
# Needs the network; run it after changing requirements.in, then commit both.
set -eu
cd "$(dirname "$0")/.."
scratch=$(mktemp -d)
trap 'rm -rf "$scratch"' EXIT
python3 -m venv "$scratch/venv"
"$scratch/venv/bin/pip" -q install pip-tools
"$scratch/venv/bin/pip-compile" -q --generate-hashes --allow-unsafe --strip-extras \
  --no-emit-index-url --no-emit-find-links --no-emit-trusted-host --no-annotate --no-header \
  -o "$scratch/requirements.lock" requirements.in
if grep -nE '://|^--(extra-)?index' "$scratch/requirements.lock"; then
  echo "the lock names a host; not taken over" >&2
  exit 1
fi
mv "$scratch/requirements.lock" requirements.lock
