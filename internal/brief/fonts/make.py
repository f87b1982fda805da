#!/usr/bin/python3
"""Makes the fonts of the briefs from the pinned npm packages: Archivo at two
weights and width 92, Latin with its extension, with tabular figures in place of
the others, and DejaVu Sans Condensed for all that Archivo lacks. It needs
Debian's woff2 and fonttools, and npm ci; run it from the project's root."""

import os
import shutil
import subprocess
import tempfile

from fontTools.merge import Merger
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
