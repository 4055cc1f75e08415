"""The drawing under the glass: looking at sheets, placing balloons, taking offers."""
