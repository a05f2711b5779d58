"""The demo shelf: draws the pictures of the demos from nothing, and how each looks at noon and at night.

    .venv/bin/python docs/demos.py            all of them
    .venv/bin/python docs/demos.py NAME…      only these

The moth's drawing was drawn by hand and is left alone; everything else is made here, so that it can be made again.
"""

from __future__ import annotations

import sys
from io import BytesIO
from pathlib import Path

import numpy as np
from PIL import Image, ImageFilter

ROOT = Path(__file__).parents[1]
SHELF = ROOT / "src/outlined_glow/data/demos"
sys.path.insert(0, str(ROOT / "src"))

from outlined_glow import DEMOS  # noqa: E402
from outlined_glow.core.board.draw import thumbnail  # noqa: E402
from outlined_glow.core.wiring.kept import COPPER  # noqa: E402
from outlined_glow.core.workshop import Compiler  # noqa: E402
from outlined_glow.core.workshop.board_passes import CLEANED  # noqa: E402
from outlined_glow.core.workshop.demos import demo_project  # noqa: E402
from outlined_glow.core.workshop.kept import kept_of  # noqa: E402

_CARD_PX = (473, 374)


def seed_room() -> tuple[str, bytes]:
    """A sign for a shelf of seeds: a jar cut out of a gradient, leaves by use and clip, a border of tiles, words; beside it
    four slots for sheets that are lit from below."""
    leaf = "M0 0C10 -16 34 -20 46 -6C34 8 10 10 0 0Z"
    seeds = "".join(
        f'<ellipse cx="{x}" cy="{y}" rx="4.6" ry="2.8" transform="rotate({angle} {x} {y})"/>'
        for x, y, angle in ((188, 262, 20), (206, 272, -30), (224, 260, 60), (200, 284, 80), (222, 284, 10), (184, 280, -50),
                            (214, 250, -10), (236, 276, -70), (196, 254, 40))
    )  # fmt: skip
    slots = "".join(
        f'<rect x="440" y="{y}" width="290" height="30" rx="8" fill="none" stroke="#7AC142" stroke-width="5"/>'
        f'<text x="585" y="{y + 54}" font-size="19">{word}</text>'
        for y, word in ((46, "grains"), (122, "pulses"), (198, "roots"), (274, "herbs"))
    )
    return (
        "sign.svg",
        f"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 760 360" width="152mm" height="72mm">
<defs>
<linearGradient id="dusk" x2="0" y2="1"><stop stop-color="#0F2A1C"/><stop offset=".55" stop-color="#1A4A33"/>
<stop offset="1" stop-color="#2E7A52"/></linearGradient>
<pattern id="hem" width="24" height="12" patternUnits="userSpaceOnUse"><path d="M2 11L12 2L22 11z" fill="#C9CCCF"/></pattern>
<clipPath id="jar"><path d="M160 150h100v16q22 10 22 40v70q0 24 -24 24h-96q-24 0 -24 -24v-70q0 -30 22 -40z"/></clipPath>
<path id="leaf" d="{leaf}"/>
</defs>
<rect width="760" height="360" rx="26" fill="#0B4A2B"/>
<rect x="14" y="14" width="732" height="332" rx="18" fill="url(#dusk)"/>
<rect x="48" y="312" width="324" height="12" fill="url(#hem)"/><rect x="48" y="36" width="324" height="12" fill="url(#hem)"/>
<g clip-path="url(#jar)"><rect x="130" y="140" width="160" height="170" fill="#B5A766"/>
<rect x="130" y="236" width="160" height="80" fill="#6B4A22"/><g fill="#F4F2EC">{seeds}</g></g>
<path d="M160 150h100v16q22 10 22 40v70q0 24 -24 24h-96q-24 0 -24 -24v-70q0 -30 22 -40z" fill="none"
stroke="#C9CCCF" stroke-width="5"/>
<path d="M154 140h112v12h-112z" fill="#C9CCCF"/>
<path d="M210 236C206 190 214 150 209 84" fill="none" stroke="#7AC142" stroke-width="6" stroke-linecap="round"/>
<g fill="#7AC142"><use href="#leaf" transform="translate(210 128) rotate(-24)"/>
<use href="#leaf" transform="translate(210 128) rotate(-24) scale(-1 1) rotate(-48)"/>
<use href="#leaf" transform="translate(209 88) rotate(-62) scale(.8)"/>
<use href="#leaf" transform="translate(209 88) rotate(-118) scale(.8)"/></g>
<g font-family="Source Sans 3" font-size="30" font-weight="700" text-anchor="middle" fill="#F4F2EC">
<text x="78" y="196">SEED</text><text x="342" y="196">ROOM</text>{slots}</g>
</svg>
""".encode(),
    )


def frost_tags() -> tuple[str, bytes]:
    """A frost crystal in lines, arms repeated as blocks, as a DXF drawing."""
    rows: list[str] = []

    def pairs(*row: object) -> None:
        """Codes, each with its value."""
        rows.extend(f"{code}\n{value}" for code, value in zip(row[::2], row[1::2], strict=True))

    def line(layer: str, x0: float, y0: float, x1: float, y1: float, wide: float) -> None:
        """A bar with square ends as a closed polyline."""
        along = np.array([x1 - x0, y1 - y0]) / np.hypot(x1 - x0, y1 - y0)
        side = np.array([-along[1], along[0]]) * wide / 2
        ends = np.array([[x0, y0], [x1, y1]])
        pairs(0, "POLYLINE", 8, layer, 66, 1, 70, 1, 10, 0, 20, 0)
        for x, y in (ends[0] + side, ends[1] + side, ends[1] - side, ends[0] - side):
            pairs(0, "VERTEX", 8, layer, 10, f"{x:.4f}", 20, f"{y:.4f}")
        pairs(0, "SEQEND")

    pairs(0, "SECTION", 2, "HEADER", 9, "$ACADVER", 1, "AC1009", 9, "$INSUNITS", 70, 4)
    pairs(0, "ENDSEC", 0, "SECTION", 2, "BLOCKS")
    pairs(0, "BLOCK", 8, "0", 2, "arm", 70, 0, 10, 0, 20, 0)
    line("metal", 0, 1.6, 0, 13, 0.9)
    for at, reach in ((5, 3.2), (8, 2.6), (10.8, 1.6)):
        for hand in (-1, 1):
            line("metal", 0, at, hand * reach, at + reach * 0.8, 0.55)
    pairs(0, "ENDBLK", 8, "0", 0, "ENDSEC", 0, "SECTION", 2, "ENTITIES")
    for turn in range(6):
        pairs(0, "INSERT", 8, "metal", 2, "arm", 10, 0, 20, 0, 50, 60 * turn)
    for number, radius in enumerate((1.1, 15.5, 14.6)):
        pairs(0, "CIRCLE", 8, "metal" if number == 0 else "ink", 10, 0, 20, 0, 40, radius)
    pairs(0, "ENDSEC", 0, "EOF")
    return "crystal.dxf", ("\n".join(rows) + "\n").encode()


def _noise(wide: int, high: int, seed: int, scales: tuple[float, ...], stretch: float = 1.0) -> np.ndarray:
    """Smooth noise of several scales, about 0."""
    chance = np.random.default_rng(seed)
    out = np.zeros((high, wide))
    for scale in scales:
        small = (max(2, int(wide / scale / stretch)), max(2, int(high / scale)))
        field = Image.fromarray(chance.normal(size=small[::-1]).astype(np.float32))
        out += np.asarray(field.resize((wide, high), Image.Resampling.BICUBIC)) * scale
    return np.asarray(out / np.abs(out).max())


def tide_board() -> tuple[str, bytes]:
    """A made-up photograph: the sun goes down over the estuary, a rowing four before it; dark above for the arc of lamps, and
    below for the matrix. Ten pixels are a millimetre."""
    wide, high, water_ends = 1180, 900, 540
    y, x = np.mgrid[0:high, 0:wide]
    horizon, sun = 330, (590, 330)
    glow = np.hypot(x - sun[0], y - sun[1])
    deep = np.clip((y - horizon) / (water_ends - horizon), 0, 1)
    waves = _noise(wide, high, 5, (40, 18, 9), 5.0) * (0.35 + deep)
    path = np.exp(-(((x - sun[0] + 26 * waves) / (40 + 240 * deep)) ** 2))
    water = 150 - 96 * deep + 40 * waves + 150 * path * (0.55 + 0.8 * waves.clip(-0.4, 1))
    tone = np.where((y >= horizon) & (y < water_ends), water, 0)
    tone[(glow < 74) & (y < horizon)] = 252
    boat = np.abs(y - 458) < 9 * np.sqrt(np.clip(1 - ((x - 420) / 300.0) ** 2, 0, 1))
    tone = np.where(boat, 16, tone)
    for seat in range(4):
        cx = 300 + 78 * seat
        body = np.hypot((x - cx - (454 - y) * 0.25) / 13.0, (y - 430) / 26.0) < 1
        head = np.hypot(x - cx - 14, y - 394) < 10
        oar = (np.abs((y - 440) - (x - cx) * (0.42 if seat % 2 else 0.36)) < 2.2) & (x > cx) & (x < cx + 150)
        tone = np.where(body | head | oar, 14, tone)
    photo = Image.fromarray(np.clip(tone, 0, 255).astype(np.uint8)).filter(ImageFilter.GaussianBlur(1.2))
    pixels = np.asarray(photo).astype(float)
    warm = np.stack([pixels * 1.02 + 6, pixels * 0.86, pixels * 0.66 + 24], axis=-1)
    grain = np.random.default_rng(9).normal(0, 2.5, (high, wide, 1))
    buffer = BytesIO()
    Image.fromarray(np.clip(warm + grain, 0, 255).astype(np.uint8)).save(buffer, "JPEG", quality=88)
    return "estuary.jpg", buffer.getvalue()


def paper_boat() -> tuple[str, bytes]:
    """A face of a lantern: a paper boat under the moon. Its sail and the moon let light through; LEDs light the waves."""
    waves = "".join(
        f'<path d="M30 {y}q32 -{high} 64 0t64 0t64 0t64 0t64 0t64 0t64 0"/>' for y, high in ((560, 26), (606, 22), (652, 18))
    )
    stars = "".join(
        f'<path d="M{x} {y - r}L{x + r * 0.3:.1f} {y - r * 0.3:.1f}L{x + r} {y}L{x + r * 0.3:.1f} {y + r * 0.3:.1f}L{x} {y + r}'
        f'L{x - r * 0.3:.1f} {y + r * 0.3:.1f}L{x - r} {y}L{x - r * 0.3:.1f} {y - r * 0.3:.1f}z"/>'
        for x, y, r in ((86, 96, 13), (150, 170, 9), (70, 236, 8), (236, 84, 8), (430, 250, 10), (300, 196, 7))
    )
    return (
        "boat.svg",
        f"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 520 740" width="52mm" height="74mm">
<rect width="520" height="740" rx="24" fill="#14244A"/>
<circle cx="404" cy="120" r="50" fill="#F6E7B0"/>
<g fill="#F4F2EC">{stars}
<path d="M44 398L150 440L370 440L476 398L404 520H116z"/></g>
<path d="M260 236L356 428H164z" fill="#E8C07A"/>
<path d="M150 440L260 236L370 440" fill="none" stroke="#F4F2EC" stroke-width="9" stroke-linejoin="round"/>
<g fill="none" stroke="#8FB4D4" stroke-width="9" stroke-linecap="round">{waves}</g>
</svg>
""".encode(),
    )


MAKERS = {"paper-boat": paper_boat, "seed-room": seed_room, "frost-tags": frost_tags, "tide-board": tide_board}


def main(names: list[str]) -> None:
    """Make the pictures, then show every demo at noon and at night."""
    for name in names:
        if name in MAKERS:
            file, data = MAKERS[name]()
            (SHELF / name / file).write_bytes(data)
        folder = SHELF / name
        for old in folder.glob(f"{'[0-9a-f]' * 32}.json"):
            old.unlink()  # the tracks are drawn anew
        work = Compiler().compile(demo_project(name))
        for old in folder.glob("*.bin"):
            old.unlink()
        for member, data in kept_of(work).items():
            (SHELF / name / member.removeprefix(CLEANED).removeprefix(COPPER)).write_bytes(data)
        for hour, sun in (("noon", 1.0), ("night", 0.0)):
            (SHELF / name / f"{hour}.png").write_bytes(thumbnail(work.board, *_CARD_PX, sun=sun))
        print(f"{name}: {work.board.size[0]:.1f} x {work.board.size[1]:.1f} mm, {len(work.leds)} LEDs")


if __name__ == "__main__":
    main(sys.argv[1:] or list(DEMOS))
