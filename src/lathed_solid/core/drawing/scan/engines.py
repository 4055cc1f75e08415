"""The recognisers: the PP-OCRv6 model straight from its file, and Tesseract in process. Both read one upright line."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

import cv2
import numpy as np

from . import needs
from .ink import Gray
from .model import Said

#: Pixels of height the model was made for; lines read at once; the longest line, as a multiple of its height.
_HIGH, BATCH, _LONGEST = 48, 8, 40
#: Pixels of height at which Tesseract reads best, and next best; and the paper around.
FIRST_LOOK, SECOND_LOOK, _PAPER = 44, 32, 12
#: The scanner's noise is softened by so many pixels before it is made black and white: Tesseract's own way reads it.
_SOFT = 1.0
NOTHING = Said("", 0.0)


def session(path: str, threads: int = 2) -> object:
    """A model loaded; threads do not spin while they wait, which would take time from other work."""
    import onnxruntime

    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = threads
    options.inter_op_num_threads = 1
    options.log_severity_level = 3
    options.add_session_config_entry("session.intra_op.allow_spinning", "0")
    return onnxruntime.InferenceSession(path, options, providers=["CPUExecutionProvider"])


class Model:
    """PP-OCRv6: 18 708 signs, Ø ° ± × ↧ □ among them, the seats ⌴ ⌵ not."""

    def __init__(self, threads: int = 2) -> None:
        self._session = session(str(needs.recognizer()), threads)
        known = self._session.get_modelmeta().custom_metadata_map["character"]  # type: ignore[attr-defined]
        self._signs = ["", *known.split("\n"), " "]
        self._name = self._session.get_inputs()[0].name  # type: ignore[attr-defined]

    def read(self, crops: Sequence[Gray], told: Callable[[int], object] = lambda _: None) -> list[Said]:
        """What lines say; ``told`` how many are read, a batch at a time. Lines of like length are read together."""
        found = [NOTHING] * len(crops)
        order = sorted(range(len(crops)), key=lambda i: crops[i].shape[1] / crops[i].shape[0])
        for start in range(0, len(order), BATCH):
            chosen = order[start : start + BATCH]
            for i, said in zip(chosen, self._batch([crops[i] for i in chosen]), strict=True):
                found[i] = said
            told(min(start + BATCH, len(order)))
        return found

    def _batch(self, crops: Sequence[Gray]) -> Iterator[Said]:
        widths = [min(_LONGEST * _HIGH, max(16, int(np.ceil(_HIGH * c.shape[1] / c.shape[0])))) for c in crops]
        block = np.ones((len(crops), 3, _HIGH, max(*widths, _HIGH)), np.float32)
        for k, (piece, width) in enumerate(zip(crops, widths, strict=True)):
            how = cv2.INTER_AREA if piece.shape[0] > _HIGH else cv2.INTER_CUBIC
            block[k, :, :, :width] = cv2.resize(piece, (width, _HIGH), interpolation=how).astype(np.float32) / 127.5 - 1
        told = self._session.run(None, {self._name: block})[0]  # type: ignore[attr-defined]
        for best, sure in zip(told.argmax(2), told.max(2), strict=True):
            text, least, last = "", 1.0, 0
            for sign, p in zip(best, sure, strict=True):
                if sign and sign != last:
                    text, least = text + self._signs[sign], min(least, float(p))
                last = sign
            yield Said(text, least if text else 0.0)


class Tesseract:
    """The second opinion; its dictionaries are off, for notes are no words."""

    def __init__(self) -> None:
        import tesserocr

        self._api = tesserocr.PyTessBaseAPI(path=str(needs.tessdata()), lang="eng", psm=7, oem=1)
        for name in ("system", "freq", "number", "punc"):
            self._api.SetVariable(f"load_{name}_dawg", "0")

    def read(
        self, crops: Sequence[Gray], told: Callable[[int], object] = lambda _: None, high: int = FIRST_LOOK
    ) -> list[Said]:
        found = []
        for n, piece in enumerate(crops, 1):
            found.append(self._one(piece, high))
            if n % BATCH == 0:
                told(n)
        return found

    def _one(self, piece: Gray, high: int) -> Said:
        from PIL import Image

        k = min(high / (piece.shape[0] / 1.3), 4000 / max(1, piece.shape[1]))
        how = cv2.INTER_CUBIC if k > 1 else cv2.INTER_AREA
        sized = cv2.GaussianBlur(cv2.resize(piece, None, fx=k, fy=k, interpolation=how), (0, 0), _SOFT)
        _, black = cv2.threshold(sized, 0, 255, cv2.THRESH_OTSU)
        framed = cv2.copyMakeBorder(black, _PAPER, _PAPER, _PAPER, _PAPER, cv2.BORDER_CONSTANT, value=255)
        self._api.SetImage(Image.fromarray(framed))
        self._api.SetSourceResolution(300)
        text = self._api.GetUTF8Text().strip().replace("\n", " ")
        sure = self._api.AllWordConfidences()
        return Said(text, min(sure) / 100 if sure else 0.0)
