"""The grammar of numeric fields. The callout grammar builds on these rules."""

#: Rules and terminals of one expression (lark, LALR). ``sum`` is the start rule.
EXPRESSION = r"""
?sum: product
    | sum "+" product   -> add
    | sum "-" product   -> sub
?product: signed
    | product "*" signed -> mul
    | product "/" signed -> div
?signed: "-" signed -> neg
    | "+" signed    -> pos
    | power
?power: atom
    | atom "^" signed -> pow
?atom: quantity
    | REF           -> ref
    | "pi"          -> pi
    | DMS           -> dms
    | "(" sum ")"
    | FUNC "(" sum ("," sum)* ")" -> call
quantity: _number unit?
    | _number FOOT _number INCH -> feet_inches
_number: NUMBER | MIXED | FRACTION
!unit: UNIT | FOOT | INCH

DMS.9: /\d+(\.\d+)?\s*(°|deg)\s*\d+(\.\d+)?\s*['′](?!['′])(\s*\d+(\.\d+)?\s*(["″]|''))?/
FUNC: "sqrt" | "sin" | "cos" | "tan" | "asin" | "acos" | "atan" | "min" | "max" | "abs"
REF: /#\d+(\.[a-z_]+)?/
MIXED.6: /\d+ +\d+\/\d+/
FRACTION.5: /\d+\/\d+(?=\s*(mm|cm|m|um|µm|in|inch|thou|ft|deg|rad|°|"|″|''|'|′)(?![a-z0-9]))/
NUMBER.4: /(\d+(\.\d*)?|\.\d+)(e[+-]?\d+)?/
UNIT.4: /(mm|MM|cm|um|µm|m|inch|in|INCH|IN|thou|ft|deg|DEG|rad)(?![A-Za-z0-9])|°/
INCH.5: /"|″|''/
FOOT.4: /'|′/
%import common.WS_INLINE
%ignore WS_INLINE
"""

#: How each terminal is named in "expected ..." messages.
WORDS = {
    "NUMBER": "a number",
    "MIXED": "a number",
    "DMS": "a number",
    "FRACTION": "a number",
    "UNIT": "a unit",
    "INCH": "a unit",
    "FOOT": "a unit",
    "REF": "a callout such as #12",
    "FUNC": "a function",
    "PLUS": "+ or -",
    "MINUS": "+ or -",
    "STAR": "* or /",
    "SLASH": "* or /",
    "CIRCUMFLEX": "^",
    "LPAR": "an opening bracket",
    "RPAR": "a closing bracket",
    "COMMA": "a comma",
    "PI": "a number",
    "$END": "the end",
}


def expected_words(terminals: set[str], words: dict[str, str] = WORDS) -> str:
    """A short "a, b or c" list; unary signs are not offered where a number is."""
    named = {words.get(name, name.lower()) for name in terminals}
    if "a number" in named:
        named -= {"+ or -", "a function", "an opening bracket", "a callout such as #12"}
    listed = sorted(named)
    if len(listed) > 8:
        # In the middle of a note nearly anything may follow; the likeliest are help enough.
        listed = [
            w for w in listed if w in ("a tolerance", "a fit such as H7", "a number", "at", "deep", "the end", "thru")
        ]
    return listed[0] if len(listed) == 1 else ", ".join(listed[:-1]) + " or " + listed[-1] if listed else ""
