#!/usr/bin/env bash
# Builds dist/ravden_VERSION_amd64.deb. Run it on Debian 12, so that what it links with is there on every newer system.
# Needs dpkg-dev, libpython3 and binutils of the system, about 3 GB of room and ten minutes.
cd "$(dirname "$0")/.." && source tools/setup.sh
umask 022

PYTHON=${RAVDEN_PACKAGE_PYTHON:-/usr/bin/python3}
WORK=$PWD/build/package
ROOT=$WORK/root
VERSION=$(sed -n 's/^version = "\(.*\)"$/\1/p' pyproject.toml)
DEB=$PWD/dist/ravden_${VERSION}_amd64.deb
export SOURCE_DATE_EPOCH=${SOURCE_DATE_EPOCH:-$(git log -1 --format=%ct 2>/dev/null || date +%s)}

[ "$(dpkg --print-architecture)" = amd64 ] || die "The package is made for amd64, on amd64."
for tool in dpkg-shlibdeps objdump dpkg-deb; do
  command -v $tool >/dev/null || die "$tool is missing: sudo apt-get install --no-install-recommends dpkg-dev binutils"
done

frozen() {  # build/package/ravden: the program, its Python and its libraries
  if ! cmp -s requirements/package.txt "$WORK/venv/asked.txt"; then  # none yet, or of other packages
    rm -rf "$WORK/venv"
    "$PYTHON" -m venv "$WORK/venv" || die "The environment to build in could not be made with $PYTHON."
    quietly "The packages to build with could not be installed" \
      "$WORK/venv/bin/python" -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/package.txt
    cp requirements/package.txt "$WORK/venv/asked.txt"
  fi
  rm -rf "$WORK/ravden" "$WORK/made"
  quietly "Ravden could not be installed to build from" \
    "$WORK/venv/bin/python" -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --force-reinstall .
  "$WORK/venv/bin/pyinstaller" --noconfirm --log-level ERROR --distpath "$WORK" --workpath "$WORK/made" tools/package/ravden.spec
}

tree() {  # build/package/root: as it will lie on the user's disk
  rm -rf "$ROOT"
  mkdir -p "$ROOT/opt" "$ROOT/usr/bin" "$ROOT/usr/share/"{applications,metainfo,mime/packages,man/man1,doc/ravden/licences} \
    "$ROOT/usr/share/icons/hicolor/scalable/apps" "$ROOT/DEBIAN"
  cp -a "$WORK/ravden" "$ROOT/opt/ravden"
  ln -s /opt/ravden/ravden "$ROOT/usr/bin/ravden"
  local data=src/ravden/data
  cp $data/desktop/ravden.desktop "$ROOT/usr/share/applications/"
  cp $data/desktop/org.ravden.ravden.metainfo.xml "$ROOT/usr/share/metainfo/"
  cp $data/desktop/ravden-shop.xml "$ROOT/usr/share/mime/packages/"
  cp $data/icons/ravden.svg "$ROOT/usr/share/icons/hicolor/scalable/apps/"
  gzip -9n <$data/desktop/ravden.1 >"$ROOT/usr/share/man/man1/ravden.1.gz"
  "$WORK/venv/bin/python" tools/package/licences.py "$ROOT/usr/share/doc/ravden"
  # Whole seconds, as an archive keeps them: the compiled solver is stamped with the program it belongs to.
  find "$ROOT" -exec touch -h -d "@$SOURCE_DATE_EPOCH" {} +
}

# Compiles what the demo and three computations need into $1, with the program at /opt/ravden.
COMPILE='set -euo pipefail
  export NUMBA_CACHE_DIR=$1 HOME=$1/home XDG_RUNTIME_DIR=$1
  /opt/ravden/ravden demo --offscreen "$1/shots" >/dev/null
  for kind in cure film rubout; do /opt/ravden/ravden compute $kind <tools/package/$kind.json >/dev/null; done
  rm -rf "$1/home" "$1/shots"'

