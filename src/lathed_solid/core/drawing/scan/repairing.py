"""From what a recogniser said to a note that the program's grammar reads. Only what is known to be mixed up is changed,
and a sign only where its place or the shape of its ink says so.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from .model import Glyph

#: Signs that stand for another: wide forms, look-alikes of other scripts, other ways to draw the same.
_ALIKE = {
    "－": "-", "—": "-", "–": "-", "一": "-", "−": "-", "×": "x", "✕": "x", "＋": "+", "十": "+", "：": ":", "，": ",",
    "．": ".", "（": "(", "）": ")", "∅": "Ø", "⌀": "Ø", "ø": "Ø", "φ": "Ø", "Φ": "Ø", "@": "Ø", "©": "Ø", "®": "Ø",
    "º": "°", "˚": "°", "口": "□", "ロ": "□", "日": "□", "曰": "□",
    "’": "'", "′": "'", "‘": "'", "“": '"', "”": '"', "″": '"', "⊔": "⌴",
    "凵": "⌴", "∪": "⌴", "∨": "⌵", "√": "⌵", "//": "/", "¢": "Ø", "Ï": "I", "↓": "↧", "Ī": "↧", "工": "↧", "↨": "↧",
    "⊤": "↧", "·": " ", "Ⅱ": "II", "〇": "0", "é": "e", "Ｍ": "M", "Ｒ": "R",
}  # fmt: skip
_WORDS = (
    "THRU|DEEP|deep|EQ|SP|ON|PCD|HOLES|MAX|MIN|DIA|REF|CHAM|BREAK|EDGES|cbore|CBORE|csk|CSK|UNC|UNF|UNEF|wide|WIDE|A/F|"
    r"B\.C\."
)
_ONE, _ZERO = r"[Il|!\]i]", r"[OoQ]"
#: A leader's shoulder or a frame's corner read as signs, in front of a note.
_STRAY = re.compile(r"^[\s\-~|<>_*;/\\'\"=\]}{`!^+∠←→⌐°·]+(?=\S)")

#: Signs of other scripts that no note is written with: bits of lines, read by a recogniser that knows them all. In
#: front they are a leader's; elsewhere they hide a sign, and the line reads as nothing.
_FOREIGN = re.compile(r"[\u2e80-\u9fff\uf900-\ufaff\u0e00-\u0eff\u0600-\u06ff]")

Rule = tuple[re.Pattern[str], str]


def _rules(*pairs: tuple[str, str]) -> tuple[Rule, ...]:
    return tuple((re.compile(pattern), to) for pattern, to in pairs)


#: Two strokes side by side are eleven where a number stands.
_ELEVEN = _rules((r"II(?= )|I[Il](?=[ .,x])|(?<=Ø)[Il]{2}|(?<=[ x])[Il]{2}(?= )", "11"))
#: Letters for digits, by their neighbours; gone over three times, for one mended makes the next plain.
_DIGITS = _rules(
    (rf"(?<=[\d.,±/ØRMCxX+-]){_ONE}(?=[\d.,xX°\s/'Il|!Oo+-]|$)", "1"),
    (rf"(?<![A-Za-z\d]){_ONE}(?=\s?x\s?\d\d)", "1"),
    (rf"(?<![A-Za-z]){_ONE}(?=[\d.,:/])|(?<=[MR]){_ONE}(?=[OoxX\d]|$)|(?<=:){_ONE}$", "1"),
    (
        rf"(?<=[\d.,]){_ZERO}(?![A-Za-z])|(?<=[+\-±]){_ZERO}(?=[.,\d])|(?<=R){_ZERO}(?=[.,])|"
        rf"(?<![A-Za-z]){_ZERO}(?=[.,]\d)|(?<=\d){_ZERO}(?=[xX.\d])",
        "0",
    ),
    (rf"(?<=[±+\-/Ø]){_ZERO}(?=\d)", "0"),
    (rf"(?<=[ \d]){_ZERO}(?=\d)|^{_ZERO}(?=\d)", "Ø"),
    (r"(?<=\d)S(?=[\d.\s]|$)|(?<=M)S(?=[\sx\-]|$)|(?<=[±.])S|(?<=Ø)S(?=[\s.\d])", "5"),
    (r"(?<=[\d.])B(?=\d)", "8"),
    (r"(?<=[\d.])Z(?=\d)", "2"),
)
#: What is left once digits are digits.
_TIDY = _rules(
    (r"(?<=\d)\.(?=\s?-)", ""),
    (r"(?<=\d)\.\.(?=\d)", "."),
    (r"(?<=x)\s?\.(?=\d\d?°)", " "),  # no chamfer is of half a degree
    (r"(?<=°)\.(?=\s?±)|(?<=↧)\s?'(?=\s?\d)", ""),
    (r"\b0N\b", "ON"),
    (r"\bG[lI|](?=/\d)", "G1"),
    (r"^(\d+) ?x 0(?=\.\d+ THRU)|^(\d+) x (?=\d[\d.]* (THRU|DEEP))", r"\1\2x Ø"),  # so many lengths go through nothing
    (r"\b[TI7]HR[uU]\b", "THRU"),
    (r"ØØ+", "Ø"),
    (r"Ø\s+(?=[\d.])", "Ø"),
    (r"^(\d+)\s?[xX*]\s?(?=[ØMRC\d])", r"\1x "),
)
_SEATS = _rules(
    (r"^□\s?(?=Ø)|^[ULu]\s?(?=[ØO0])|^L_?J?\s?(?=Ø)|^LI\s?(?=Ø)", "⌴ "),
    (r"^[VvY\\/]{1,2}\s?(?=Ø)", "⌵ "),
)
_SPACES = _rules(
    (r"(?<=[A-Za-z]{2})(?=\.\d)", " "),
    (rf"(?<=\d)(?=({_WORDS})\b)", " "),
    (r"\s+", " "),
)


def _ruled(text: str, rules: Sequence[Rule]) -> str:
    for pattern, to in rules:
        text = pattern.sub(to, text)
    return text


def plain(text: str) -> str:
    """Text in the signs that notes are written with, runs of blanks one blank."""
    for seen, meant in _ALIKE.items():
        text = text.replace(seen, meant)
    text = re.sub(r"[。｡](?=\s*$)", "°", text)
    text = _FOREIGN.sub("¿", re.sub(rf"^({_FOREIGN.pattern}|\s)+", "", text))
    return re.sub(r"\s+", " ", text).strip()


def repaired(text: str, unit: str, shapes: Sequence[Glyph] = ()) -> str:
    """A line as it would be typed. In mm a 0 before a digit is a Ø that was misread; in inches only shapes tell."""
    text = _ruled(plain(text), _ELEVEN)
    if shapes:
        text = with_signs(text, shapes)
    text = _trimmed(text, unit)
    for _ in range(3):
        text = _ruled(text, _DIGITS)
    if re.search(r"\d ?q6$", text):
        text = re.sub(r"(?<=\d)\s?q(?=6$)", " g", text)
    after_zero = r"(?=\d)(?!0*\s*(/|$))" if unit == "mm" else r"(?=[1-9])"
    text = re.sub(rf"(?<![\d.,±+\-/])0{after_zero}", "Ø", text)
    text = _ruled(text, _TIDY)
    if not re.match(r"^(1:\d+|\d+:1)$", text):
        text = re.sub(r"(?<=\d)(?<!^1)(?<!\b1):(?=\d\d?\b)", ".", text)
    text = _depths(text, any(g.sign == "↧" for g in shapes))
    if not re.search(r"M\d", text):
        text = re.sub(r"(\d)\s*x\s*(\d)", r"\1 x \2", text)
    text = _ruled(text, _SEATS)
    if re.search(r"x \d\d\s?[oO°]$", text):
        text = re.sub(r"(\d)\s?[oO°]\s*$", r"\1°", text)
    text = _ruled(text, _SPACES)
    if not re.search(r"S[ØM]", text):
        text = re.sub(r"(?<=[A-Za-z])(?=[ØM]\d)", " ", text)
    return text.strip()


def _trimmed(text: str, unit: str) -> str:
    """Without strokes in front and behind that are no part of a note."""
    text = _STRAY.sub("", text)
    if unit == "mm":
        text = re.sub(r"^[.,]+\s*", "", text)
    if re.search(r"\d['\"]$|C\.$", text):
        return text
    return re.sub(r"[\s\-~|_:;\\'`!=.,]+$", "", text)


_STROKE = r"(?<=\d)[.' ]*[IĪT][' ]*(?=\.?\d)"


def _depths(text: str, is_seen: bool) -> str:
    """A lone stroke between a size and a number is the sign of depth; one without room too where its shape is seen."""
    if not re.search(r"Ø|M\d", text) or re.search(r"Ø\d+ 1 ", text):
        return text
    if is_seen and "↧" not in text and len(re.findall(_STROKE, text)) == 1:
        return re.sub(_STROKE, " ↧ ", text)
    return re.sub(r"(?<=\d) ?[ITīJ1] (?=\d+(\.\d+)?$)", " ↧ ", text)


#: Characters a recogniser may have given for a sign.
MISREAD = {
    "Ø": "0OoQ8@CGD694$aeBØ",
    "±": "+-±4t‡f#",
    "↧": "IT1lJZ7Ī|!↓↧£¥",
    "⌴": "ULVvYJI√⌴⌵",
    "⌵": "ULVvYJI√⌴⌵",
    "□": "oOD0□QnCUI中q",
}
_SEAT_LIKE = re.compile(r"^([ULVvYJI√⌴⌵\\/!|]{1,3})\s?(?=[ØO0@G689B.])")


def with_signs(text: str, shapes: Sequence[Glyph]) -> str:
    """Where blobs and characters count the same, the shape's verdict replaces the character; a leader's shoulder in
    front is dropped from both; a seat sign that the recogniser left out is put in front.
    """
    blobs = list(shapes)
    while blobs and blobs[0].height < 0.35 and not blobs[0].sign:
        blobs.pop(0)
    text = re.sub(r"^[\s\-~|<>_*—+]+(?=\S)", "", text)
    if len(blobs) > 2 and blobs[1].height < 0.3 and blobs[1].width > 0.75 and re.match(r".[-—~_]", text):
        blobs, text = blobs[2:], text[2:]  # the end of a leader and its shoulder
    if not blobs:
        return text
    seat = blobs[0].sign if blobs[0].sign in ("⌴", "⌵") else ""
    if seat and (like := _SEAT_LIKE.match(text)):
        text = seat + text[like.end() :]
    at = [i for i, c in enumerate(text) if c != " "]
    if seat and len(blobs) == len(at) + 1 and text[:1] in "Ø0OoG@68.":
        text = seat + text
        at = [i for i, c in enumerate(text) if c != " "]
    if blobs[0].sign == "Ø" and len(blobs) == len(at) + 1 and re.match(r"[\d.]", text):
        text = "Ø" + text
        at = [i for i, c in enumerate(text) if c != " "]
    signs = list(text)
    together = len(at) == len(blobs)
    for n, (i, blob) in enumerate(zip(at, blobs, strict=False)):
        if blob.sign and (together or n == 0):
            _put(signs, i, blob.sign, n == 0)
    return "".join(signs)


def _put(signs: list[str], i: int, sign: str, is_first: bool) -> None:
    """A sign in its place, where what stands there may be it."""
    if signs[i] not in MISREAD[sign]:
        return
    if sign == "Ø":
        starts = i == 0 or signs[i - 1] not in "0123456789.,±+"
        if not starts or not re.match(r"[\dOIl.,]", "".join(signs[i + 1 : i + 2])):
            return
    if sign in ("⌴", "⌵") and not is_first:
        return
    signs[i] = sign
