"""Draw the demo's photos, which are made up like all of it: `.venv/bin/python tools/demo_photos.py`."""

from __future__ import annotations

import random
from pathlib import Path

from PIL import Image, ImageDraw, ImageFilter, ImageFont

ROOT = Path(__file__).parents[1]
OUT = ROOT / "src/icepick/demo/photos"
FONTS = ROOT / "src/icepick/report/fonts"
SIZE = (1000, 660)


def nameplate() -> Image.Image:
    """A plate on sheet metal."""
    picture = Image.new("RGB", SIZE, "#8f9699")
    draw = ImageDraw.Draw(picture)
    draw.rounded_rectangle((90, 70, 910, 590), 18, fill="#d7dadb", outline="#5e666b", width=4)
    for x in (125, 875):
        for y in (105, 555):
            draw.ellipse((x - 12, y - 12, x + 12, y + 12), fill="#9aa2a6", outline="#5e666b", width=3)
    large, small = (
        ImageFont.truetype(FONTS / f"{name}.ttf", size) for name, size in (("bold", 44), ("regular", 34))
    )
    draw.text((170, 120), "TARNWICK WORKS", font=large, fill="#22282c")
    lines = (
        "MODEL   made up, 30",
        "SERIAL   TW-0042",
        "REFRIGERANT   R-454B",
        "RATED LOAD   14.1 A",
        "24 V CONTROL",
    )
    for place, line in enumerate(lines):
        draw.text((170, 210 + 68 * place), line, font=small, fill="#22282c")
    return picture


def loose_bulb(seed: int = 7) -> Image.Image:
    """A pipe, and a sensing bulb that hangs beside it; frost where the pipe is cold."""
    rng = random.Random(seed)
    picture = Image.new("RGB", SIZE, "#4b5358")
    draw = ImageDraw.Draw(picture)
    draw.rectangle((0, 250, 1000, 350), fill="#b0703c")
    draw.rectangle((0, 262, 1000, 285), fill="#d29560")
    for _ in range(2600):
        x, y = rng.gauss(250, 190), rng.gauss(300, 40)
        if 245 < y < 355:
            size = rng.uniform(1, 5)
            draw.ellipse((x - size, y - size, x + size, y + size), fill="#e8f0f4")
    draw.rounded_rectangle((560, 430, 860, 480), 24, fill="#c98a52", outline="#6d4523", width=3)
    draw.line(((860, 455), (930, 470), (960, 590), (940, 660)), fill="#c98a52", width=7)
    draw.arc((600, 360, 700, 450), 100, 260, fill="#22282c", width=8)
    return picture.filter(ImageFilter.GaussianBlur(1.2))


def main() -> None:
    OUT.mkdir(exist_ok=True)
    for name, drawn in (("nameplate", nameplate()), ("loose-bulb", loose_bulb())):
        drawn.save(OUT / f"{name}.jpg", "JPEG", quality=82, optimize=True)


if __name__ == "__main__":
    main()
