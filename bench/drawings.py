"""Small drawings, for the tests and the bench."""

#: A sign in five flat colours that sit exactly on appearances of the black, gold, white stack.
SIGN = b"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 40" width="60mm" height="40mm">
<rect width="60" height="40" fill="#121212"/>
<rect x="4" y="4" width="20" height="12" fill="#D9B25A"/>
<rect x="30" y="4" width="10" height="12" fill="#F4F2EC"/>
<circle cx="50" cy="28" r="5" fill="#B5A766"/>
<rect x="4" y="22" width="30" height="14" fill="#1D1B1A"/>
</svg>"""


def _bars(colour: str, x: float, y: float, pitch: float, width: float, count: int) -> str:
    return "".join(f'<rect x="{x + pitch * at}" y="{y}" width="{width}" height="5" fill="#{colour}"/>' for at in range(count))


#: Bars too thin and bars too near one another in every appearance, a taper, and ink across copper.
FINE = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 44 30" width="44mm" height="30mm">'
    '<rect width="44" height="30" fill="#2E1240"/>'
    + _bars("D9A441", 4, 4, 0.25, 0.07, 12) + _bars("D9A441", 12, 4, 0.5, 0.42, 10)
    + _bars("F4F2EC", 20, 4, 0.6, 0.05, 8) + _bars("F4F2EC", 28, 4, 0.5, 0.45, 8)
    + _bars("8E4F92", 4, 14, 0.4, 0.06, 12) + _bars("8E4F92", 12, 14, 0.5, 0.44, 10)
    + '<rect x="20" y="14" width="8" height="6" fill="#B5A766"/>' + _bars("D9A441", 20, 14, 0.7, 0.06, 8)
    + '<path d="M30 14L38 14L38 14.05L30 18Z" fill="#D9A441"/><rect x="30" y="20" width="6" height="4" fill="#F4F2EC"/>'
    '<rect x="33" y="18" width="1" height="8" fill="#D9A441"/></svg>'
).encode()  # fmt: skip
FINE_CHOSEN = {"D9A441": "metal", "F4F2EC": "ink", "8E4F92": "raised", "B5A766": "window", "2E1240": "mask"}
