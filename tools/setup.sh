#!/usr/bin/env bash
# Makes .venv from pinned, hashed requirements and installs what Qt needs of the system. Sourced by ./demo and ./check,
# with the name of a requirements file; quick when nothing has changed.
set -euo pipefail

die() { printf '%s\n' "$*" >&2; exit 4; }

# What Qt's offscreen and window plugins and its sound load; xvfb and xauth only where the tests open a real window.
QT_PACKAGES="libgl1 libegl1 libfontconfig1 libdbus-1-3 libglib2.0-0 libxkbcommon0 libxkbcommon-x11-0 libxcb-cursor0 \
libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-xinerama0 libxcb-xkb1 \
libpulse0"
QT_LIBRARIES="libGL.so.1 libEGL.so.1 libfontconfig.so.1 libdbus-1.so.3 libglib-2.0.so.0 libxkbcommon.so.0 \
libxkbcommon-x11.so.0 libxcb-cursor.so.0 libxcb-icccm.so.4 libxcb-image.so.0 libxcb-keysyms.so.1 libxcb-randr.so.0 \
libxcb-render-util.so.0 libxcb-shape.so.0 libxcb-xinerama.so.0 libxcb-xkb.so.1 libpulse.so.0"

find_python() {
  local name
  for name in python3.11 python3.12 python3.13 python3; do
    if command -v "$name" >/dev/null && "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))'; then
      echo "$name"
      return
    fi
  done
  echo ""
}

install_packages() {  # install_packages REASON PACKAGE...
  local reason=$1 as_root=""
  shift
  if [ "$(id -u)" != 0 ]; then as_root="sudo -n"; fi
  if ! command -v apt-get >/dev/null || { [ -n "$as_root" ] && ! sudo -n true 2>/dev/null; }; then
    die "$reason. This account may not install them; have these Debian/Ubuntu packages installed, then run this again:
  sudo apt-get install $*"
  fi
  echo "Installing from the system's packages: $*"
  $as_root apt-get update -qq || die "apt-get update failed: is the package registry within reach?"
  DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends "$@" >/dev/null ||
    die "Some packages could not be installed: $*"
}

setup() {  # setup run|dev
  local kind=$1 python missing="" library stamp
  python=$(find_python)
  if [ -z "$python" ]; then
    install_packages "Python 3.11 or newer is missing" python3 python3-venv
    python=$(find_python)
    [ -n "$python" ] || die "Python 3.11 or newer is needed, and this system's packages have only an older one."
  fi
  if ! "$python" -c 'import ensurepip, venv' 2>/dev/null; then
    install_packages "Python's venv module is missing" python3-venv
  fi
  for library in $QT_LIBRARIES; do
    PATH=$PATH:/sbin:/usr/sbin ldconfig -p | grep -qF "$library" || missing="$missing $library"
  done
  if [ -n "$missing" ]; then
    # shellcheck disable=SC2086
    install_packages "Qt needs libraries that are not here:$missing" $QT_PACKAGES
  fi
  if [ "$kind" = dev ] && ! command -v Xvfb >/dev/null; then
    install_packages "The test of the real window needs Xvfb" xvfb
  fi
  if [ "$kind" = dev ] && ! command -v dbus-daemon >/dev/null; then
    install_packages "The test of the desktop's notifications needs a message bus" dbus
  fi
  stamp=$(cat requirements/run.txt requirements/dev.txt tools/setup.sh pyproject.toml | sha256sum | cut -c1-16)-$kind
  if [ ! -x .venv/bin/python ] || ! .venv/bin/python -c '' 2>/dev/null; then
    rm -rf .venv
    "$python" -m venv .venv || die "The virtual environment could not be made with $python."
  fi
  if ! grep -qxF "$stamp" .venv/ravden-setup 2>/dev/null; then
    echo "Setting up the virtual environment; this happens once."
    .venv/bin/python -m pip install --quiet --disable-pip-version-check --require-hashes -r "requirements/$kind.txt" ||
      die "The Python packages could not be installed: is the package registry within reach?"
    .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e . ||
      die "Ravden itself could not be installed into .venv."
    .venv/bin/python -m compileall -q src
    .venv/bin/python -c 'from ravden.core.cure.evaporative import warm_up; warm_up()'
    printf '%s-run\n%s\n' "${stamp%-*}" "$stamp" > .venv/ravden-setup
  fi
}
