#!/bin/sh
# Installs the program below PREFIX with its desktop entry, icons, metadata, man page and completions; `uninstall` takes
# exactly that away again.
set -eu
cd "$(dirname "$0")/.."
WHAT=${1:?install or uninstall}
PREFIX=${2:?a folder}
PYTHON=${PYTHON:-python3}
ID=org.aequitone.Aequitone
HOME_OF_IT="$PREFIX/lib/aequitone"
SHARE="$PREFIX/share"
ICONS="$SHARE/icons/hicolor"
SIZES="16 24 32 48 64 128 256"

uninstall() {
    rm -rf "$HOME_OF_IT"
    rm -f "$PREFIX/bin/aequitone" "$SHARE/applications/$ID.desktop" "$SHARE/metainfo/$ID.metainfo.xml" \
        "$SHARE/man/man1/aequitone.1" "$ICONS/scalable/apps/$ID.svg" \
        "$SHARE/bash-completion/completions/aequitone" "$SHARE/zsh/site-functions/_aequitone" \
        "$SHARE/fish/vendor_completions.d/aequitone.fish"
    for size in $SIZES; do rm -f "$ICONS/${size}x${size}/apps/$ID.png"; done
}

install_it() {
    "$PYTHON" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' || {
        echo "install: Python 3.11 or newer with venv is needed; say which with make PYTHON=..." >&2
        exit 1
    }
    uninstall
    mkdir -p "$PREFIX/bin" "$PREFIX/lib"
    "$PYTHON" -m venv "$HOME_OF_IT"
    PIP="$HOME_OF_IT/bin/python -m pip install -q --disable-pip-version-check"
    $PIP --require-hashes -r requirements-run.lock
    $PIP --no-deps .
    ln -s ../lib/aequitone/bin/aequitone "$PREFIX/bin/aequitone"
    install -Dm644 "packaging/$ID.desktop" "$SHARE/applications/$ID.desktop"
    install -Dm644 "packaging/$ID.metainfo.xml" "$SHARE/metainfo/$ID.metainfo.xml"
    install -Dm644 packaging/aequitone.1 "$SHARE/man/man1/aequitone.1"
    install -Dm644 src/aequitone/assets/icons/aequitone.svg "$ICONS/scalable/apps/$ID.svg"
    for size in $SIZES; do
        install -Dm644 "src/aequitone/assets/icons/aequitone-$size.png" "$ICONS/${size}x${size}/apps/$ID.png"
    done
    completion bash "$SHARE/bash-completion/completions/aequitone"
    completion zsh "$SHARE/zsh/site-functions/_aequitone"
    completion fish "$SHARE/fish/vendor_completions.d/aequitone.fish"
    echo "installed: $PREFIX/bin/aequitone"
}

completion() {
    mkdir -p "$(dirname "$2")"
    _AEQUITONE_COMPLETE="source_$1" "$PREFIX/bin/aequitone" > "$2"
}

case "$WHAT" in
    install) install_it ;;
    uninstall) uninstall ;;
    *) echo "install or uninstall, not $WHAT" >&2; exit 1 ;;
esac
