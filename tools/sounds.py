"""Makes the Booth's sounds from sines: run it again to change them. They are this project's own work.

ready: two rising notes (hands may go on); late: one low note twice (a minute past it); pot: three falling notes (the
mix is to be used up).
"""

import wave
from pathlib import Path

import numpy as np

RATE = 22_050  # [1/s]
FOLDER = Path(__file__).parents[1] / "src" / "ravden" / "data" / "sounds"
NOTES = {
    "ready": ((660.0, 0.0), (880.0, 0.18)),
    "late": ((330.0, 0.0), (330.0, 0.3)),
    "pot": ((784.0, 0.0), (659.0, 0.16), (523.0, 0.32)),
}  # pitch [Hz], start [s]


def sound(notes: tuple[tuple[float, float], ...], rings_s: float = 0.5) -> np.ndarray:
    """Struck notes as samples in -1..1."""
    out = np.zeros(int(RATE * (max(at for _, at in notes) + rings_s)) + 2)
    for pitch, at in notes:
        t = np.arange(int(RATE * rings_s)) / RATE
        struck = np.minimum(t / 0.008, 1.0) * np.exp(-t / 0.13)
        note = struck * (np.sin(2 * np.pi * pitch * t) + 0.35 * np.sin(4 * np.pi * pitch * t))
        start = int(RATE * at)
        out[start : start + len(t)] += note
    return 0.8 * out / np.abs(out).max()


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name, notes in NOTES.items():
        with wave.open(str(FOLDER / f"{name}.wav"), "wb") as f:
            f.setnchannels(1)
            f.setsampwidth(2)
            f.setframerate(RATE)
            f.writeframes((sound(notes) * 32_767).astype("<i2").tobytes())


if __name__ == "__main__":
    main()
