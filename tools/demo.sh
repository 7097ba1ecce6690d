#!/bin/sh
# With a display: the window on the demo logbook. With none: the same window, driven, under Xvfb.
set -eu
if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ]; then exec .venv/bin/aequitone demo; fi
echo "No display: driving the demo visit through the window under Xvfb."
exec sh tools/with-display.sh .venv/bin/aequitone demo --drive
