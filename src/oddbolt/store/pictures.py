"""Photographs as bytes: what kind they are by their content, and what they tell beside the picture, taken out.

Formats from memory of their specifications: JPEG (ITU-T T.81, Exif 2.3), PNG (W3C), WebP (RFC 9649), TIFF 6.0.
"""

from __future__ import annotations

import struct
from collections.abc import Iterator

JPEG, PNG, WEBP, TIFF, BMP = "jpeg", "png", "webp", "tiff", "bmp"
# Text, time and Exif of PNG; what is drawn (colours, transparency, profiles) stays.
PNG_TELLS = (b"tEXt", b"zTXt", b"iTXt", b"eXIf", b"tIME")
ORIENTATION, EXIF_IFD, GPS_IFD = 0x0112, 0x8769, 0x8825
# Names, places, times and programs: description, make, model, software, date, artist, host, copyright, XMP, IPTC,
# Photoshop, serial numbers of camera and lens.
TIFF_TELLS = frozenset((0x010E, 0x010F, 0x0110, 0x0131, 0x0132, 0x013B, 0x013C, 0x8298, 0x02BC, 0x83BB, 0x8649,
                        0xC62F, 0xA431, 0xA435))
TYPE_BYTES = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8}


def kind_of(body: bytes) -> str:
    """The format by its first bytes; empty for anything else, such as drawings that could name other files."""
    if body[:3] == b"\xff\xd8\xff":
        return JPEG
    if body[:8] == b"\x89PNG\r\n\x1a\n":
        return PNG
    if body[:4] == b"RIFF" and body[8:12] == b"WEBP":
        return WEBP
    if body[:4] in (b"II*\0", b"MM\0*"):
        return TIFF
    return BMP if body[:2] == b"BM" and len(body) > 26 else ""


def is_sound(body: bytes) -> bool:
    """A WAV file, by its first bytes."""
    return body[:4] == b"RIFF" and body[8:12] == b"WAVE"


def without_tales(body: bytes) -> bytes:
    """The same picture, upright as it was, without place, author, times and serial numbers.

    Raises ValueError where the file is not built as its format says: then nothing vouches for what is in it.
    """
    strip = {JPEG: _jpeg, PNG: _png, WEBP: _webp, TIFF: _tiff, BMP: lambda same: same}.get(kind_of(body))
    if strip is None:
        raise ValueError("no photograph")
    try:
        return strip(body)
    except (struct.error, IndexError) as error:
        raise ValueError(str(error)) from None


# -- JPEG

def _jpeg(body: bytes) -> bytes:
    """Without application segments but JFIF, colour profile and Adobe's colour transform, and without comments."""
    out, turned = [body[:2]], 1
    for marker, segment in _segments(body):
        if marker == 0xDA:  # from here on it is picture, to the end
            orientation = _exif_of_orientation(turned) if turned != 1 else b""
            return b"".join([out[0], orientation, *out[1:], segment])
        if marker == 0xE1 and segment[4:10] == b"Exif\0\0":
            turned = _orientation(segment[10:])
        keeps = (marker == 0xE0 and segment[4:8] == b"JFIF") or (marker == 0xE2 and segment[4:15] == b"ICC_PROFILE") \
            or (marker == 0xEE and segment[4:9] == b"Adobe")
        if keeps or not (0xE0 <= marker <= 0xEF or marker == 0xFE):
            out.append(segment)
    raise ValueError("no picture in it")


def _segments(body: bytes) -> Iterator[tuple[int, bytes]]:
    place = 2
    while place < len(body):
        if body[place] != 0xFF:
            raise ValueError("no marker")
        marker = body[place + 1]
        if marker == 0xFF:  # fill
            place += 1
            continue
        if marker == 0xDA:
            yield marker, _picture(body[place:])
            return
        length, = struct.unpack_from(">H", body, place + 2)
        if length < 2:
            raise ValueError("length of a segment")
        yield marker, body[place:place + 2 + length]
        place += 2 + length
    raise ValueError("cut short")


def _picture(body: bytes) -> bytes:
    """To the end of the picture; what some cameras hang behind it (a second picture with its own Exif) is not kept."""
    end = body.rfind(b"\xff\xd9")
    first = body.find(b"\xff\xd9")
    trailer = body.find(b"\xff\xd8\xff", first) if first >= 0 else -1
    if trailer >= 0:
        end = body.rfind(b"\xff\xd9", 0, trailer)
    return body if end < 0 else body[:end + 2]


