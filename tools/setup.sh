#!/bin/sh
# Sets up Jontel in a virtual environment: sh tools/setup.sh [VENV]. Says what it could not do and how to do it.
set -eu
venv=${1:-.venv}
python=${PYTHON:-python3}
libraries="libegl1 libgl1 libxkbcommon0 libxkbcommon-x11-0 libdbus-1-3 libfontconfig1 libxcb-cursor0 libxcb-icccm4 \
libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-xinerama0 libxcb-xkb1"
venv_package=python3-venv

as_root() {
    if [ "$(id -u)" = 0 ]; then "$@"; else sudo -n "$@"; fi
}

can_install() {
    command -v apt-get >/dev/null 2>&1 || return 1
    [ "$(id -u)" = 0 ] || { command -v sudo >/dev/null 2>&1 && sudo -n true 2>/dev/null; }
}

"$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' || {
    echo "Jontel needs Python 3.11 or newer; set PYTHON=/path/to/python3.11 and try again." >&2
    exit 1
}

missing=""
if command -v dpkg-query >/dev/null 2>&1; then
    for library in $libraries; do
        dpkg-query -W -f '${Status}' "$library" 2>/dev/null | grep -q "ok installed" || missing="$missing $library"
    done
fi
"$python" -c 'import ensurepip, venv' 2>/dev/null || missing="$missing $venv_package"

if [ -n "$missing" ]; then
    if can_install; then
        echo "Installing what Qt needs:$missing"
        as_root apt-get update -qq
        # shellcheck disable=SC2086
        as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
    else
        echo "Qt may need system libraries that cannot be installed here without rights. Ask for:"
        echo "  apt-get install$missing"
    fi
fi

[ -x "$venv/bin/python" ] || "$python" -m venv "$venv"
"$venv/bin/python" -m pip install --quiet --disable-pip-version-check -r requirements.lock
"$venv/bin/python" -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
