"""The XML of a picture from a stranger, parsed without trusting it."""

from __future__ import annotations

import gzip
import io
import zlib

from lxml import etree

from ...errors import Trouble
from ...text_safety import short

SVG = "{http://www.w3.org/2000/svg}"
XLINK_HREF = "{http://www.w3.org/1999/xlink}href"
_MOST_BYTES = 60_000_000
_MOST_ELEMENTS = 250_000
#: What the parser says, and what that means to the one who drew it.
_KNOWN = {
    "depth": "nests its groups too deeply (over 250 levels); ungroup it",
    "buffer size": "holds a path of more than 10 MB; simplify or split it",
    "amplification": "unfolds its entities to more than any drawing holds; save it again as plain SVG",
    "entity": "refers to something outside itself or not defined; save it again as plain SVG",
}


def parse(data: bytes, name: str) -> etree._Element:
    """The root element. Refuses entity bombs, outside references, other XML and absurd sizes."""
    if data[:2] == b"\x1f\x8b":
        data = _unpacked(data, name)
    if not data.strip():
        raise Trouble(f"“{name}” is empty.")
    if len(data) > _MOST_BYTES:
        raise Trouble(f"“{name}” is larger than {_MOST_BYTES // 1_000_000} MB; simplify the drawing.")
    parser = etree.XMLParser(
        resolve_entities="internal",  # type: ignore[arg-type]
        no_network=True,
        load_dtd=False,
        huge_tree=False,
        remove_comments=True,
        remove_pis=True,
    )
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as error:
        known = next((words for mark, words in _KNOWN.items() if mark in str(error).lower()), "")
        if known:
            raise Trouble(f"“{name}” {known}.") from error
        if not _looks_like_xml(data):
            kinds = "SVG, DXF, PNG, JPEG, WebP, TIFF, BMP or GIF"
            raise Trouble(f"“{name}” is not a picture Outlined Glow can read. Use {kinds}.") from error
        reason = " ".join(str(error.msg).split())
        raise Trouble(f"“{name}” is a damaged SVG picture: {reason}.") from error
    if root.tag not in (f"{SVG}svg", "svg"):
        raise Trouble(f"“{name}” is not an SVG picture: its root element is <{local(root)}>.")
    if sum(1 for _ in root.iter()) > _MOST_ELEMENTS:
        raise Trouble(f"“{name}” has more than {_MOST_ELEMENTS} elements; simplify the drawing.")
    return root


def _looks_like_xml(data: bytes) -> bool:
    head = data[:64].lstrip(b"\xef\xbb\xbf\xff\xfe\x00 \t\r\n").replace(b"\x00", b"")
    return head.startswith(b"<")


def local(element: etree._Element) -> str:
    """The tag without its namespace; "" for what is no SVG element."""
    tag = element.tag
    if not isinstance(tag, str):
        return ""
    if tag.startswith(SVG):
        return tag[len(SVG) :]
    return tag if "}" not in tag else ""


def where(element: etree._Element) -> str:
    """How a finding names an element: its tag, its id if it has one, and its line."""
    name = element.get("id")
    line = f" on line {element.sourceline}" if element.sourceline else ""
    return f"<{local(element)}{f' id={short(name, 40)}' if name else ''}>{line}"


def is_meant(element: etree._Element) -> bool:
    """Whether an element is meant for this reader (SVG 2, 5.8), which has no extension and reads English."""
    languages = element.get("systemLanguage")
    mine = languages is None or any(one.strip().lower().split("-")[0] == "en" for one in languages.split(","))
    return mine and not (element.get("requiredExtensions") or "").strip()


def not_read(rest: str, element: etree._Element) -> str:
    """How a finding tells what of an outline could not be read, from where on."""
    return f"Part of a path could not be read, from “{short(rest, 30)}” on: {where(element)}."


def href(element: etree._Element) -> str:
    """The target of a reference inside the document, without its `#`; "" when there is none."""
    target = element.get("href") or element.get(XLINK_HREF) or ""
    return target[1:] if target.startswith("#") else ""


def _unpacked(data: bytes, name: str) -> bytes:
    try:
        with gzip.GzipFile(fileobj=io.BytesIO(data)) as stream:
            return stream.read(_MOST_BYTES + 1)
    except (OSError, EOFError, zlib.error) as error:
        raise Trouble(f"“{name}” is a damaged compressed SVG.") from error
