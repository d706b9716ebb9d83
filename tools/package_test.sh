#!/usr/bin/env bash
# Tries the package as a user would get it: tools/package_test.sh [FILE.deb] [SUITE], SUITE being bookworm if not given.
# As root with debootstrap: in a bare root of that suite, with only what the package depends on, and no Python. Else:
# unpacked into a private /opt with this system's Python out of the way. A root once made is kept in $RAVDEN_ROOTS.
cd "$(dirname "$0")/.." && source tools/setup.sh
DEB=$(realpath "${1:-$(ls -t dist/ravden_*_amd64.deb | head -n 1)}")
SUITE=${2:-bookworm}
BASE=${RAVDEN_ROOTS:-/var/tmp/ravden-roots}/$SUITE
CASES=$PWD/tools/package
PASSED=0 FAILED=0

say() {  # say WHAT COMMAND...: passes or fails, and says which
  local what=$1
  shift
  if "$@" >>"$LOG" 2>&1; then PASSED=$((PASSED + 1)); echo "passed  $what"
  else FAILED=$((FAILED + 1)); echo "FAILED  $what (see $LOG)"; fi
}

finish() {
  echo "$PASSED passed, $FAILED failed"
  [ "$FAILED" = 0 ] && [ "$PASSED" -gt 0 ]
}

# What is tried, wherever it lies. `user COMMAND...` runs it as a person with the home in $HOME_OF.
program() {
  say "it says its version" user 'ravden --version | grep -q "^ravden [0-9]"'
  say "pictures of every main view" user 'ravden demo --offscreen "$HOME/shots" && [ "$(ls "$HOME/shots" | wc -l)" -ge 15 ]'
  for kind in cure film rubout plan; do
    say "compute $kind" user "ravden compute $kind <\$CASES/$kind.json | grep -q '^{\".*}\$'"
  done
  say "nothing was compiled anew" user '[ -z "$(find "$HOME/.cache/ravden/solver" -name "*.nb?" -newer /opt/ravden/ravden)" ]'
  say "bad input is one line and 2" user 'rc=0; echo "{" | ravden compute cure 2>"$HOME/said" >/dev/null || rc=$?
    [ "$rc" = 2 ] && [ "$(wc -l <"$HOME/said")" = 1 ]'
  say "no display is one line and 3" user 'rc=0; env -u DISPLAY -u WAYLAND_DISPLAY ravden 2>"$HOME/said" || rc=$?
    [ "$rc" = 3 ] && [ "$(wc -l <"$HOME/said")" = 1 ]'
  say "a home that cannot be written: it computes, and leaves nothing behind" user 'mkdir -p "$HOME/none" && chmod 500 "$HOME/none"
    HOME=$HOME/none ravden compute cure <$CASES/cure.json >/dev/null && ! ls -d /tmp/ravden-solver-* 2>/dev/null'
  say "a home that cannot be written: the demo says so in one line, and 2" user 'rc=0
    HOME=$HOME/none QT_QPA_PLATFORM=offscreen ravden demo 2>"$HOME/said" || rc=$?
    [ "$rc" = 2 ] && [ "$(grep -c "^ravden: " "$HOME/said")" = 1 ] && ! grep -q Traceback "$HOME/said"'
}

