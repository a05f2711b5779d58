"""Draw the pixel fonts that ship: `.venv/bin/python docs/pixel_fonts.py` writes data/fonts/pixel/*.bdf.

Every letter is drawn here, row by row from the top, each row a hexadecimal number whose bits are its pixels; those of the
tall font as strokes (pixel_strokes.py).
"""

from __future__ import annotations

import unicodedata
from pathlib import Path

import pixel_strokes

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
    "Ю": "12151 51D151512".replace(" ", ""), "Я": "0F11110F050911", "Є": "0E11101C10110E", "Ґ": "011F1010101010",
    "б": "0F101E1111110E", "в": "00001E111E111E", "г": "00001F10101010", "д": "0000060A0A1F11", "ж": "000015150E1515",
    "з": "00001E010E011E", "и": "00001113151911", "к": "00001214181412", "л": "00000709090911", "м": "0000111B151111",
    "н": "000011111F1111", "п": "00001F11111111", "т": "00001F04040404", "ф": "00040E15150E04", "ц": "00001212121F01",
    "ч": "000011110F0101", "ш": "0000151515151F", "щ": "00001515151F01", "ъ": "000018080E090E", "ы": "000011111D131D",
    "ь": "000010101E111E", "э": "00001E0107011E", "ю": "000012151D1512", "я": "00000F110F0519", "є": "00000F101C100F",
    "ґ": "00011F10101010",
    "ζ": "1F020408080601", "η": "00001619111101", "θ": "0609090F090906", "ι": "00000C04040406", "κ": "00001214181412",
    "ξ": "0F080E180E0106", "ρ": "00000E111E1010", "ς": "00000F100E0106", "τ": "00001F04040403", "υ": "0000111111110E",
    "χ": "0000110A040A11", "ψ": "000415150E0404",
}  # fmt: skip
#: Four wide and seven high, one digit a row.
FOUR = {
    " ": "0000000", "!": "8888808", '"': "AA00000", "%": "9924499", "'": "8800000", "(": "4888884", ")": "8444448",
    "+": "004E400", ",": "0000448", "-": "000E000", ".": "0000008", "/": "1122448", ":": "0080080", ";": "0040048",
    "<": "0024842", "=": "00F0F00", ">": "0084248", "?": "6912404", "[": "C88888C", "\\": "8844221", "]": "C44444C",
    "^": "4A00000", "_": "000000F", "`": "8400000", "{": "6448446", "|": "8888888", "}": "C44244C", "~": "005A000",
    "°": "4A40000", "€": "34E4E43", "µ": "00999E8", "·": "0008000",
    "0": "69BD996", "1": "2622227", "2": "691248F", "3": "E11611E", "4": "1359F11", "5": "F88E11E", "6": "688E996",
    "7": "F112244", "8": "6996996", "9": "6997116",
    "A": "699F999", "B": "E99E99E", "C": "6988896", "D": "E99999E", "E": "F88E88F", "F": "F88E888", "G": "698B996",
    "H": "999F999", "I": "E44444E", "J": "3111196", "K": "99ACA99", "L": "888888F", "N": "9DDBB99", "O": "6999996",
    "P": "E99E888", "Q": "69999A5", "R": "E99EA99", "S": "788611E", "T": "E444444", "U": "9999996", "V": "9999966",
    "X": "9966699", "Y": "AAA4444", "Z": "F12448F",
    "a": "0061797", "b": "88E999E", "c": "0078887", "d": "1179997", "e": "0069F87", "f": "34E4444", "g": "0799716",
    "h": "88E9999", "i": "8088888", "j": "202222C", "k": "889ACA9", "l": "8888884", "n": "00E9999", "o": "0069996",
    "p": "00E9E88", "q": "0079711", "r": "00AC888", "s": "007861E", "t": "44E4443", "u": "0099997", "v": "00AAAA4",
    "x": "0099699", "y": "0999716", "z": "00F168F", "ı": "0088888", "ß": "69A99AA", "ł": "44C6C44", "Ł": "448C88F",
    "Γ": "F888888", "Θ": "699F996", "Λ": "6699999", "Ξ": "F00600F", "Π": "F999999", "Σ": "F84248F",
    "α": "005AAA5", "β": "69A99E8", "γ": "00AA444", "δ": "6869996", "ε": "0078687", "ζ": "F124461", "η": "00E9991",
    "θ": "699F996", "ι": "0088884", "κ": "009ACA9", "λ": "8446699", "ξ": "7861861", "π": "00FAAAA", "ρ": "069E888",
    "ς": "0078616", "σ": "007AAA4", "τ": "00E4442", "υ": "0099996", "χ": "0099699",
    "Б": "F88E99E", "Г": "F888888", "З": "E11611E", "И": "99BBDD9", "Л": "3555559", "П": "F999999", "Ц": "AAAAAF1",
    "Ч": "9997111", "Ь": "888E99E", "Э": "E11711E", "Я": "7997599", "Є": "788E887", "Ґ": "1F88888",
    "б": "78E9996", "в": "00E9E9E", "г": "00F8888", "з": "00E161E", "и": "009BFD9", "к": "009ACA9", "л": "0035559",
    "н": "0099F99", "п": "00F9999", "т": "00E4444", "ц": "00AAAF1", "ч": "0099711", "ь": "0088E9E", "э": "00E171E",
    "я": "0079759", "є": "0078E87", "ґ": "01F8888",
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
    "Б": "74657", "Г": "74444", "Д": "25557", "Ж": "52725", "З": "61216", "И": "55775", "Л": "35555", "П": "75555",
    "Ф": "27772", "Ц": "55571", "Ч": "55711", "Ш": "55577", "Ы": "55775", "Ь": "44757", "Э": "71317", "Я": "35355",
    "Γ": "74444", "Δ": "25557", "Θ": "25752", "Λ": "25555", "Ξ": "70207", "Π": "75555", "Σ": "74247", "Φ": "27772",
    "Ψ": "55722", "Ω": "25525",
}  # fmt: skip
#: Small letters of the tall font that are the capital one in seven rows.
SMALL_CAPS = "вгджзийклмнптцчшщъыьэюяєґ"
#: Letters that look like others.
LIKE = {
    "А": "A", "В": "B", "Е": "E", "К": "K", "М": "M", "Н": "H", "О": "O", "Р": "P", "С": "C", "Т": "T", "У": "Y", "Х": "X",
    "а": "a", "е": "e", "о": "o", "р": "p", "с": "c", "х": "x", "у": "y", "Α": "A", "Β": "B", "Ε": "E", "Ζ": "Z", "Η": "H",
    "Ι": "I", "Κ": "K", "Μ": "M", "Ν": "N", "Ο": "O", "Ρ": "P", "Τ": "T", "Υ": "Y", "Χ": "X", "ο": "o", "ν": "v", "μ": "µ",
    "І": "I", "і": "i", "Ј": "J", "ј": "j", "Ѕ": "S", "ѕ": "s",
    "‐": "-", "–": "-", "—": "-", "’": "'", "‘": "'", "“": '"', "”": '"', "−": "-", "\u00a0": " ",
}  # fmt: skip
#: Two rows over a small letter, by the mark that Unicode sets over it.
MARKS = {
    "\u0300": (0x08, 0x04), "\u0301": (0x02, 0x04), "\u0302": (0x04, 0x0A), "\u0303": (0x0D, 0x16), "\u0308": (0x0A, 0x00),
    "\u030a": (0x04, 0x04), "\u030c": (0x0A, 0x04), "\u0304": (0x0E, 0x00), "\u0306": (0x0A, 0x04), "\u030b": (0x05, 0x0A),
    "\u0307": (0x04, 0x00),
}  # fmt: skip
#: The lowest row under a letter, by the mark that Unicode sets under it.
BELOW = {"\u0327": 0x04, "\u0328": 0x03, "\u0326": 0x04}
#: Letters that are made of a small or capital one and a mark over it; and under it.
MARKED = (
    "ÀÁÂÃÄÅĀĂÈÉÊËĒĚĖÌÍÎÏĪİÑŃŇÒÓÔÕÖŌŐÙÚÛÜŪŮŰÝŸŠŚŽŹŻČĆĊŘĞĠÁàáâãäåāăèéêëēěėìíîïīñńňòóôõöōőùúûüūůűýÿšśžźżčćċřğġ"
    "ёЁйЙїЇўЎάέήίόύώϊϋΆΈΉΊΌΎΏΪΫ"
)
HUNG = "ÇçĄąĘęĮįŲųŞşȘșŢţȚț"


