#!/usr/bin/env bash
# Makes .venv from pinned, hashed requirements and installs what Qt needs of the system. Sourced by ./demo and ./check,
# which then call `setup run` or `setup dev`; quick when nothing has changed. RAVDEN_PYTHON names the Python to take,
# RAVDEN_VENV another folder than .venv.
set -euo pipefail

VENV=${RAVDEN_VENV:-.venv}
SILENCE_S=4 # without an answer this long, there is no network

die() { printf '%s\n' "$*" >&2; exit 4; }

# What Qt's offscreen, X11 and Wayland plugins, its network and its sound load: the package, and the library it brings.
QT_NEEDS="libgl1 libGL.so.1
libegl1 libEGL.so.1
libfontconfig1 libfontconfig.so.1
libdbus-1-3 libdbus-1.so.3
libglib2.0-0 libglib-2.0.so.0
libgssapi-krb5-2 libgssapi_krb5.so.2
libpulse0 libpulse.so.0
libwayland-cursor0 libwayland-cursor.so.0
libwayland-egl1 libwayland-egl.so.1
libxkbcommon0 libxkbcommon.so.0
libxkbcommon-x11-0 libxkbcommon-x11.so.0
libxcb-cursor0 libxcb-cursor.so.0
libxcb-icccm4 libxcb-icccm.so.4
libxcb-image0 libxcb-image.so.0
libxcb-keysyms1 libxcb-keysyms.so.1
libxcb-randr0 libxcb-randr.so.0
libxcb-render-util0 libxcb-render-util.so.0
libxcb-shape0 libxcb-shape.so.0
libxcb-xinerama0 libxcb-xinerama.so.0
libxcb-xkb1 libxcb-xkb.so.1"

find_python() {  # prints the first Python that will do; nothing where there is none
  local name
  for name in ${RAVDEN_PYTHON:-python3.11 python3.12 python3.13 python3}; do
    if command -v "$name" >/dev/null &&
      "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' >/dev/null 2>&1; then
      echo "$name"
      return
    fi
  done
}

missing_libraries() {  # prints the packages whose library the loader does not know
  local known package library
  # Read whole, once: a reader that stops at its first find makes the writer fail, and the library seem missing.
  known=$(PATH=$PATH:/sbin:/usr/sbin ldconfig -p)
  while read -r package library; do
    case $known in
      *"$library ("*) ;;
      *) echo "$package" ;;
    esac
  done <<<"$QT_NEEDS"
}

missing_packages() {  # missing_packages run|dev PYTHON: prints every package that is wanting, a line each
  if [ -z "$2" ]; then
    printf '%s\n' python3 python3-venv
  elif ! "$2" -c 'import ensurepip, venv' 2>/dev/null; then
    echo "$(basename "$2")-venv"
  fi
  missing_libraries
  if [ "$1" = dev ]; then
    command -v Xvfb >/dev/null || echo xvfb
    command -v dbus-daemon >/dev/null || echo dbus
  fi
}

install_packages() {  # install_packages PACKAGE...: as root, or where sudo asks for no password; else says what to do
  local as_root="" install="apt-get install -y --no-install-recommends $*"
  if ! command -v apt-get >/dev/null; then
    die "Ravden's set-up knows Debian and Ubuntu only. Missing here, by the names they have there: $*"
  fi
  if [ "$(id -u)" != 0 ]; then
    as_root=sudo
    sudo -n true 2>/dev/null || die "Some of the system's packages are missing, and this account may not install them.
Have this done once, then run the command again:
  sudo apt-get update && sudo $install"
  fi
  echo "Installing from the system's packages: $*"
  local brief="-o Acquire::Retries=0 -o Acquire::http::Timeout=$SILENCE_S -o Acquire::https::Timeout=$SILENCE_S"
  # shellcheck disable=SC2086
  $as_root env DEBIAN_FRONTEND=noninteractive apt-get update -qq $brief >/dev/null 2>&1 ||
    die "The list of the system's packages could not be fetched: is there a network? These are wanted: $*"
  # shellcheck disable=SC2086
  $as_root env DEBIAN_FRONTEND=noninteractive $install -qq $brief -o DPkg::Lock::Timeout=300 >/dev/null 2>&1 ||
    die "The system's packages could not be installed: is there a network? To see why: sudo $install"
}

stamp_of() {  # stamp_of KIND: what the environment was made from, and where
  printf '%s-%s %s\n' \
    "$(cat requirements/run.txt requirements/dev.txt tools/setup.sh pyproject.toml | sha256sum | cut -c1-16)" "$1" "$PWD"
}

same_python() {  # same_python PYTHON: whether the environment was made with one of that version
  local version='import sys; print(sys.version_info[:2])'
  [ "$("$1" -c "$version")" = "$("$VENV/bin/python" -c "$version" 2>/dev/null)" ]
}

set_up_already() {  # set_up_already KIND
  [ -z "${RAVDEN_PYTHON:-}" ] || same_python "$RAVDEN_PYTHON" || return 1
  [ ! -e "$VENV"/unfinished ] && grep -qxF "$(stamp_of "$1")" "$VENV"/ravden-setup 2>/dev/null &&
    "$VENV"/bin/ravden --version >/dev/null 2>&1
}

