#!/usr/bin/env python3
"""Makes the interface fonts in assets/fonts from Debian's fonts-inter: a Latin subset whose figures are the tabular ones (Qt 6.4
cannot ask a font for them). The family is renamed, as the licence wishes for changed versions. Needs python3-fonttools; the results
are committed."""
import pathlib
import shutil
from fontTools import subset
from fontTools.ttLib import TTFont

out = pathlib.Path(__file__).resolve().parent.parent / "assets" / "fonts"
out.mkdir(parents=True, exist_ok=True)
text = "".join(map(chr, list(range(0x20, 0x7F)) + list(range(0xA0, 0x180)))) + "–—‘’“”…•′″−×÷≤≥≈→←↔°·▸▾▲▼✓✕√²³⌀½¼¾"
for style in ("Regular", "Medium", "SemiBold", "Bold"):
    font = TTFont(f"/usr/share/fonts/opentype/inter/Inter-{style}.otf")
    gsub = font["GSUB"].table
    lookups = {i for f in gsub.FeatureList.FeatureRecord if f.FeatureTag == "tnum" for i in f.Feature.LookupListIndex}
    mapping = {}
    for i in lookups:
        for table in gsub.LookupList.Lookup[i].SubTable:
            table = getattr(table, "ExtSubTable", table)
            mapping.update(getattr(table, "mapping", {}))
    for table in font["cmap"].tables:
        for code, glyph in list(table.cmap.items()):
            if 0x30 <= code <= 0x39 and glyph in mapping:
                table.cmap[code] = mapping[glyph]
    options = subset.Options(layout_features=["kern", "mark", "ccmp"], name_IDs=["*"])
    s = subset.Subsetter(options)
    s.populate(text=text)
    s.subset(font)
    for record in font["name"].names:
        value = record.toUnicode()
        if record.nameID in (1, 3, 4, 6, 16):
            record.string = value.replace("Inter", "Vicinal Sans" if record.nameID != 6 else "VicinalSans")
    cff = font["CFF "].cff
    cff.fontNames[0] = f"VicinalSans-{style}"
    cff.topDictIndex[0].FamilyName = "Vicinal Sans"
    cff.topDictIndex[0].FullName = f"Vicinal Sans {style}"
    font.save(out / f"VicinalSans-{style}.otf")
shutil.copy("/usr/share/doc/fonts-inter/copyright", out / "LICENSE-Inter.txt")