Rows = dict[str, list[int]]


def _marked(rows: Rows) -> Rows:
    """Letters with a mark over or under them, made of those without, five wide and seven high."""
    out = {}
    for letter in MARKED:
        base, mark = list(unicodedata.normalize("NFD", letter))
        own = list(rows["ı" if base in "iі" else base])
        if base.isupper():
            # A capital makes room for its mark: five of its rows, the lower ones.
            own = [0, 0, *(own[at] for at in (0, 1, 3, 5, 6))]
        out[letter] = [row | over for row, over in zip(own, (*MARKS[mark], 0, 0, 0, 0, 0), strict=True)]
    for letter in HUNG:
        base, mark = list(unicodedata.normalize("NFD", letter))
        own = rows[base]
        out[letter] = [*own[:5], own[6], BELOW[mark]] if base.isupper() else [*own[1:6], own[6], BELOW[mark]]
    return out


def five() -> Rows:
    """Every letter of the usual font: its rows."""
    rows = {letter: [int(text[at : at + 2], 16) for at in range(0, 14, 2)] for letter, text in FIVE.items()}
    rows |= {letter: rows[other] for letter, other in LIKE.items()}
    rows |= {letter: drawn(text, 7, share=0.6, wide=5) for letter, text in _digits().items()}
    return rows | _marked(rows)