in_bare_root() {
  ROOT=$(mktemp -d "${TMPDIR:-/tmp}/ravden-root.XXXX")
  trap 'rm -rf --one-file-system "$ROOT"' EXIT
  if [ ! -x "$BASE/bin/bash" ]; then
    mkdir -p "$BASE"
    debootstrap --variant=minbase "$SUITE" "$BASE" >/dev/null || die "The bare root of $SUITE could not be made."
  fi
  cp -a "$BASE/." "$ROOT" && cp /etc/resolv.conf "$ROOT/etc/" 2>/dev/null || true
  mkdir -p "$ROOT/cases" && cp "$CASES"/*.json "$ROOT/cases" && cp "$DEB" "$ROOT/ravden.deb"
  mount -t proc proc "$ROOT/proc" && mount --rbind /dev "$ROOT/dev"
  CASES=/cases
  inside() { chroot "$ROOT" env -i PATH=/usr/sbin:/usr/bin:/sbin:/bin DEBIAN_FRONTEND=noninteractive bash -euc "$1"; }
  user() {
    chroot --userspec=1000:1000 "$ROOT" env -i PATH=/usr/bin:/bin HOME=/home/maker CASES=$CASES LANG=C.UTF-8 bash -euo pipefail -c "$1"
  }
  say "apt installs it" inside 'apt-get update -qq && apt-get install -y -qq --no-install-recommends /ravden.deb'
  say "no Python beside it" inside '! command -v python3'
  inside 'useradd -m -u 1000 maker'
  program
  say "removed and installed again" inside 'apt-get remove -y -qq ravden && [ ! -e /opt/ravden ] && apt-get install -y -qq /ravden.deb'
  # As a desktop has them; they read what the package laid there.
  user 'QT_QPA_PLATFORM=offscreen RAVDEN_HOME=$HOME/shop RAVDEN_REPORT_PAINT=1 ravden demo'
  say "its file is known by its type, and opens with it" inside '
    apt-get install -y -qq --no-install-recommends shared-mime-info desktop-file-utils libglib2.0-bin
    update-desktop-database
    cd /home/maker && cp shop/made-up-workshop.ravden named-otherwise
    gio info -a standard::content-type shop/made-up-workshop.ravden | grep -q application/x-ravden-shop
    gio info -a standard::content-type named-otherwise | grep -q application/x-ravden-shop
    gio mime application/x-ravden-shop | grep -q ravden.desktop'
  say "purged, nothing is left" inside 'apt-get purge -y -qq ravden
    [ -z "$(find / -xdev -iname "*ravden*" -not -path "/home/*" -not -path "/ravden.deb" -not -path "/tmp/*" -not -path "/var/cache/apt/*" | tee /dev/stderr)" ]'
  umount -l "$ROOT/dev" "$ROOT/proc"
}

unpacked() {
  ROOT=$(mktemp -d) && trap 'rm -rf "$ROOT"' EXIT
  dpkg-deb -x "$DEB" "$ROOT/tree"
  mkdir "$ROOT/home" "$ROOT/empty" && mount -t tmpfs none /opt && mkdir /opt/ravden && mount --bind "$ROOT/tree/opt/ravden" /opt/ravden
  # This system's Python out of the way: no library of it can be found by the package's own.
  for there in /usr/lib/python3* /usr/local/lib/python3*; do [ ! -d "$there" ] || mount --bind "$ROOT/empty" "$there"; done
  user() { env -i PATH=/opt/ravden:/usr/bin:/bin HOME="$ROOT/home" CASES="$CASES" LANG=C.UTF-8 bash -euo pipefail -c "$1"; }
  say "every library inside finds what it links with" bash -c '! find /opt/ravden -name "*.so*" -exec ldd {} + 2>/dev/null | grep "not found"'
  program
  for file in usr/bin/ravden usr/share/applications/ravden.desktop usr/share/mime/packages/ravden-shop.xml \
    usr/share/metainfo/org.ravden.ravden.metainfo.xml usr/share/man/man1/ravden.1.gz usr/share/doc/ravden/copyright; do
    say "$file" test -L "$ROOT/tree/$file" -o -s "$ROOT/tree/$file"
  done
}

if [ -z "${RAVDEN_UNSHARED:-}" ]; then
  LOG=$(mktemp) && : >"$LOG"
  RAVDEN_UNSHARED=yes LOG=$LOG exec unshare --mount $([ "$(id -u)" = 0 ] || echo --map-root-user) --propagation private "$0" "$DEB" "$SUITE"
fi
if [ "$(sed -n 's/^ *0 *0 *//p' /proc/self/uid_map | head -c 5)" = 42949 ] && command -v debootstrap >/dev/null; then
  echo "-- in a bare root of $SUITE"
  in_bare_root
else
  echo "-- unpacked, with this system's Python out of the way"
  unpacked
fi
finish
