"""Writes the pictures of the guide, smaller ones of docs/screenshots, beside its pages."""

import os
import sys
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage

ROOT = Path(__file__).resolve().parents[1]
GUIDE = ROOT / "src/ravden/data/guide"
WIDTH = 900


def main() -> None:
    for picture in sorted(GUIDE.glob("*.png")):
        image = QImage(str(ROOT / "docs/screenshots" / picture.name))
        if image.isNull():
            sys.exit(f"{picture.name} is not in docs/screenshots: make them first")
        image.scaledToWidth(WIDTH, Qt.TransformationMode.SmoothTransformation).save(str(picture))


if __name__ == "__main__":
    main()
