"""What is loaded late: a window that opens has not yet loaded what only later work asks for."""

import subprocess
import sys

LATE = (
    "scipy.stats", "scipy.optimize", "scipy.ndimage", "scipy.special", "cv2", "PIL", "maxflow", "trimesh", "manifold3d", "ezdxf", "lxml", "networkx",
    "icalendar", "contourpy", "PyQt6.QtSvg", "PyQt6.QtPrintSupport",
)  # fmt: skip
START = """
import sys
from kesh.ui import app
from kesh.demo.pictures import create_demo
from kesh.ui.settings import Settings
from pathlib import Path
app.application(without_display=True)
window = app.build(create_demo(Path(sys.argv[1])), Settings(), room="line-up")
window.resize(1280, 800)
window.show()
app.QApplication.processEvents()
app.QApplication.processEvents()
assert window.isVisible()
print([name for name in sys.argv[2:] if name in sys.modules])
window.close()
"""


def test_a_window_opens_without_what_only_later_work_asks_for(tmp_path) -> None:  # type: ignore[no-untyped-def]
    done = subprocess.run(
        [sys.executable, "-c", START, str(tmp_path / "demo.kesh"), *LATE], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    assert done.stdout.strip() == "[]"
    # the names are those of the libraries in use: each is loaded by what asks for it
    assert "cv2" in _loaded("import kesh.photo.silhouette")
    assert "scipy.optimize" in _loaded(
        "import kesh.science.roots.choice as c, numpy as np; from scipy.optimize import milp"
    )


def _loaded(code: str) -> set[str]:
    done = subprocess.run([sys.executable, "-c", f"{code}\nimport sys\nprint(*sys.modules)"], capture_output=True, text=True, check=True)  # fmt: skip
    return set(done.stdout.split())
