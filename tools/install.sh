#!/bin/sh
# Put Jovial Tack into the user's home, or take it out again; nothing outside the home is touched.
# usage: tools/install.sh install|uninstall   (FILES_ONLY=1: only what the desktop reads, for tests)
set -eu
cd "$(dirname "$0")/.."
share=${XDG_DATA_HOME:-$HOME/.local/share}
bin=$HOME/.local/bin
home=$share/jovial-tack
id=org.jovial_tack.JovialTack
entry=$share/applications/$id.desktop
metainfo=$share/metainfo/$id.metainfo.xml
mime=$share/mime/packages/jovial-tack.xml
icon=$share/icons/hicolor/scalable/apps/jovial-tack.svg
command=$bin/jovial-tack

refresh() {
  # what the desktop keeps of these folders; each tool is used if it is there
  command -v update-desktop-database >/dev/null 2>&1 && update-desktop-database -q "$share/applications" || true
  command -v update-mime-database >/dev/null 2>&1 && update-mime-database "$share/mime" >/dev/null 2>&1 || true
  command -v gtk-update-icon-cache >/dev/null 2>&1 && gtk-update-icon-cache -q -t "$share/icons/hicolor" 2>/dev/null || true
}

case "${1:-}" in
install)
  if [ "${FILES_ONLY:-}" != 1 ]; then
    echo "Installing into $home …"
    rm -rf "$home/venv"
    trap 'rm -rf "$home/venv"; echo "Not installed; nothing was left behind." >&2' EXIT
    .venv/bin/python -m hatchling build -t wheel -d "$home/wheel" >/dev/null
    .venv/bin/python -m venv "$home/venv"
    .venv/bin/python tools/runtime_lock.py > "$home/runtime.lock"
    "$home/venv/bin/python" -m pip install -q --disable-pip-version-check --require-hashes \
      -r "$home/runtime.lock"
    "$home/venv/bin/python" -m pip install -q --disable-pip-version-check --no-deps "$home"/wheel/*.whl
    rm -rf "$home/wheel" "$home/runtime.lock"
    trap - EXIT
  fi
  mkdir -p "$bin" "$(dirname "$entry")" "$(dirname "$metainfo")" "$(dirname "$mime")" "$(dirname "$icon")"
  ln -sf "$home/venv/bin/jovial-tack" "$command"
  # an Exec line wants quotes round a path with spaces, and doubled per cent signs
  program=$(printf '%s' "$home/venv/bin/jovial-tack" | sed 's/%/%%/g; s/[\\&|]/\\&/g')
  sed "s|@PROGRAM@|\"$program\"|" "desktop/$id.desktop.in" > "$entry"
  cp "desktop/$id.metainfo.xml" "$metainfo"
  cp desktop/jovial-tack.xml "$mime"
  cp src/jovial_tack/data/icons/jovial-tack.svg "$icon"
  refresh
  echo "Installed. Start it from the menu, or as $command."
  ;;
uninstall)
  rm -rf "$home/venv"
  rm -f "$command" "$entry" "$metainfo" "$mime" "$icon"
  rmdir "$home" 2>/dev/null || true
  refresh
  echo "Uninstalled. Builds, settings and logs stay where they are."
  ;;
*)
  echo "usage: tools/install.sh install|uninstall" >&2
  exit 2
  ;;
esac
