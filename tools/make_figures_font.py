"""Make the face for numbers: the text face with its tabular figures as the usual ones, under a name of its own.

Run once, when the text face changes: ``python tools/make_figures_font.py``. Qt's style sheets cannot switch a font
feature on, so it is built in. The text face's licence (SIL OFL 1.1, no reserved name) lets it be changed and renamed.
"""

from pathlib import Path

from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont

FONTS = Path(__file__).parents[1] / "src/lathed_solid/fonts"
FAMILY = "Lathed Figures"
#: Latin with its additions, punctuation, arrows, mathematical and drafting signs.
KEPT = [*range(0x20, 0x180), *range(0x370, 0x400), *range(0x2000, 0x2070), *range(0x2190, 0x2400)]


def tabular(font: TTFont) -> dict[str, str]:
    """Each glyph that has a tabular form, and that form."""
    gsub = font["GSUB"].table
    lookups = {i for f in gsub.FeatureList.FeatureRecord if f.FeatureTag == "tnum" for i in f.Feature.LookupListIndex}
    found: dict[str, str] = {}
    for index in sorted(lookups):
        for table in gsub.LookupList.Lookup[index].SubTable:
            found |= getattr(table, "ExtSubTable", table).mapping
    return found


def make(source: str, weight: str) -> None:
    font = TTFont(FONTS / f"{source}.otf")
    wide = {name: form for name, form in tabular(font).items() if name in _digits(font)}
    for table in font["cmap"].tables:
        table.cmap = {code: wide.get(name, name) for code, name in table.cmap.items()}
    widest = max(font["hmtx"][name][0] for name in wide.values())
    for name in wide.values():  # interpolated weights differ by a unit or two
        font["hmtx"][name] = (widest, font["hmtx"][name][1])
    options = Options(layout_features=["kern"], name_IDs=["*"])
    subsetter = Subsetter(options)
    subsetter.populate(unicodes=KEPT)
    subsetter.subset(font)
    file = f"{FAMILY.replace(' ', '')}-{weight}"
    for id_, text in ((1, FAMILY), (2, weight), (3, file), (4, f"{FAMILY} {weight}"), (6, file)):
        font["name"].setName(text, id_, 3, 1, 0x409)
    for id_ in (16, 17, 21, 22):
        font["name"].removeNames(nameID=id_)
    if weight == "Bold":
        font["OS/2"].usWeightClass, font["OS/2"].fsSelection, font["head"].macStyle = 700, 0x20, 1
    top = font["CFF "].cff
    top.fontNames = [file]
    top[0].FamilyName, top[0].FullName, top[0].Weight = FAMILY, f"{FAMILY} {weight}", weight
    font.save(FONTS / f"{file}.otf")


def _digits(font: TTFont) -> set[str]:
    best = font.getBestCmap()
    return {best[ord(c)] for c in "0123456789+-−×±=" if ord(c) in best}


if __name__ == "__main__":
    make("Inter-Regular", "Regular")
    make("Inter-SemiBold", "Bold")