def four() -> Rows:
    """Every letter of the narrow font; what four columns have no room for is five wide."""
    rows = five()
    rows |= {letter: [int(one, 16) << 1 for one in text] for letter, text in FOUR.items()}
    rows |= {letter: rows[other] for letter, other in LIKE.items()}
    return rows | _marked(rows)


def three() -> Rows:
    """Every letter of the smallest font; it has no room for marks."""
    rows = {letter: [int(one, 16) for one in text] for letter, text in THREE.items()}
    rows |= {letter.lower(): own for letter, own in rows.items()}
    rows |= {letter: rows[other] for letter, other in LIKE.items() if other in rows}
    bare = {letter: unicodedata.normalize("NFD", letter)[0] for letter in MARKED + HUNG}
    return rows | {letter: rows[base] for letter, base in bare.items() if base in rows}


def drawn(strokes: str, high: int = 11, top: float = 0.0, share: float = 1.0, wide: int = 7) -> list[int]:
    """The rows of strokes, seven wide unless told: their rows begin at `top` and are so many times as high."""
    rows = [0] * high
    for stroke in strokes.split():
        spots = [(round(int(one[0]) * (wide - 1) / 6), round(top + share * int(one[1], 16))) for one in stroke.split("-")]
        for (x, y), (x1, y1) in zip(spots, spots[1:] or spots, strict=False):
            steps = max(abs(x1 - x), abs(y1 - y), 1)
            for at in range(steps + 1):
                rows[round(y + (y1 - y) * at / steps)] |= 1 << wide - 1 - round(x + (x1 - x) * at / steps)
    return rows


def tall() -> Rows:
    """Every letter of the tall font."""
    strokes = pixel_strokes.TALL | pixel_strokes.SMALL
    rows = {letter: drawn(text) for letter, text in strokes.items()}
    rows |= {
        small: drawn(pixel_strokes.TALL[small.upper()], top=4, share=0.6) for small in SMALL_CAPS if small.upper() in strokes
    }
    rows |= {letter: rows[other] for letter, other in LIKE.items()}
    rows |= {small: drawn(strokes[LIKE[small.upper()]], top=4, share=0.6) for small in SMALL_CAPS if small.upper() in LIKE}
    strokes |= {letter: strokes[other] for letter, other in LIKE.items()}
    for letter in MARKED + HUNG:
        base, mark = list(unicodedata.normalize("NFD", letter))
        base = "ı" if base in "iі" else base
        over, under = pixel_strokes.OVER.get(mark, ""), pixel_strokes.UNDER.get(mark, "")
        if over:
            own = drawn(strokes[base], top=3, share=0.7) if base.isupper() else rows[base]
            marks = drawn(over, top=-1 if base.isupper() else 0)
        else:
            own, marks = (
                drawn(strokes[base], top=0 if base.isupper() else -1, share=0.8 if base.isupper() else 0.9),
                drawn(under),
            )
        rows[letter] = [row | more for row, more in zip(own, marks, strict=True)]
    rows |= {letter: drawn(text) for letter, text in pixel_strokes.SIGNS.items()}
    return rows | {letter: drawn(text) for letter, text in _digits().items()}


def _digits() -> dict[str, str]:
    """The strokes of digits of other scripts."""
    return {chr(ord(first) + at): text for first, some in pixel_strokes.DIGITS.items() for at, text in enumerate(some)}


def bdf(name: str, wide: int, rows: dict[str, list[int]]) -> str:
    """A font as BDF 2.1: empty columns at the sides of a letter are left away, a space is two pixels."""
    [high] = {len(own) for own in rows.values()}
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
    for file, name, wide, letters in (
        ("small-3x5", "small", 3, three()), ("narrow-4x7", "narrow", 5, four()), ("plain-5x7", "plain", 5, five()),
        ("tall-7x11", "tall", 7, tall()),
    ):  # fmt: skip
        (TARGET / f"{file}.bdf").write_text(bdf(name, wide, letters), "utf-8")
        print(file, len(letters))
