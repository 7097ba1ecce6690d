#!/bin/sh
# Makes this folder ready: the system's packages, .venv, and what requirements.lock names.
# A second call finds its own mark and returns at once.
set -eu
cd "$(dirname "$0")/.."
PYTHON=${PYTHON:-python3}
MARK=.venv/.ready
STATE=$(cat requirements.lock pyproject.toml tools/setup.sh | cksum)
[ -f "$MARK" ] && [ "$(cat "$MARK")" = "$STATE" ] && exit 0

# Qt's own libraries, a display without a monitor, keys for it, and sound.
PACKAGES="libgl1 libegl1 libglib2.0-0 libdbus-1-3 libfontconfig1 libxkbcommon0 libxkbcommon-x11-0
libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0
libxcb-shape0 libxcb-xinerama0 libxcb-xkb1 xvfb xauth xdotool libportaudio2"

if command -v dpkg-query >/dev/null 2>&1; then
    if ! "$PYTHON" -c 'import ensurepip, venv' 2>/dev/null; then PACKAGES="$PACKAGES python3-venv"; fi
    missing=""
    for package in $PACKAGES; do
        dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing="$missing $package"
    done
    if [ -n "$missing" ]; then
        echo "setup: installing these system packages with apt:$missing"
        if [ "$(id -u)" = 0 ]; then as_root=""; elif command -v sudo >/dev/null 2>&1; then as_root="sudo"; else
            echo "setup: neither root nor sudo; install them, then call this again." >&2
            exit 1
        fi
        $as_root apt-get update -qq
        $as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
    fi
else
    echo "setup: this is not a Debian; make sure of Qt 6's system libraries, Xvfb and xdotool yourself."
fi

"$PYTHON" -c 'import sys; sys.exit(sys.version_info < (3, 11))' || {
    echo "setup: Python 3.11 or newer is needed; say which with make PYTHON=..." >&2
    exit 1
}
[ -x .venv/bin/python ] || { echo "setup: making .venv"; "$PYTHON" -m venv .venv; }
echo "setup: installing what requirements.lock names"
.venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements.lock
.venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
printf '%s' "$STATE" > "$MARK"
