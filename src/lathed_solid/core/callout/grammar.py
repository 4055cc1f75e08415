"""The grammar of one callout note, on top of the expression grammar.

A note is a row of items in any order; which belongs to which is the reader's business (``notation``).
"""

from ..quantity.grammar import EXPRESSION, WORDS

_LH = r"(\s*-?\s*LH)?"
_SCREW = r"(M\d+(\.\d+)?|(#|NO\.?\s*)?\d+(\s+\d+\/\d+|\/\d+)?)(?![\d.])"
_SERIES = r"(fine|close|medium|normal|coarse|loose)"
_CBORE = r"(⌴|counterbored?|c'?bored?(\.(?!\d))?)"
_CSK = r"(⌵|countersunk|countersink|c'?sink|c'?sunk|csk)"
_SOCKET = r"(shcs|socket(\s*head)?(\s*cap)?(\s*screws?)?)"
_FLAT = r"(fhs|flat(\s*head)?(\s*screws?)?)"
#: A full stop behind a short word; the point of a number behind it is not one.
_DOT = r"(\.(?!\d))?"
_FROM = r"from\s+(the\s+)?(cent(er|re)(\s*line)?|edge|end|face|top|bottom|left|right)"
_PIPE_SIZE = r"(1\s+1\/8|[12]\s+1\/4|[12]\s+1\/2|[12]\s+3\/4|\d+\/\d+|[1-4](?![\d\/.]))"


def _any(*patterns: str) -> str:
    return "|".join(patterns)


def _seat_for(word: str, head: str) -> str:
    """A seat named by its screw: ``cbore for M6``, ``cbore 1/4 SHCS``, ``csk M5``."""
    return rf"{word}\s*((for\s+){_SCREW}(\s*({head}|screws?))?|{_SCREW}\s*{head}|M\d+(?![\d.]))"


_THREAD = _any(
    r"M\d+(\.\d+)?(\s*[xX×]\s*(\d(\.\d+)?|\.\d+)(?![\d.]|\s*(°|deg|deep|dp|long)))?"
    + _LH + r"(\s*-\s*\d[a-hA-H](\d[a-hA-H])?)?" + _LH + r"(?![\w.])",
    r"Tr\s*\d+(\.\d+)?(\s*[xX×]\s*\d*\.?\d+(\s*\(\s*P\s*\d*\.?\d+\s*\))?)?"
    + _LH + r"(\s*-\s*\d[a-hA-H])?" + _LH + r"(?![\w.])",
    r"(G|Rc)\s*" + _PIPE_SIZE + r"\s*([AB](?![\w.]))?" + _LH,
    r"R\s*" + _PIPE_SIZE + r"\s*pipe(\s+thread)?" + _LH + r"(?![\w.])",
    _PIPE_SIZE + r"\s*(\"|in)?(\s*-\s*\d+(\.\d+)?)?\s*-?\s*NPT" + _LH + r"(?![\w.])",
    r"(#|No\.?\s*)?(\d+\s+\d+\/\d+|\d+\/\d+|\d*\.\d+|\d+)\s*(\"|in)?(\s*-\s*\d+(\.\d+)?)?\s*-?\s*"
    r"(UNC|UNF|UNEF|UNS|UN)(\s*-?\s*[123][AB])?" + _LH + r"(?![\w.])",
)  # fmt: skip
_COUNT = _any(
    r"\(\s*\d+\s*[xX×]\s*\)",
    r"\d+\s*-(?=\s*([Øø⌀∅]|M\d))",
    r"\d+(\s+[xX×](?!\s*(30|45|60)(?![\d.]))|[xX×])(?!\s*[\d.]+(\s*in|\s*mm)?\s*(°|deg|cham|chfr))(?=\s*\S)",
)
_CLEARANCE = _any(
    rf"{_SCREW}\s*(({_SERIES}\s*)?clear(ance)?|clr)(\.(?!\d))?(\s*holes?)?(\s*{_SERIES})?",
    rf"(clear(ance)?|clr)(\.(?!\d))?(\s*holes?)?(\s*for)?\s+{_SCREW}(\s*screws?)?(\s*{_SERIES})?",
)
_CBORE_FOR, _CSK_FOR = _seat_for(_CBORE, _SOCKET), _seat_for(_CSK, _FLAT)
_FLAG = _any(
    r"ref(erence)?(?![a-z])" + _DOT, r"basic(?![a-z])", r"bsc(?![a-z])" + _DOT, r"typ(ical)?(?![a-z])" + _DOT,
    r"all(?![a-z])",
    r"eq(u(al(ly)?|i))?(\.(?!\d))?[\s-]*sp(aced)?(\.(?!\d))?(?![a-z])", r"(near|far|both)\s+(sides?|ends)(?![a-z])",
)  # fmt: skip
_GEOMETRIC = (
    "(?i:"
    + _any(
        r"position(?![a-z])", r"true\s+pos(ition)?(?![a-z])", "⌖", r"perp(endicular(ity)?)?(?![a-z])(\.(?!\d))?", "⊥",
        r"total\s+runout", "runout", "⌰", "↗", r"flatness(?![a-z])", "⏥", r"conc(entricity)?(?![a-z])(\.(?!\d))?", "◎",
        r"parallel(ism)?(?![a-z])", "∥", "straightness", "⏤", "roundness", "circularity", "○", "cylindricity", "⌭",
        "symmetry", "⌯", "angularity", "∠",
        r"((line|surface)\s+)?profile(\s+of\s+(a\s+|any\s+)?(line|surface))?", "⌓", "⌒",
    )
    + r")\s*\|?\s*[Øø⌀]?\s*\d*\.?\d+(\s*(\(?[ML](?![\w])\)?|[ⓂⓁ]))?"
    + r"(\s*[|,]?\s*[A-Z](-[A-Z])?(\s?(\(?[ML]\)(?!\w)|[ⓂⓁ]))?(?![\w.]))*"
)  # fmt: skip
_UNEQUAL = _any(
    r"[+-]\s*\d*\.?\d+\s*\/\s*[+-]\s*\d*\.?\d+",
    r"[+-]\s*\d*\.?\d+\s*\/\s*0(\.0*)?(?![\d.])",
    r"0(\.0*)?\s*\/\s*-\s*\d*\.?\d+",
    r"(?<=\s)\+\d*\.?\d+\s+0(\.0*)?(?![\d.\/*^])",
    r"(?<=\s)0(\.0*)?\s+-\d*\.?\d+(?![\d.]*\s*[\/*^(\d])",
    # "+0.2 -0.1" with its signs set close is a tolerance; "+ 20 - 5" is arithmetic.
    r"(?<=\s)\+\d*\.?\d+\s+-\d*\.?\d+(?![\d.]*\s*[\/*^(\d])",
)

