# Sourced by ./start and ./check: a private environment in .venv/ from locked, hashed requirements.

# Libraries that Qt loads and a bare system may lack, and the Debian package of each.
kesh_libraries=(
  libGL.so.1:libgl1
  libEGL.so.1:libegl1
  libglib-2.0.so.0:libglib2.0-0
  libdbus-1.so.3:libdbus-1-3
  libfontconfig.so.1:libfontconfig1
  libfreetype.so.6:libfreetype6
  libxkbcommon.so.0:libxkbcommon0
  libxkbcommon-x11.so.0:libxkbcommon-x11-0
  libxcb-cursor.so.0:libxcb-cursor0
  libxcb-icccm.so.4:libxcb-icccm4
  libxcb-image.so.0:libxcb-image0
  libxcb-keysyms.so.1:libxcb-keysyms1
  libxcb-randr.so.0:libxcb-randr0
  libxcb-render-util.so.0:libxcb-render-util0
  libxcb-shape.so.0:libxcb-shape0
  libxcb-xinerama.so.0:libxcb-xinerama0
  libxcb-xkb.so.1:libxcb-xkb1
)

kesh_python() {
  local name
  for name in python3.13 python3.12 python3.11 python3; do
    if command -v "$name" >/dev/null 2>&1 && "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
      command -v "$name"
      return 0
    fi
  done
  echo "setup: Python 3.11 or newer is needed. Install it, for example: sudo apt-get install python3 python3-venv" >&2
  return 1
}

# Install missing system packages where that is allowed, otherwise print the exact line to type.
kesh_system() {
  local missing=() entry cache
  cache=$(ldconfig -p 2>/dev/null || /sbin/ldconfig -p 2>/dev/null || true)
  for entry in "${kesh_libraries[@]}"; do
    case "$cache" in *"${entry%%:*}"*) ;; *) missing+=("${entry##*:}") ;; esac
  done
  "$1" -c 'import venv, ensurepip' 2>/dev/null || missing+=(python3-venv)
  [ ${#missing[@]} -eq 0 ] && return 0
  if command -v apt-get >/dev/null 2>&1 && [ "$(id -u)" = 0 ]; then
    echo "setup: installing ${missing[*]}"
    { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >/dev/null && return 0
    echo "setup: the system packages could not be installed; type: apt-get update && apt-get install ${missing[*]}" >&2
    return 1
  fi
  if command -v apt-get >/dev/null 2>&1; then
    echo "setup: system packages are missing; type: sudo apt-get install ${missing[*]}" >&2
  else
    echo "setup: these libraries are missing; install them with your system's tool: ${missing[*]}" >&2
  fi
  return 1
}

# setup run | setup dev: make or refresh the environment; nothing to do and no network when nothing changed.
# `run` brings what Kesh needs, `dev` also what its checks need; an environment made for the checks serves both.
setup() {
  local here lock stamp python kind=$1
  here=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
  stamp="$here/.venv/.kesh-setup"
  lock="$here/requirements.lock"
  [ "$kind" = dev ] && lock="$here/requirements-dev.lock"
  if [ -x "$here/.venv/bin/python" ]; then
    [ "$(cat "$stamp-dev" 2>/dev/null)" = "$(kesh_stamp "$here")" ] && return 0
    [ "$kind" = run ] && [ "$(cat "$stamp" 2>/dev/null)" = "$(kesh_stamp "$here")" ] && return 0
  fi
  python=$(kesh_python) || return 1
  kesh_system "$python" || return 1
  echo "setup: making the environment in .venv (once; this takes a minute)"
  [ -x "$here/.venv/bin/python" ] || "$python" -m venv "$here/.venv" || return 1
  "$here/.venv/bin/python" -m pip install --quiet --disable-pip-version-check --require-hashes -r "$lock" || {
    echo "setup: the Python packages could not be installed. Check the network, then run this again" >&2
    return 1
  }
  kesh_link "$here" || return 1
  rm -f "$stamp" "$stamp-dev"
  kesh_stamp "$here" >"$stamp$([ "$kind" = dev ] && echo -dev || true)"
}

# Kesh itself is used where it stands: a line in a .pth file and a short command, nothing is built.
kesh_link() {
  local where
  where=$("$1/.venv/bin/python" -c 'import sysconfig; print(sysconfig.get_paths()["purelib"])') || return 1
  rm -rf "$where"/kesh-*.dist-info "$where"/__editable__.kesh* "$where"/__editable___kesh*
  printf '%s\n' "$1/src" >"$where/kesh.pth" || return 1
  printf '#!%s\nimport sys\n\nfrom kesh.line.main import main\n\nsys.exit(main())\n' "$1/.venv/bin/python" >"$1/.venv/bin/kesh" || return 1
  chmod +x "$1/.venv/bin/kesh"
}

# What the environment depends on: the lock files, this file, and where the folder stands.
kesh_stamp() {
  { cat "$1/requirements.lock" "$1/requirements-dev.lock" "$1/scripts/setup.sh"; printf '%s\n' "$1"; } | cksum
}
