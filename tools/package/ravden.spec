# One folder with the program, its Python and its libraries; see tools/package.sh, which builds from it.
import re
from pathlib import Path

from PyInstaller.utils.hooks import collect_data_files, collect_submodules

ROOT = Path(SPECPATH).parents[1]
# Parts of Qt, of Python and of the numeric libraries that nothing in Ravden reaches. What must stay though it looks idle:
# unittest (scipy.special asks for it) and numba.cuda (numba does).
EXCLUDES = ["ssl", "_ssl", "_hashlib", "tkinter", "lib2to3", "pydoc_data", "setuptools", "pkg_resources", "pip", "IPython", "matplotlib",
            "scipy.io", "scipy.signal", "scipy.cluster", "scipy.datasets", "scipy.misc", "scipy.odr",
            "scipy.stats", "scipy.integrate", "readline", "curses"]
# Shared with what the system's own libraries load: bringing an older one beside them breaks those.
FROM_SYSTEM = re.compile(r"^/(usr/)?lib/")
STILL_BROUGHT = re.compile(r"lib(python3|mpdec)")
NOT_OF_QT = re.compile(r"Qt6/(qml|translations)/|Qt6/plugins/(tls|qmltooling|sqldrivers|egldeviceintegrations|networkinformation|"
                       r"generic|position|printsupport|wayland-graphics-integration-server)/|"
                       r"plugins/platforms/libq(eglfs|linuxfb|minimalegl|vkkhrdisplay|vnc)|plugins/imageformats/libq(pdf|tiff|webp|gif|icns|tga|wbmp)|"
                       r"libQt6(Qml|Quick|Pdf|Sql|Test|VirtualKeyboard|EglFS|FFmpeg)\w*|lib(avcodec|avformat|avutil|swresample|swscale)|"
                       r"plugins/multimedia/libffmpeg|plugins/platforminputcontexts/libqtvirtualkeyboard|plugins/platformthemes/libqgtk3|"
                       # numba's other ways of running on many cores, which want libraries of their own
                       r"numba/np/ufunc/(tbb|omp)pool")

analysis = Analysis(
    [str(ROOT / "tools" / "package" / "entry.py")],
    pathex=[str(ROOT / "src")],
    datas=[(str(ROOT / "src" / "ravden" / "data"), "ravden/data"),
           *collect_data_files("tzdata"), *collect_data_files("holidays")],
    # Read when first asked for, by names the analysis does not see.
    hiddenimports=["scipy.special", "scipy.linalg", "scipy.optimize", "scipy.ndimage", "scipy.fft", "PIL.JpegImagePlugin", "PIL.PngImagePlugin",
                   "icalendar", "PyQt6.QtMultimedia", "PyQt6.QtDBus", "PyQt6.QtSvg",
                   *collect_submodules("ravden.journal.kinds"), *collect_submodules("ravden.ui.places"),
                   *collect_submodules("holidays"), *collect_submodules("tzdata")],
    excludes=EXCLUDES,
    # As source files, so that the compiler finds them by a path that is the same wherever the program is started from.
    module_collection_mode={"ravden.core.cure": "py", "ravden.core.schedule": "py"},
)


def wanted(entry):
    """Whether a library or file goes into the package."""
    target, source, _ = entry
    if NOT_OF_QT.search(target):
        return False
    return not FROM_SYSTEM.search(str(source)) or "lib-dynload" in str(source) or STILL_BROUGHT.search(Path(target).name)


binaries = [entry for entry in analysis.binaries if wanted(entry)]
datas = [entry for entry in analysis.datas if wanted(entry)]
# Stripping breaks OpenBLAS, whose own headers lie where strip looks for none.
exe = EXE(PYZ(analysis.pure), analysis.scripts, [], exclude_binaries=True, name="ravden", strip=False, upx=False, console=True)
COLLECT(exe, binaries, datas, strip=False, upx=False, name="ravden")