at_its_place() {  # the program seen at /opt/ravden, in a mount namespace where there can be one; else laid there meanwhile
  if unshare --mount ${NOT_ROOT:+--map-root-user} true 2>/dev/null; then
    unshare --mount ${NOT_ROOT:+--map-root-user} bash -euo pipefail -c '
      mount -t tmpfs none /opt && mkdir /opt/ravden && mount --bind "$1/opt/ravden" /opt/ravden && bash -c "$2" - "$3"
    ' - "$ROOT" "$COMPILE" "$WORK/solver"
  else  # a root that is no mount point has no namespaces of mounts
    [ ! -e /opt/ravden ] || die "/opt/ravden is there already, and no mount namespace can be made here to hide it."
    mkdir -p /opt && mv "$ROOT/opt/ravden" /opt/ravden || die "/opt cannot be written to, and no mount namespace can be made here."
    local rc=0
    bash -c "$COMPILE" - "$WORK/solver" || rc=$?
    mv /opt/ravden "$ROOT/opt/ravden"
    return $rc
  fi
}

solver() {  # compiled where it will lie, since the compiler notes the place; last, since it notes the program too
  mkdir -p "$WORK/solver"
  rm -rf "$WORK/solver"/*
  at_its_place || die "The solver could not be compiled in place."
  mkdir "$ROOT/opt/ravden/solver"
  cp -a "$WORK/solver/." "$ROOT/opt/ravden/solver"
  find "$ROOT/opt/ravden" -newermt "@$SOURCE_DATE_EPOCH" -exec touch -h -d "@$SOURCE_DATE_EPOCH" {} +
}

depends() {  # the system's packages that the libraries inside are linked with
  mkdir -p "$WORK/deps/debian"
  printf 'Source: ravden\n\nPackage: ravden\nArchitecture: amd64\n' >"$WORK/deps/debian/control"
  local inside folders=()
  mapfile -t inside < <(find "$ROOT/opt/ravden" -type f \( -name '*.so' -o -name '*.so.*' -o -name ravden \) \
    -exec sh -c 'for f; do head -c4 "$f" | grep -q ELF && echo "$f"; done' - {} +)
  while read -r folder; do folders+=("-l$folder"); done < <(printf '%s\n' "${inside[@]}" | xargs -d '\n' dirname | sort -u)
  (cd "$WORK/deps" && dpkg-shlibdeps -O --ignore-missing-info "${folders[@]}" "${inside[@]}" 2>"$WORK/shlibdeps.log") |
    sed -n 's/^shlibs:Depends=//p'
}

control() {
  cat >"$ROOT/DEBIAN/control" <<END
Package: ravden
Version: $VERSION
Architecture: amd64
Maintainer: The Ravden developers <ravden@localhost>
Section: misc
Priority: optional
Installed-Size: $(du -sk --exclude=DEBIAN "$ROOT" | cut -f1)
Depends: $1
Description: plans and tracks the finish on instruments
 Keeps the record of every coat, sanding and reading on a guitar or another
 instrument, and works out how much film is on each zone, when it may be
 levelled, rubbed out and cased, and which grits bring it to gloss.
END
}

mkdir -p "$WORK" dist
[ "$(id -u)" = 0 ] || NOT_ROOT=yes
echo "-- the program in one folder"; frozen
echo "-- as it will be installed"; tree
echo "-- the solver, compiled ahead"; solver
echo "-- what it depends on"; needs=$(depends); [ -n "$needs" ] || die "dpkg-shlibdeps found nothing: see $WORK/shlibdeps.log"
control "$needs"
# Of 423 MB: 38 s and 134 MB so; 158 s and 128 MB at 16; 356 s and 120 MB at 19; xz, at 6, is 112 MB and many minutes.
dpkg-deb --root-owner-group -Zzstd -z12 --build "$ROOT" "$DEB"
ls -l "$DEB" | awk '{ printf "%.1f MB, ", $5 / 1e6 }'
du -sm "$ROOT" | awk '{ print $1 " MB installed" }'
