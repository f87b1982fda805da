#!/usr/bin/python3
"""Makes the fonts of the briefs from the pinned npm packages: Archivo at two
weights and width 92, Latin with its extension, with tabular figures in place of
the others, and DejaVu Sans Condensed for all that Archivo lacks; and from Debian's
packages the letters of Chinese and Japanese, and of Korean. It needs Debian's
woff2, fonttools, fonts-droid-fallback and fonts-nanum, and npm ci; run it from
the project's root."""

import os
import shutil
import subprocess
import tempfile

from fontTools.merge import Merger
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

HERE = os.path.dirname(os.path.abspath(__file__))
MODULES = os.path.join(HERE, "../../../node_modules")
ARCHIVO = os.path.join(MODULES, "@fontsource-variable/archivo")


def tabular(font):
    """Lets the digits' characters stand for the tabular glyphs."""
    gsub = font["GSUB"].table
    wanted = {i for r in gsub.FeatureList.FeatureRecord if r.FeatureTag == "tnum" for i in r.Feature.LookupListIndex}
    for i in wanted:
        for sub in gsub.LookupList.Lookup[i].SubTable:
            sub = getattr(sub, "ExtSubTable", sub)
            for table in font["cmap"].tables:
                for code, glyph in list(table.cmap.items()):
                    if glyph in sub.mapping:
                        table.cmap[code] = sub.mapping[glyph]


def instance(source, weight, to):
    subprocess.run(["woff2_decompress", source], check=True)
    font = TTFont(source.replace(".woff2", ".ttf"))
    font = instancer.instantiateVariableFont(font, {"wght": weight, "wdth": 92})
    if "GSUB" in font:
        tabular(font)
    for tag in ("GSUB", "GPOS", "GDEF", "STAT", "DSIG"):
        if tag in font:
            del font[tag]
    font.save(to)


with tempfile.TemporaryDirectory() as tmp:
    for name, weight in (("regular", 420), ("bold", 650)):
        parts = []
        for subset in ("latin", "latin-ext"):
            source = os.path.join(tmp, f"{subset}.woff2")
            shutil.copy(os.path.join(ARCHIVO, f"files/archivo-{subset}-wdth-normal.woff2"), source)
            part = os.path.join(tmp, f"{subset}-{name}.ttf")
            instance(source, weight, part)
            parts.append(part)
        merged = Merger().merge(parts)
        for record in list(merged["name"].names):
            if record.nameID in (1, 4, 6, 16):
                merged["name"].setName(f"Archivo Brief {name}", record.nameID, record.platformID, record.platEncID, record.langID)
        merged["head"].created = merged["head"].modified = 0
        merged.recalcTimestamp = False
        merged.save(os.path.join(HERE, f"archivo-{name}.ttf"))
shutil.copy(os.path.join(ARCHIVO, "LICENSE"), os.path.join(HERE, "archivo.LICENSE"))
shutil.copy(os.path.join(MODULES, "dejavu-fonts-ttf/ttf/DejaVuSansCondensed.ttf"), os.path.join(HERE, "dejavu.ttf"))
shutil.copy(os.path.join(MODULES, "dejavu-fonts-ttf/LICENSE"), os.path.join(HERE, "dejavu.LICENSE"))

DEBIAN = "/usr/share/fonts/truetype"
FAR = (
    ("han", "Brief Han", f"{DEBIAN}/droid/DroidSansFallbackFull.ttf",
     (0x3000, 0x30FF), (0x3105, 0x312F), (0x3200, 0x33FF), (0x4E00, 0x9FFF), (0xF900, 0xFAFF), (0xFF00, 0xFFEF)),
    ("hangul", "Brief Hangul", f"{DEBIAN}/nanum/NanumGothic.ttf", (0x1100, 0x11FF), (0x3131, 0x318E), (0xAC00, 0xD7A3)),
)
for file, name, source, *ranges in FAR:
    font = TTFont(source, recalcTimestamp=False)
    options = Options(hinting=False)
    options.drop_tables += ["GSUB", "GPOS", "GDEF", "vhea", "vmtx", "DSIG"]
    subset = Subsetter(options)
    subset.populate(unicodes=[r for a, b in ranges for r in range(a, b + 1)])
    subset.subset(font)
    for record in font["name"].names:
        if record.nameID in (1, 3, 4, 6, 16):
            font["name"].setName(name, record.nameID, record.platformID, record.platEncID, record.langID)
    font["head"].created = font["head"].modified = 0
    font.save(os.path.join(HERE, f"{file}.ttf"))
shutil.copy("/usr/share/common-licenses/Apache-2.0", os.path.join(HERE, "han.LICENSE"))
shutil.copy("/usr/share/doc/fonts-nanum/copyright", os.path.join(HERE, "hangul.LICENSE"))
