#!/bin/sh
# Runs a command with a display: the one there is, or a virtual one of its own.
set -eu
if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ]; then exec "$@"; fi
# A server that resets when its last client leaves refuses whoever connects in that moment.
exec xvfb-run -a -s "-screen 0 1920x1200x24 -noreset" "$@"