NOTE = (
    r"""
note: _item+
_item: size | place | mod | SEP

?size: value                                -> plain
    | value SIDE_WORD                       -> plain
    | DIA value                             -> diameter
    | DIA value X value DEEP?               -> diameter_deep
    | value DIA_WORD                        -> diameter
    | value DIA_WORD X value DEEP?          -> diameter_deep
    | DIA value DIA_WORD                    -> diameter
    | DIA value GROOVE value SIDE_WORD?     -> groove
    | GROOVE DIA value X value SIDE_WORD?   -> groove
    | UNDERCUT value X value DEEP?          -> undercut
    | RAD value                             -> radius
    | value RAD_WORD                        -> radius
    | SPHERE_R value                        -> sphere_radius
    | SPHERE_D value                        -> sphere_diameter
    | SQUARE value                          -> square
    | value SQUARE_WORD                     -> square
    | FLATS value FLATS_WORD?               -> flats
    | value FLATS_WORD                      -> flats
    | CORNERS value                         -> corners
    | value CORNERS                         -> corners
    | FLATS value CORNERS                   -> corners
    | value X value CHAM?                   -> chamfer
    | CHAM value (X value)?                 -> chamfer
    | value CHAM                            -> chamfer
    | CHAMFER_C value                       -> chamfer
    | TAPER? RATIO TAPER?                   -> taper_ratio
    | TAPER? value PER_FOOT TAPER?          -> taper_foot
    | TAPER DIA? value TO DIA? value (OVER | X) value DEEP? -> taper_ends
    | THREAD                                -> screw_thread
    | THREAD X value DEEP?                  -> screw_thread
    | CLEARANCE                             -> clearance
    | KEYWAY value SIDE_WORD?               -> keyway
    | KEYWAY value SIDE_WORD? X value (ACROSS | DEEP)? -> keyway
    | value KEYWAY X value (ACROSS | DEEP)? -> keyway
    | value ACROSS                          -> across
?place: ON DIA? value PCD?                  -> circle
    | ON RAD value                          -> circle_radius
    | PCD DIA? value                        -> circle
    | value PCD                             -> circle
    | DIA value PCD                         -> circle
    | AT value                              -> at
    | AT_PAIR value SEP value               -> at_pair
    | COUNT                                 -> count
    | PLACES                                -> count
?mod: tolerance
    | THRU                                  -> thru
    | DEEP value                            -> depth
    | value DEEP                            -> depth
    | value LONG                            -> depth
    | LONG value                            -> depth
    | DOWN value                            -> depth
    | TAP                                   -> tapped
    | TAP value                             -> depth_of_thread
    | CBORE DIA? value DIA_WORD?            -> counterbore
    | CBORE DIA? value DIA_WORD? X value DEEP? -> counterbore
    | SPOTFACE DIA? value DIA_WORD?         -> spotface
    | SPOTFACE DIA? value DIA_WORD? X value DEEP? -> spotface
    | CSK DIA? value DIA_WORD?              -> countersink
    | CSK DIA? value DIA_WORD? X DIA? value -> countersink
    | value CSK TO? DIA? value DIA_WORD?    -> countersink
    | CBORE_FOR                             -> counterbore_for
    | CSK_FOR                               -> countersink_for
    | DRILL DIA? value                      -> drill
    | DRILL DIA? value X value DEEP?        -> drill
    | DRILL DRILL_NAME (X value DEEP?)?     -> drill
    | DRILL_NAME DRILL                      -> drill
    | value DRILL                           -> drill
    | DIA value DRILL                       -> drill
    | TIP value                             -> tip
    | PERCENT                               -> percent
    | FLAG                                  -> flag
    | FINISH                                -> finish
    | GEOMETRIC                             -> geometric
    | DATUM                                 -> datum

value: amount tolerance?
?amount: sum
    | LIMITS                                -> limits
    | "[" sum "]"                           -> boxed
?tolerance: PLUSMINUS sum                    -> symmetric
    | MINUTES                               -> minutes
    | UNEQUAL                               -> unequal
    | FIT                                   -> fit
    | EXTREME                               -> extreme

"""
    + f"COUNT.9: /{_COUNT}/i\n"
    + r"""
PLACES.9: /\d+\s*(plcs?|pls?|places?|off|holes?|req'?d)\b(\.(?!\d))?/i
DIA.8: /Ø|ø|⌀|∅|dia(meter)?(\.(?!\d))?(?![a-z])/i
DIA_WORD.9: /bored?(?![a-z])|dia(meter)?(\.(?!\d))?(?![a-z])/i
RAD.8: /R(?=[\s\d.#(])/
RAD_WORD.9: /(?-i:R)(?!\s*[\d.#(])(?![a-z])|rad(ius)?(\.(?!\d))?(?![a-z])/i
SPHERE_R.9: /SR(?=[\s\d.#(])|spher(e|ical)\s+r(ad(ius)?)?(\.(?!\d))?/i
SPHERE_D.9: /S\s*[Øø⌀∅]|spher(e|ical)\s+(dia(meter)?(\.(?!\d))?|[Øø⌀])/i
SQUARE.8: /□|SQ(UARE)?(\.(?!\d))?(?=[\s\d.#(])/i
SQUARE_WORD.9: /sq(uare)?(\.(?!\d))?(?![a-z])/i
FLATS.8: /(hex(agon)?\s*)?(A\/F|AF|across\s+flats)(?![a-z])|hex(agon)?(?![a-z])/i
FLATS_WORD.9: /(hex(agon)?\s*)?(A\/F|AF|across\s+flats)(?![a-z])|hex(agon)?(?![a-z])/i
CORNERS.9: /(hex(agon)?\s*)?(A\/C|AC|across\s+corners)(?![a-z])/i
GROOVE.8: /groove(?![a-z])/i
UNDERCUT.8: /undercut(?![a-z])/i
CHAMFER_C.8: /C(?=\s?[\d.])/
CHAM.8: /(cham(fers?)?|chfr)(?![a-z])(\.(?!\d))?|(break(\s+all)?(\s+sharp)?\s+edges?|(all\s+)?edges?\s+broken)(\s+by)?/i
TAPER.8: /taper(ed)?/i
RATIO.9: /\d+(\.\d+)?\s*:\s*\d+(\.\d+)?|\d+\s+in\s+\d+(?=\s*($|taper))/i
PER_FOOT.9: /((per|\/)\s*(foot|ft)|tpf)\b/i
TO.8: /to(?![a-z])|→/i
OVER.8: /over(?![a-z])/i
"""
    + f"THREAD.10: /{_THREAD}/i\n"
    + r"""
"""
    + f"CLEARANCE.11: /({_CLEARANCE})(?![a-z])/i\n"
    + r"""KEYWAY.8: /key\s*(way|seat|slot)(?![a-z])/i
ACROSS.8: /across(\s+(the\s+)?bore)?(?![a-z])|over\s+(the\s+)?bore(?![a-z])/i
ON.8: /on(\s+an?)?(?![a-z])/i
PCD.8: /p\.?c\.?d(\.(?!\d))?(?![a-z])|b\.?c(\.(?!\d))?d?(\.(?!\d))?(?![a-z])|(pitch|bolt)\s+circle(\s+dia(meter)?)?/i
AT_PAIR.10: /at(?=\s*-?[\d.][^,;]*,\s*-?[\d.][\d.\/ ]*\s*(mm|in|")?\s*($|[,;a-z]))/i
AT.8: /(first\s+)?at(?![a-z])/i
SEP.3: /[,;|&]|(and|with|each|fillets?|rounds?|corners?|unstated)(?![a-z])/i
X.7: /[xX×](?![a-z])|by(?![a-z])/i
"""
    + f"SIDE_WORD.8: /(wide|width|thick|high|walls?|slots?|{_FROM}|overall|o{_DOT}a{_DOT}l?)(?![a-z])/i\n"
    + r"""THRU.8: /(thru|through)(?![a-z])/i
DEEP.8: /(deep|depth|dp)(?![a-z])(\.(?!\d))?/i
DOWN.8: /↧/
LONG.8: /(long|lg)(?![a-z])(\.(?!\d))?/i
TAP.8: /tap(ped)?(?![a-z])/i
CBORE.8: /"""
    + _CBORE
    + r"""(?!\s*for|[a-z])/i
SPOTFACE.8: /(spotface|s\/?f)(?![a-z])(\.(?!\d))?/i
CSK.8: /"""
    + _CSK
    + r"""(?!\s*for|[a-z])/i
"""
    + f"CBORE_FOR.9: /{_CBORE_FOR}/i\n"
    + r""""""
    + f"CSK_FOR.9: /{_CSK_FOR}/i\n"
    + r"""DRILL.8: /drill(ed)?(?![a-z])/i
DRILL_NAME.11: /(no\.?|number|letter)\s*(\d{1,2}|[a-z])(?![\w.\/-])|#\d{1,2}(?=\s*drill)/i
TIP.8: /(drill\s+)?(tip|point)(?![a-z])/i
PERCENT.9: /\d+(\.\d+)?\s*%(\s*(of\s+)?thread)?/i
"""
    + f"FLAG.8: /{_FLAG}/i\n"
    + r"""
FINISH.10: /√?\s*Ra\s*\d*\.?\d+(\s*(µm|um|µin|uin))?/
"""
    + f"GEOMETRIC.10: /{_GEOMETRIC}/\n"
    + r"""DATUM.10: /(?i:datum(\s+feature)?)\s+[A-Z](?!\w)/
PLUSMINUS.8: /±|\+\/-|\+-/
MINUTES.9: /(±|\+\/-)\s*\d+(\.\d+)?\s*['′](?!['′])/
"""
    + f"UNEQUAL.9: /{_UNEQUAL}/\n"
    + r"""
FIT.7: /(js|JS|[a-hkmnprsA-HKMNPS])\d{1,2}(\s*\/\s*(js|JS|[a-hkmnprsA-HKMNPS])\d{1,2})?(?![\w.])/
EXTREME.8: /max(imum)?(?![a-z])(\.(?!\d))?|min(imum)?(?![a-z])(\.(?!\d))?/i
LIMITS.8: /\d*\.\d+\s*\/\s*\d*\.\d+(?!\s*[\d*^])/
%import common.NEWLINE
%ignore NEWLINE
"""
    + EXPRESSION
)

