"""Writes the licences of everything inside the package: ours, the typefaces', Python's, and those of every library."""

import sys
import sysconfig
from importlib.metadata import distributions
from pathlib import Path

ROOT = Path(__file__).parents[2]
BUILD_ONLY = {"pip", "pyinstaller-hooks-contrib", "altgraph", "packaging", "setuptools", "wheel", "ravden"}
HEAD = """Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/
Upstream-Name: ravden
Comment: Ravden itself is under the MIT licence. The package as a whole is distributed under the GPL, version 3,
 which PyQt6 inside it asks for. The full texts lie in /usr/share/doc/ravden/licences, a folder for each part:
"""


def main(target: Path) -> None:
    """Fill the documentation folder of the package."""
    licences = target / "licences"
    named = []
    for dist in sorted(distributions(), key=lambda d: d.name.lower()):
        texts = [f for f in dist.files or [] if is_licence(f.name) and ".dist-info" in str(f)]
        if dist.name.lower() in BUILD_ONLY:
            continue
        folder = licences / dist.name.lower()
        folder.mkdir(parents=True, exist_ok=True)
        for text in texts:
            (folder / text.name).write_bytes(text.locate().read_bytes())
        said = dist.metadata.get("License-Expression") or (dist.metadata.get("License") or "").split("\n")[0]
        if not texts:
            (folder / "LICENCE").write_text(
                f"{dist.name} {dist.version}: {said or 'see its classifiers'}\n"
                + "".join(f"{c}\n" for c in dist.metadata.get_all("Classifier") or [] if c.startswith("License"))
            )
        named.append(f"  {dist.name} {dist.version}: {said or 'as in its folder'}")
    own = {
        "ravden/LICENSE": ROOT / "LICENSE",
        "atkinson-hyperlegible/OFL.txt": ROOT / "src/ravden/data/fonts/OFL.txt",
        "python/LICENSE.txt": python_licence(),
    }
    for name, source in own.items():
        (licences / name).parent.mkdir(parents=True, exist_ok=True)
        (licences / name).write_bytes(source.read_bytes())
    named += ["  Atkinson Hyperlegible: SIL Open Font Licence 1.1", f"  Python {sys.version.split()[0]}: PSF licence"]
    (target / "copyright").write_text(HEAD + "\n".join(named) + "\n", encoding="utf-8")


def is_licence(name: str) -> bool:
    """Whether a file of a library is a licence of it."""
    return name.upper().startswith(("LICENSE", "LICENCE", "COPYING", "NOTICE"))


def python_licence() -> Path:
    """Python's own licence, where this build of it keeps one."""
    stdlib = Path(sysconfig.get_path("stdlib"))
    places = (
        stdlib / "LICENSE.txt",
        Path(f"/usr/share/doc/python3.{sys.version_info.minor}/copyright"),
        Path(f"/usr/share/doc/libpython3.{sys.version_info.minor}-stdlib/copyright"),
    )
    return next(p for p in places if p.exists())


if __name__ == "__main__":
    main(Path(sys.argv[1]))
