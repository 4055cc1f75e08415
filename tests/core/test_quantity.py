"""The expression language: values, units, mistakes and where they are."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lathed_solid.core.names import CalloutRef, callout_refs, callouts_in, lone_ref, renumbered
from lathed_solid.core.quantity import ExpressionError, Style, evaluate
from lathed_solid.core.quantity.expression import Plain

LENGTHS = {
    "22": 22.0,
    ".5": 0.5,
    "142 - 38.5 - 22": 81.5,
    "0.9*2": 1.8,
    "46/2": 23.0,
    "7/32 in + 4 mm": 7 / 32 * 25.4 + 4,
    "2 5/8": 2.625,
    "2 5/8 in": 2.625 * 25.4,
    "5' 3 1/2\"": 63.5 * 25.4,
    '1"': 25.4,
    "25.4 thou": 25.4 * 0.0254,
    "3/2^2": 0.75,
    "2^3^2": 512.0,
    "-(3 - 10)": 7.0,
    "sqrt(3^2 + 4^2)": 5.0,
    "sqrt(9 mm * 4 mm)": 6.0,
    "10 * sin(30)": 5.0,
    "10 * cos(60 deg)": 5.0,
    "max(3, 1 in, 2)": 25.4,
    "min(7, 5)": 5.0,
    "2 cm": 20.0,
    "abs(3 - 5) + 1": 3.0,
}


@pytest.mark.parametrize("text", LENGTHS)
def test_lengths(text):
    assert evaluate(text) == pytest.approx(LENGTHS[text], abs=1e-12)


def test_a_bare_number_takes_the_unit_of_its_field():
    assert evaluate("2 5/8", Plain("in")) == pytest.approx(66.675)
    assert evaluate("1 + 4 mm", Plain("in")) == pytest.approx(29.4)
    assert evaluate("45", want="angle") == pytest.approx(math.pi / 4)
    assert evaluate("atan(1.2/45)", want="angle") == pytest.approx(math.atan(1.2 / 45))
    assert evaluate("30 deg + 0.1 rad", want="angle") == pytest.approx(math.pi / 6 + 0.1)
    assert evaluate("3*2", want="number") == 6


MISTAKES = {
    "": (0, "Nothing is typed"),
    "7 +": (3, "missing at the end. Expected a number"),
    "twelve": (0, "“t” does not fit here. Expected a number"),
    "(3 + 4": (6, "closing bracket"),
    "3 4": (2, "does not fit here"),
    "12 +* 3": (4, "does not fit here"),
    "1/0": (0, "Division by zero"),
    "asin(2)": (0, "no value"),
    "2 mm * 3 mm": (0, "an area; a length is needed"),
    "45 deg": (0, "an angle; a length is needed"),
    "3 mm + 2 deg": (0, "cannot be put together"),
    "sqrt(-1)": (0, "no value"),
    "#4": (0, "no callout #4"),
    "9^999": (0, "no value"),
}


@pytest.mark.parametrize("text", MISTAKES)
def test_mistakes_point_at_the_place(text):
    position, words = MISTAKES[text]
    with pytest.raises(ExpressionError) as caught:
        evaluate(text)
    assert caught.value.position == position
    assert words in str(caught.value)


numbers = st.floats(0.01, 9999, allow_nan=False).map(lambda v: round(v, 4))


@given(numbers, numbers, numbers, st.sampled_from("+-*"), st.sampled_from("+-*/"))
def test_agrees_with_arithmetic(a, b, c, first, second):
    text = f"{a:.4f} {first} {b:.4f} {second} ({c:.4f})"
    assert evaluate(text, want="number") == pytest.approx(eval(text), rel=1e-12, abs=1e-9)


@given(st.floats(-5000, 5000, allow_nan=False))
def test_printed_numbers_read_back(value):
    for style in (Style("mm", 3), Style("in", 3), Style("in", 3, True)):
        text = style.length(value)
        back = evaluate(text.replace("-", "0 - (", 1) + ")" if text.startswith("-") else text, Plain(style.unit))
        assert back == pytest.approx(value, abs=0.5 * 10.0**-style.places * (25.4 if style.unit == "in" else 1) + 1e-9)


@given(st.integers(1, 4000))
def test_sixty_fourths_print_as_fractions(count):
    style = Style("in", 3, fractions=True)
    text = style.length(count / 64 * 25.4)
    assert "." not in text
    assert evaluate(text, Plain("in")) == pytest.approx(count / 64 * 25.4)


def test_references_are_found_and_renamed():
    assert callouts_in("#12/2 + #3.depth") == {12, 3}
    assert renumbered("#1 + #12", {1: 12, 12: 1}) == "#12 + #1"
    assert callout_refs("#12/2 + #3.depth - #12") == [CalloutRef(12), CalloutRef(3, "depth"), CalloutRef(12)]
    assert lone_ref(" #3.depth ") == CalloutRef(3, "depth")
    assert str(CalloutRef(3, "depth")) == "#3.depth"
    assert lone_ref("#3 / 2") is None


@pytest.mark.parametrize("text", ["3", "-3", "- 3.5", "2 - 5", "-4-4", "-(2 - 5)", "-1/2", "7/32 in + 4 mm"])
def test_a_negated_formula_is_worth_the_opposite(text):
    from lathed_solid.core.quantity import negated

    assert evaluate(negated(text)) == pytest.approx(-evaluate(text))