def _orientation(tiff: bytes) -> int:
    try:
        order = ">" if tiff[:2] == b"MM" else "<"
        for tag, _, _, place in _entries(tiff, order, struct.unpack_from(f"{order}I", tiff, 4)[0]):
            if tag == ORIENTATION:
                value = struct.unpack_from(f"{order}H", tiff, place + 8)[0]
                return value if 1 <= value <= 8 else 1
    except (struct.error, ValueError):
        pass
    return 1


def _exif_of_orientation(turned: int) -> bytes:
    tiff = struct.pack(">2sHIHHHIHHI", b"MM", 42, 8, 1, ORIENTATION, 3, 1, turned, 0, 0)
    return struct.pack(">HH", 0xFFE1, len(tiff) + 8) + b"Exif\0\0" + tiff


# -- PNG, WebP

def _png(body: bytes) -> bytes:
    out, place = [body[:8]], 8
    while place < len(body):
        length, = struct.unpack_from(">I", body, place)
        name, end = body[place + 4:place + 8], place + 12 + length
        if end > len(body):
            raise ValueError("cut short")
        if name not in PNG_TELLS:
            out.append(body[place:end])
        place = end
        if name == b"IEND":
            return b"".join(out)
    raise ValueError("cut short")


def _webp(body: bytes) -> bytes:
    out, place, end = [], 12, 8 + struct.unpack_from("<I", body, 4)[0]
    if end > len(body):
        raise ValueError("cut short")
    while place < end:
        name, length = body[place:place + 4], struct.unpack_from("<I", body, place + 4)[0]
        chunk = body[place:place + 8 + length + length % 2]
        if name == b"VP8X":
            chunk = chunk[:8] + bytes((chunk[8] & ~0b1100,)) + chunk[9:]  # neither Exif nor XMP
        if name not in (b"EXIF", b"XMP "):
            out.append(chunk)
        place += 8 + length + length % 2
    whole = b"".join(out)
    return b"RIFF" + struct.pack("<I", len(whole) + 4) + b"WEBP" + whole


# -- TIFF

def _tiff(body: bytes) -> bytes:
    """Values that tell are blanked where they stand: everything else in the file is found by its place."""
    out = bytearray(body)
    order = ">" if body[:2] == b"MM" else "<"
    place, = struct.unpack_from(f"{order}I", body, 4)
    seen: set[int] = set()
    while place and place not in seen:
        seen.add(place)
        number, = struct.unpack_from(f"{order}H", body, place)
        for tag, kind, count, entry in _entries(body, order, place):
            if tag in (EXIF_IFD, GPS_IFD):
                _blank_directory(out, order, struct.unpack_from(f"{order}I", body, entry + 8)[0])
                out[entry + 8:entry + 12] = bytes(4)
            elif tag in TIFF_TELLS:
                _blank_value(out, order, kind, count, entry)
        place, = struct.unpack_from(f"{order}I", body, place + 2 + 12 * number)
    return bytes(out)


def _entries(body: bytes, order: str, place: int) -> Iterator[tuple[int, int, int, int]]:
    """Tag, type, count and place of each entry of a directory."""
    number, = struct.unpack_from(f"{order}H", body, place)
    for n in range(number):
        entry = place + 2 + 12 * n
        tag, kind, count = struct.unpack_from(f"{order}HHI", body, entry)
        yield tag, kind, count, entry


def _blank_value(out: bytearray, order: str, kind: int, count: int, entry: int) -> None:
    length = TYPE_BYTES.get(kind, 1) * count
    place = entry + 8 if length <= 4 else struct.unpack_from(f"{order}I", out, entry + 8)[0]
    if place + length > len(out):
        raise ValueError("cut short")
    out[place:place + length] = bytes(length)


def _blank_directory(out: bytearray, order: str, place: int) -> None:
    if not place:
        return
    for _, kind, count, entry in list(_entries(bytes(out), order, place)):
        _blank_value(out, order, kind, count, entry)
    number, = struct.unpack_from(f"{order}H", out, place)
    out[place + 2:place + 2 + 12 * number] = bytes(12 * number)
    out[place:place + 2] = bytes(2)
