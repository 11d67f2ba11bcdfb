"""Make the report's typefaces: `.venv/bin/python tools/make_report_fonts.py`, after `make setup`.

The app's own Atkinson Hyperlegible Next, cut to two weights and to what a printed page can embed; behind it, for what it has
no letters for, a part of DejaVu Sans. Both licenses are beside them.
"""

from __future__ import annotations

import shutil
from io import BytesIO
from pathlib import Path

import matplotlib
from fontTools.merge import Merger
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

ROOT = Path(__file__).parents[1]
OUT = ROOT / "src/icepick/report/fonts"
APP = ROOT / "frontend/node_modules/@fontsource-variable/atkinson-hyperlegible-next"
DEJAVU = Path(matplotlib.get_data_path()) / "fonts/ttf"
WEIGHTS = {"regular": 400, "bold": 700}
BEHIND = [*range(0x0370, 0x0530), *range(0x2000, 0x2C00)]
"""Greek, Cyrillic, punctuation, arrows, mathematics, shapes."""


def plain(part: str, weight: int) -> BytesIO:
    """A part of the variable typeface at one weight, as TrueType."""
    font = TTFont(APP / "files" / f"atkinson-hyperlegible-next-{part}-wght-normal.woff2")
    instantiateVariableFont(font, {"wght": weight}, inplace=True)
    for table in ("GSUB", "GPOS", "GDEF", "STAT", "HVAR", "MVAR", "avar"):
        if table in font:
            del font[table]
    font.flavor = None
    out = BytesIO()
    font.save(out)
    out.seek(0)
    return out


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    for name, weight in WEIGHTS.items():
        merged = Merger().merge([plain("latin", weight), plain("latin-ext", weight)])
        # Embedded, two faces of one name would be one.
        merged["name"].setName(f"IcepickReport-{name}", 6, 3, 1, 0x409)
        merged["name"].setName(f"IcepickReport-{name}", 6, 1, 0, 0)
        merged.save(OUT / f"{name}.ttf")
    shutil.copyfile(APP / "LICENSE", OUT / "LICENSE-atkinson-hyperlegible-next")
    font = TTFont(DEJAVU / "DejaVuSans.ttf")
    options = Options()
    options.layout_features = []
    cut = Subsetter(options)
    cut.populate(unicodes=BEHIND)
    cut.subset(font)
    font.save(OUT / "behind.ttf")
    shutil.copyfile(DEJAVU / "LICENSE_DEJAVU", OUT / "LICENSE-dejavu")


if __name__ == "__main__":
    main()
