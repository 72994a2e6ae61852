# Shared by ./start and ./check: makes the environment in .venv once, and again when its lock changes.
# Usage: environment LOCK   (LOCK is run or check). Says what is missing and how to get it, then exits 1.

say() { printf '%s\n' "$*" >&2; }

# The system's own comes first: it is built for speed, which takes a fourteenth off a move of a dial.
find_python() {
    local name bare=""
    for name in /usr/bin/python3 python3 python3.14 python3.13 python3.12 python3.11; do
        if command -v "$name" >/dev/null &&
            "$name" -c 'import sys; sys.exit(not (3, 11) <= sys.version_info[:2] <= (3, 14))' 2>/dev/null; then
            if "$name" -c 'import venv, ensurepip' 2>/dev/null; then
                command -v "$name"
                return 0
            fi
            bare="$name"
        fi
    done
    if [ -n "$bare" ]; then
        say "Python's venv module is missing.  Get it:  sudo apt install python3-venv"
    else
        say "Iron Trail needs Python 3.11 to 3.14 and found none.  Get it:  sudo apt install python3 python3-venv"
    fi
    return 1
}

# Debian's package for each system library that Qt loads.
debian_package() {
    case "$1" in
        libGL.so*) echo libgl1 ;;
        libEGL.so*) echo libegl1 ;;
        libOpenGL.so*) echo libopengl0 ;;
        libfontconfig.so*) echo libfontconfig1 ;;
        libfreetype.so*) echo libfreetype6 ;;
        libxkbcommon.so*) echo libxkbcommon0 ;;
        libxkbcommon-x11.so*) echo libxkbcommon-x11-0 ;;
        libdbus-1.so*) echo libdbus-1-3 ;;
        libglib-2.0.so* | libgthread-2.0.so*) echo libglib2.0-0 ;;
        libX11-xcb.so*) echo libx11-xcb1 ;;
        libX11.so*) echo libx11-6 ;;
        libSM.so*) echo libsm6 ;;
        libICE.so*) echo libice6 ;;
        libxcb.so*) echo libxcb1 ;;
        libxcb-cursor.so*) echo libxcb-cursor0 ;;
        libxcb-icccm.so*) echo libxcb-icccm4 ;;
        libxcb-image.so*) echo libxcb-image0 ;;
        libxcb-keysyms.so*) echo libxcb-keysyms1 ;;
        libxcb-randr.so*) echo libxcb-randr0 ;;
        libxcb-render-util.so*) echo libxcb-render-util0 ;;
        libxcb-render.so*) echo libxcb-render0 ;;
        libxcb-shape.so*) echo libxcb-shape0 ;;
        libxcb-shm.so*) echo libxcb-shm0 ;;
        libxcb-sync.so*) echo libxcb-sync1 ;;
        libxcb-util.so*) echo libxcb-util1 ;;
        libxcb-xfixes.so*) echo libxcb-xfixes0 ;;
        libxcb-xkb.so*) echo libxcb-xkb1 ;;
        *) echo "$1" ;;
    esac
}

# Libraries that the dynamic linker cannot find for the part of Qt in use ($1: offscreen or window).
check_system_libraries() {
    local qt missing plugin
    qt=$(echo "$root"/.venv/lib/python3*/site-packages/PySide6)
    plugin="$qt/Qt/plugins/platforms/libqoffscreen.so"
    [ "$1" = window ] && plugin="$qt/Qt/plugins/platforms/libqxcb.so"
    missing=$(ldd "$qt"/Qt/lib/libQt6Widgets.so.6 "$qt"/Qt/lib/libQt6DBus.so.6 "$plugin" 2>/dev/null |
        sed -n 's/^\s*\(\S*\) => not found.*/\1/p' | sort -u)
    [ -z "$missing" ] && return 0
    say "Qt needs system libraries that are not here.  Get them:"
    say "  sudo apt install $(for library in $missing; do debian_package "$library"; done | sort -u | tr '\n' ' ')"
    return 1
}

environment() {
    local lock="$root/requirements/$1.txt" stamp="$root/.venv/ready-$1" python want
    want=$(cat "$root"/requirements/*.txt "$root/pyproject.toml" "$root/setup/environment.sh" | sha256sum | cut -d' ' -f1)
    [ "$(cat "$stamp" 2>/dev/null)" = "$want" ] && return 0
    python=$(find_python) || return 1
    exec 9>"$root/.environment.lock"
    flock 9 || return 1
    if [ "$(cat "$stamp" 2>/dev/null)" != "$want" ]; then
        say "Making the environment in .venv (once; a minute or two, about 1 GB) ..."
        rm -f "$root"/.venv/ready-*
        "$root/.venv/bin/python" -c 'import pip' 2>/dev/null || "$python" -m venv --clear "$root/.venv" || return 1
        if ! "$root/.venv/bin/python" -m pip install -q --disable-pip-version-check --no-compile --require-hashes \
            --only-binary=:all: -r "$lock"; then
            say "The packages could not be installed: see above.  Is the package index reachable, is the disk full?"
            say "Nothing is lost: run the same command again."
            return 1
        fi
        "$root/.venv/bin/python" -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation \
            -e "$root" || return 1
        # Read once, here, on all cores, and not while a window is open: many packages take seconds. Some have tests that
        # are no Python of today, or templates that are none at all.
        "$root/.venv/bin/python" -m compileall -q -j 0 -x 'site-packages/(.*/tests?|pip|setuptools)/' \
            "$root"/.venv/lib/python3*/site-packages >/dev/null || true
        "$root/.venv/bin/python" -m compileall -q "$root/src" || return 1
        check_system_libraries offscreen || return 1
        # The checks compile the engine themselves, beside what does without.
        if [ "$1" = run ]; then
            say "Compiling the engine (once, about a minute) ..."
            "$root/.venv/bin/python" -m irontrail warm || return 1
        fi
        echo "$want" >"$stamp"
        [ "$1" = check ] && echo "$want" >"$root/.venv/ready-run"
    fi
    flock -u 9
    return 0
}