NOTE_WORDS = WORDS | {
    "COUNT": "a count such as 6x",
    "PLACES": "a count such as 6x",
    "DIA": "Ø",
    "DIA_WORD": "Ø",
    "RAD": "R",
    "SPHERE_R": "SR",
    "THREAD": "a thread such as M6x1",
    "X": "x",
    "PLUSMINUS": "a tolerance",
    "UNEQUAL": "a tolerance",
    "MINUTES": "a tolerance",
    "EXTREME": "a tolerance",
    "LIMITS": "a number",
    "LSQB": "a number",
    "FIT": "a fit such as H7",
    "THRU": "thru",
    "DEEP": "deep",
    "TAP": "tap",
    "CBORE": "cbore",
    "CSK": "csk",
    "PER_FOOT": "per foot",
    "TO": "to",
    "RATIO": "a ratio such as 1:10",
    "DRILL": "drill",
    "ON": "on",
    "AT": "at",
}

#: Words an "expected ..." message need not offer: they are variants of those it does.
UNSAID = {
    "SPHERE_D", "SQUARE", "SQUARE_WORD", "FLATS", "FLATS_WORD", "CHAMFER_C", "CHAM", "TAPER", "RATIO", "PER_FOOT", "TO",
    "CORNERS", "GROOVE", "UNDERCUT",
    "OVER", "CLEARANCE", "KEYWAY", "ACROSS", "PCD", "AT_PAIR", "SEP", "SIDE_WORD", "DOWN", "LONG", "SPOTFACE",
    "CBORE_FOR", "CSK_FOR", "DRILL_NAME", "TIP", "PERCENT", "FLAG", "FINISH", "GEOMETRIC", "DATUM", "RAD_WORD", "DMS",
    "RSQB", "SPHERE_R",
}  # fmt: skip
