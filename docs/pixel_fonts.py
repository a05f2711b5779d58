"""Draw the pixel fonts that ship: `.venv/bin/python docs/pixel_fonts.py` writes data/fonts/pixel/*.bdf.

Every letter is drawn here, row by row from the top, each row a hexadecimal number whose bits are its pixels.
"""

from __future__ import annotations

import unicodedata
from pathlib import Path

TARGET = Path(__file__).parents[1] / "src/outlined_glow/data/fonts/pixel"

#: Five wide and seven high; two digits a row.
FIVE = {
    " ": "00000000000000", "!": "04040404000004", '"': "0A0A0A00000000", "#": "0A0A1F0A1F0A0A", "$": "040F140E051E04",
    "%": "18190204081303", "&": "0C12140815120D", "'": "04040800000000", "(": "02040808080402", ")": "08040202020408",
    "*": "0004150E150400", "+": "0004041F040400", ",": "000000000C0408", "-": "0000001F000000", ".": "00000000000C0C",
    "/": "00010204081000", ":": "000C0C000C0C00", ";": "000C0C000C0408", "<": "02040810080402", "=": "00001F001F0000",
    ">": "08040201020408", "?": "0E110102040004", "@": "0E11010D15150E", "[": "0E08080808080E", "\\": "00100804020100",
    "]": "0E02020202020E", "^": "040A1100000000", "_": "0000000000001F", "`": "08040200000000", "{": "02040408040402",
    "|": "04040404040404", "}": "08040402040408", "~": "00000815020000", "°": "06090906000000", "€": "06091C081C0906",
    "µ": "00001111131D10", "·": "0000000C0C0000",
    "0": "0E11131519110E", "1": "040C040404040E", "2": "0E11010204081F", "3": "1F02040201110E", "4": "02060A121F0202",
    "5": "1F101E0101110E", "6": "0608101E11110E", "7": "1F010204080808", "8": "0E11110E11110E", "9": "0E11110F01020C",
    "A": "0E11111F111111", "B": "1E11111E11111E", "C": "0E11101010110E", "D": "1C12111111121C", "E": "1F10101E10101F",
    "F": "1F10101E101010", "G": "0E11101711110F", "H": "1111111F111111", "I": "0E04040404040E", "J": "0702020202120C",
    "K": "11121418141211", "L": "1010101010101F", "M": "111B1515111111", "N": "11191513111111", "O": "0E11111111110E",
    "P": "1E11111E101010", "Q": "0E11111115120D", "R": "1E11111E141211", "S": "0F10100E01011E", "T": "1F040404040404",
    "U": "1111111111110E", "V": "11111111110A04", "W": "11111115151B11", "X": "11110A040A1111", "Y": "11110A04040404",
    "Z": "1F01020408101F",
    "a": "00000E010F110F", "b": "1010161911111E", "c": "00000E1010110E", "d": "01010D1311110F", "e": "00000E111F100E",
    "f": "0609081C080808", "g": "000F11110F010E", "h": "10101619111111", "i": "04000C0404040E", "j": "0200060202120C",
    "k": "10101214181412", "l": "0C04040404040E", "m": "00001A15151111", "n": "00001619111111", "o": "00000E1111110E",
    "p": "00001E111E1010", "q": "00000D130F0101", "r": "00001619101010", "s": "00000E100E011E", "t": "08081C08080906",
    "u": "0000111111130D", "v": "00001111110A04", "w": "0000111115150A", "x": "0000110A040A11", "y": "000011110F010E",
    "z": "00001F0204081F",
    "ß": "0C12121C12121C", "Æ": "0F14141F141417", "æ": "00001A051F140B", "Ø": "0F12151915 090E".replace(" ", ""),
    "ø": "00000D1315190E".replace("190E", "191E"), "ı": "00000C0404040E", "Ł": "08080C18080807", "ł": "0C04060C04040E",
    "Γ": "1F101010101010", "Δ": "04040A0A11111F", "Θ": "0E11111F11110E", "Λ": "04040A0A111111", "Ξ": "1F00000E00001F",
    "Π": "1F111111111111", "Σ": "1F08040204081F", "Φ": "040E1515150E04", "Ψ": "1515150E040404", "Ω": "0E1111110A0A1B",
    "α": "00000912120D00", "β": "0C12121C12121C", "γ": "00110A0A040404", "δ": "06080C0E11110E", "ε": "00000F100E100F",
    "λ": "08040404060911", "π": "00001F0A0A0A09", "σ": "00000F1212120C", "φ": "0000161515150E", "ω": "00000A1115150A",
    "Б": "1F10101E11111E", "Г": "1F101010101010", "Д": "06 0A0A0A0A1F11".replace(" ", ""), "Ж": "15150E040E1515",
    "З": "0E11010601110E", "И": "11111315191111", "Й": "0A111315191111", "Л": "07090909090911", "П": "1F111111111111",
    "Ф": "040E1515150E04", "Ц": "12121212121F01", "Ч": "1111110F010101", "Ш": "1515151515151F", "Щ": "15151515151F01",
    "Ъ": "180808 0E09090E".replace(" ", ""), "Ы": "1111111D13131D", "Ь": "1010101E11111E", "Э": "0E11010701110E",
    "Ю": "12151 51D151512".replace(" ", ""), "Я": "0F11110F050911",
}  # fmt: skip
#: Three wide and five high, one digit a row; small letters are the capital ones.
THREE = {
    " ": "00000", "!": "22202", '"': "55000", "%": "51245", "'": "22000", "(": "12221", ")": "42224", "+": "02720",
    ",": "00024", "-": "00700", ".": "00002", "/": "11244", ":": "02020", "=": "07070", "?": "71202", "°": "25200",
    "0": "75557", "1": "26227", "2": "71747", "3": "71317", "4": "55711", "5": "74717", "6": "74757", "7": "71222",
    "8": "75757", "9": "75717", "A": "25755", "B": "65656", "C": "34443", "D": "65556", "E": "74647", "F": "74644",
    "G": "34553", "H": "55755", "I": "72227", "J": "11152", "K": "55655", "L": "44447", "M": "57755", "N": "65555",
    "O": "25552", "P": "65644", "Q": "25573", "R": "65655", "S": "34216", "T": "72222", "U": "55557", "V": "55552",
    "W": "55775", "X": "55255", "Y": "55222", "Z": "71247",
}  # fmt: skip
#: Letters that look like others.
LIKE = {
    "А": "A", "В": "B", "Е": "E", "К": "K", "М": "M", "Н": "H", "О": "O", "Р": "P", "С": "C", "Т": "T", "У": "Y", "Х": "X",
    "а": "a", "е": "e", "о": "o", "р": "p", "с": "c", "х": "x", "у": "y", "Α": "A", "Β": "B", "Ε": "E", "Ζ": "Z", "Η": "H",
    "Ι": "I", "Κ": "K", "Μ": "M", "Ν": "N", "Ο": "O", "Ρ": "P", "Τ": "T", "Υ": "Y", "Χ": "X", "ο": "o", "ν": "v", "μ": "µ",
    "‐": "-", "–": "-", "—": "-", "’": "'", "‘": "'", "“": '"', "”": '"', "−": "-", "\u00a0": " ",
}  # fmt: skip
#: Two rows over a small letter, by the mark that Unicode sets over it.
MARKS = {
    "\u0300": (0x08, 0x04), "\u0301": (0x02, 0x04), "\u0302": (0x04, 0x0A), "\u0303": (0x0D, 0x16), "\u0308": (0x0A, 0x00),
    "\u030a": (0x04, 0x04), "\u030c": (0x0A, 0x04), "\u0304": (0x0E, 0x00), "\u0306": (0x0A, 0x04), "\u030b": (0x05, 0x0A),
}  # fmt: skip
#: Letters that are made of a small or capital one and a mark.
MARKED = "ÀÁÂÃÄÅÈÉÊËÌÍÎÏÑÒÓÔÕÖÙÚÛÜÝŠŽČĚŘŇŐŰàáâãäåèéêëìíîïñòóôõöùúûüýÿšžčěřňőűёЁ"


