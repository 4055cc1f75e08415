"""The grammar of one callout note, on top of the expression grammar."""

from ..quantity.grammar import EXPRESSION, WORDS

NOTE = (
    r"""
note: count? _body mod*
count: COUNT
_body: diameter | radius | chamfer | thread | plain
diameter: DIA sum
radius: RAD sum
chamfer: sum X sum | CHAMFER sum
thread: THREAD
plain: sum

?mod: PLUSMINUS sum       -> symmetric
    | UNEQUAL             -> unequal
    | FIT                 -> fit
    | THRU                -> thru
    | DEEP sum            -> depth
    | atom DEEP           -> depth
    | TAP sum             -> depth
    | CBORE DIA? sum _by sum DEEP?  -> counterbore
    | CSK DIA? sum X sum  -> countersink
    | DRILL DIA? sum (_by sum DEEP?)? -> drill
    | ON DIA? sum         -> circle
    | AT sum              -> at
    | TIP sum             -> tip
_by: X | DEEP

COUNT.9: /\d+(\s+[xX×](?!\s*(30|45|60)(?![\d.]))|[xX×])(?!\s*[\d.]+\s*(°|deg))(?=\s*\S)/
DIA.8: /Ø|ø|⌀|[Dd][Ii][Aa]\.?/
RAD.8: /R(?=[\s\d.#(])/
CHAMFER.8: /C(?=[\d.])/
THREAD.9: /M\d+(\.\d+)?(\s*[xX×]\s*\d+(\.\d+)?)?(\s*-?\s*LH)?(\s*-\s*\d[a-hA-H](\d[a-hA-H])?)?(\s*-?\s*LH)?/
X.7: /[xX×]/
PLUSMINUS.8: /±|\+\/-/
UNEQUAL.9: /\+\s*\d*\.?\d+\s*\/\s*-\s*\d*\.?\d+/
FIT.7: /(js|JS|[a-hkmnprsA-HKMNPRS])\d{1,2}(?![\w.])/
THRU.8: /thru|through/i
DEEP.8: /↧|deep|depth|dp|long/i
TAP.8: /tap/i
CBORE.8: /⌴|counterbore|c'?bore|cb/i
CSK.8: /⌵|countersink|c'?sink|csk/i
DRILL.8: /drill/i
ON.8: /on|pcd|b\.?c\.?/i
AT.8: /(first\s+)?at/i
TIP.8: /tip/i
"""
    + EXPRESSION
)

NOTE_WORDS = WORDS | {
    "COUNT": "a count such as 6x",
    "DIA": "Ø",
    "RAD": "R",
    "CHAMFER": "a chamfer such as C1",
    "THREAD": "a thread such as M6x1",
    "X": "x",
    "PLUSMINUS": "a tolerance",
    "UNEQUAL": "a tolerance",
    "FIT": "a fit such as H7",
    "THRU": "thru",
    "DEEP": "deep",
    "TAP": "tap",
    "CBORE": "cbore",
    "CSK": "csk",
    "DRILL": "drill",
    "ON": "on",
    "AT": "at",
    "TIP": "tip",
}