out_of_reach() {  # out_of_reach ERRORS: whether pip says that it reached nobody
  case $1 in
    *"ConnectionError"* | *"ConnectTimeout"* | *"ReadTimeout"* | *"IncompleteRead"* | *"ProtocolError"* | \
      *"Connection broken"* | *"Max retries exceeded"* | *"ProxyError"* | *"No matching distribution"*) ;;
    *) return 1 ;;
  esac
}

say_why() {  # say_why WHAT ERRORS: one line for what went wrong with pip, and where a person starts to mend it
  local what=$1 errors=$2
  case $errors in
    *"No space left on device"* | *"Disk quota exceeded"*)
      die "$what: the disk is full ($(df -Ph . | awk 'NR == 2 { print $4 }') left here). Make about 2 GB of room, run it again." ;;
    *"DO NOT MATCH THE HASHES"*)
      die "$what: a download came through damaged. Run it again." ;;
  esac
  ! out_of_reach "$errors" || die "$what: the package registry is out of reach. With a network, run it again."
  die "$what. The last of what was said: $(printf '%s\n' "$errors" | grep -v '^$' | tail -n 1)"
}

quietly() {  # quietly WHAT COMMAND...: its progress is shown, its complaints only in one line when it fails
  local what=$1 errors
  shift
  { errors=$("$@" 2>&1 >&3 3>&-); } 3>&1 || say_why "$what" "$errors"
}

pip_install() {
  local quiet=--quiet
  [ ! -t 1 ] || quiet=--progress-bar=on
  env -u PYTHONPATH -u PYTHONHOME PIP_USER=0 "$VENV"/bin/python -m pip install "$quiet" --disable-pip-version-check \
    --no-input --retries 2 "$@"
}

network_there() {  # whether the package registry answers at all: known at once, before pip tries for a minute
  local errors rc=0
  errors=$(timeout $SILENCE_S env -u PYTHONPATH -u PYTHONHOME PIP_USER=0 "$VENV"/bin/python -m pip download \
    --quiet --disable-pip-version-check --no-input --no-cache-dir --no-deps --retries 0 --timeout $SILENCE_S \
    --dest "$VENV"/asked tzlocal 2>&1) || rc=$?
  rm -rf "$VENV"/asked
  [ "$rc" != 124 ] && { [ "$rc" = 0 ] || ! out_of_reach "$errors"; }
}

make_environment() {  # make_environment KIND PYTHON
  if [ -e "$VENV"/unfinished ] || [ ! -e "$VENV"/ravden-setup ] || ! "$VENV"/bin/python -c '' 2>/dev/null ||
    [ "$(sed -n '1s/^[^ ]* //p' "$VENV"/ravden-setup 2>/dev/null)" != "$PWD" ]; then
    rm -rf "$VENV"
  elif [ -n "${RAVDEN_PYTHON:-}" ] && ! same_python "$RAVDEN_PYTHON"; then
    rm -rf "$VENV"
  fi
  echo "Setting up in this folder; this happens once, and the first time fetches about 250 MB."
  if [ ! -d "$VENV" ]; then
    quietly "The virtual environment could not be made" "$2" -m venv "$VENV"
    network_there || say_why "The Python packages could not be fetched" ConnectionError
  fi
  quietly "The virtual environment could not be written" touch "$VENV"/unfinished
  # For the checks only what they import is compiled, as it is imported: the rest would take longer than they do.
  local compiling=--compile
  [ "$1" = run ] || compiling=--no-compile
  quietly "The Python packages could not be installed" \
    pip_install "$compiling" --require-hashes -r "requirements/$1.txt"
  quietly "Ravden itself could not be installed into $VENV" pip_install --no-deps --no-build-isolation -e .
  quietly "Ravden's modules could not be compiled" "$VENV"/bin/python -m compileall -q src
  quietly "The solver could not be compiled" \
    "$VENV"/bin/python -c \
    'from ravden.core.cure import evaporative as cure; from ravden.core.schedule import odds; cure.warm_up(); odds.warm_up()'
  # What the tests need includes what the program needs.
  { stamp_of run; stamp_of "$1"; } 2>/dev/null >"$VENV"/ravden-setup ||
    say_why "Set-up could not be finished" "No space left on device"
  rm "$VENV"/unfinished
}

setup() {  # setup run|dev
  local kind=$1 python packages
  if [ -n "${RAVDEN_PYTHON:-}" ] && [ -z "$(find_python)" ]; then
    die "RAVDEN_PYTHON names $RAVDEN_PYTHON, which is no Python of 3.11 or newer that runs here."
  fi
  if set_up_already "$kind" && [ -z "$(missing_packages "$kind" "$VENV"/bin/python)" ]; then
    return
  fi
  { exec 9>.setup-lock; } 2>/dev/null ||
    die "This folder cannot be written to: copy it to one of your own, and run the command there."
  flock -n 9 || { echo "Another set-up is at work in this folder; waiting for it."; flock 9; }
  python=$(find_python)
  packages=$(missing_packages "$kind" "$python")
  if [ -n "$packages" ]; then
    # shellcheck disable=SC2086
    install_packages $packages
    python=$(find_python)
    [ -n "$python" ] || die "Python 3.11 or newer is needed, and this system's packages have only an older one."
  fi
  set_up_already "$kind" || make_environment "$kind" "$python"
  exec 9>&-
}