def five() -> dict[str, list[int]]:
    """Every letter of the larger font: its rows."""
    rows = {letter: [int(text[at : at + 2], 16) for at in range(0, 14, 2)] for letter, text in FIVE.items()}
    rows |= {letter: rows[other] for letter, other in LIKE.items()}
    for letter in MARKED:
        base, mark = unicodedata.normalize("NFD", letter)
        own = list(rows["ı" if base == "i" else base])
        if base.isupper():
            # A capital makes room for its mark: five of its rows, the lower ones.
            own = [0, 0, *(own[at] for at in (0, 1, 3, 5, 6))]
        rows[letter] = [row | over for row, over in zip(own, (*MARKS[mark], 0, 0, 0, 0, 0), strict=True)]
    for letter, base in (("Ç", "C"), ("ç", "c")):
        own = list(rows[base])
        rows[letter] = [*own[:5], own[6], 0x04]
    return rows


def three() -> dict[str, list[int]]:
    """Every letter of the smaller font."""
    rows = {letter: [int(one, 16) for one in text] for letter, text in THREE.items()}
    rows |= {letter.lower(): own for letter, own in rows.items()}
    return rows | {letter: rows[other] for letter, other in LIKE.items() if other in rows}


def bdf(name: str, wide: int, rows: dict[str, list[int]]) -> str:
    """A font as BDF 2.1: empty columns at the sides of a letter are left away, a space is two pixels."""
    high = len(next(iter(rows.values())))
    out = ["STARTFONT 2.1", f"FONT {name}", f"SIZE {high} 75 75", f"FONTBOUNDINGBOX {wide} {high} 0 0",
           "STARTPROPERTIES 3", f"FONT_ASCENT {high}", "FONT_DESCENT 0", 'COPYRIGHT "CC0 1.0, drawn for Outlined Glow"',
           "ENDPROPERTIES", f"CHARS {len(rows)}"]  # fmt: skip
    for letter in sorted(rows):
        own = rows[letter]
        there = [at for at in range(wide) if any(row >> (wide - 1 - at) & 1 for row in own)]
        left, right = (there[0], there[-1]) if there else (0, 1)
        size = right - left + 1
        out += [f"STARTCHAR U+{ord(letter):04X}", f"ENCODING {ord(letter)}", "SWIDTH 500 0", f"DWIDTH {size + 1} 0",
                f"BBX {size} {high} 0 0", "BITMAP"]  # fmt: skip
        for row in own:
            kept = (row >> (wide - 1 - right)) & ((1 << size) - 1)
            out.append(f"{kept << (8 - size):02X}")
        out.append("ENDCHAR")
    return "\n".join([*out, "ENDFONT", ""])


if __name__ == "__main__":
    TARGET.mkdir(exist_ok=True)
    (TARGET / "small-3x5.bdf").write_text(bdf("small", 3, three()), "utf-8")
    (TARGET / "plain-5x7.bdf").write_text(bdf("plain", 5, five()), "utf-8")
    print(len(three()), len(five()))
