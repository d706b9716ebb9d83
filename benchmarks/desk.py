"""Settings, guide, keys and tables: from asking for one to it being drawn, against turning to the Film place.

Each is asked for in a new process, so that what it imports is counted, and then again; prints medians and their ratio.
"""

import os
import statistics
import subprocess
import sys
import tempfile
from datetime import UTC, datetime
from pathlib import Path

RUNS = 7
CODE = """
import sys, time
from pathlib import Path
from ravden.app import settings
from ravden.ui.app import make_app, make_window
from ravden.ui.shots import settle
folder = Path(sys.argv[1])
settings.save(settings.Settings(), folder / "settings.json")
app = make_app(["x"])
window = make_window(app, settings_file=folder / "settings.json", path=folder / "lane.ravden")
window.resize(1280, 800)
window.show()
window.begin()
settle(window)
window.turn_to("film")
settle(window)

def took(act):
    begin = time.perf_counter()
    act()
    window.grab()
    return 1000 * (time.perf_counter() - begin)

told = {}
for name, act in (
    ("film", lambda: window.turn_to("film")), ("settings", window.show_settings), ("guide", window.help.open_guide),
    ("table", window.help.show_tables),
):
    window.turn_to("rack" if name == "film" else "film")
    settle(window)
    told[name] = took(act)
print(told, flush=True)
import os
os._exit(0)
"""


def main():
    with tempfile.TemporaryDirectory() as folder:
        from ravden.demo import ferrow_lane

        ferrow_lane.build(Path(folder) / "lane.ravden", datetime.now(UTC))
        env = os.environ | {"QT_QPA_PLATFORM": "offscreen", "RAVDEN_HOME": folder}
        seen = []
        for _ in range(RUNS):
            done = subprocess.run(
                [sys.executable, "-c", CODE, folder], env=env, capture_output=True, text=True, check=True
            )  # fmt: skip
            seen.append(eval(done.stdout))
    base = statistics.median(s["film"] for s in seen)
    for name in seen[0]:
        mine = statistics.median(s[name] for s in seen)
        print(f"{name}: {mine:.0f} ms (150 asked), {mine / base:.2f} of turning to the Film place")


if __name__ == "__main__":
    main()
