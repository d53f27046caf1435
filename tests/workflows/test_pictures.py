"""What photographs tell beside the picture is taken out; judged by Pillow, which wrote it in and reads it back."""

from __future__ import annotations

import io
import os
import random
import struct
from contextlib import suppress

import pytest
from PIL import ExifTags, Image, PngImagePlugin, TiffImagePlugin
from PySide6.QtGui import QImage

from oddbolt.model import exchange
from oddbolt.model.giving_away import TELLS
from oddbolt.paint.images import image_size, make_thumb, read_image
from oddbolt.store.document import Document
from oddbolt.store.pictures import kind_of, without_tales
from oddbolt.store.twin import export_json, import_json

TALES = (b"Ann Alyst", b"SN-12345", b"Fieldcam", b"2026:11:27", b"secret note", b"48 deg")


def picture(seed=1):
    image = Image.new("RGB", (64, 40))
    rng = random.Random(seed)
    image.putdata([(rng.randrange(256), n % 256, n // 11 % 256) for n in range(64 * 40)])
    return image


def exif(turned=6):
    found = Image.Exif()
    found[ExifTags.Base.Orientation] = turned
    found[ExifTags.Base.Artist] = "Ann Alyst"
    found[ExifTags.Base.Model] = "Fieldcam"
    found[ExifTags.Base.DateTime] = "2026:11:27 10:00:00"
    inner = found.get_ifd(ExifTags.IFD.Exif)
    inner[ExifTags.Base.BodySerialNumber] = "SN-12345"
    place = found.get_ifd(ExifTags.IFD.GPSInfo)
    place[ExifTags.GPS.GPSLatitudeRef] = "N"
    place[ExifTags.GPS.GPSLatitude] = (48.0, 12.0, 1.0)
    place[ExifTags.GPS.GPSAreaInformation] = b"48 deg"
    return found


def written(kind):
    out = io.BytesIO()
    image = picture()
    if kind == "jpeg":
        image.save(out, "JPEG", quality=90, exif=exif(), comment=b"secret note", icc_profile=b"profile" * 20)
    elif kind == "progressive":
        image.save(out, "JPEG", progressive=True, exif=exif(), xmp=b"<x>secret note Ann Alyst</x>")
    elif kind == "png":
        note = PngImagePlugin.PngInfo()
        note.add_text("Author", "Ann Alyst")
        note.add_itxt("Comment", "secret note", zip=True)
        image.save(out, "PNG", pnginfo=note, exif=exif(1), dpi=(300, 300))
    elif kind == "webp":
        image.save(out, "WEBP", lossless=True, exif=exif(1), xmp=b"secret note Ann Alyst")
    elif kind == "tiff":
        tags = TiffImagePlugin.ImageFileDirectory_v2()
        tags[315], tags[272], tags[270], tags[306] = "Ann Alyst", "Fieldcam", "secret note", "2026:11:27 10:00:00"
        image.save(out, "TIFF", tiffinfo=tags, exif=exif(1))
    else:
        image.save(out, "BMP")
    return out.getvalue()


KINDS = ("jpeg", "progressive", "png", "webp", "tiff", "bmp")


@pytest.mark.parametrize("kind", KINDS)
def test_the_picture_stays_and_what_it_told_is_gone(kind):
    body = written(kind)
    assert kind == "bmp" or any(tale in body for tale in TALES)
    bare = without_tales(body)
    assert not [tale for tale in TALES if tale in bare]
    before, after = Image.open(io.BytesIO(body)), Image.open(io.BytesIO(bare))
    before.load(), after.load()
    assert before.tobytes() == after.tobytes() and before.size == after.size
    told = after.getexif()
    assert {tag: value for tag, value in told.items() if value not in ("", "\0", 0, 1) and tag < 0x0100
            or tag in (ExifTags.Base.Artist, ExifTags.Base.Model) and str(value).strip("\0 ")} == {}
    assert not told.get_ifd(ExifTags.IFD.GPSInfo) and not told.get_ifd(ExifTags.IFD.Exif)
    if kind in ("jpeg", "progressive"):
        assert told[ExifTags.Base.Orientation] == 6  # it still stands upright
        assert image_size(bare) == image_size(body) == (40, 64)
    if kind == "jpeg":
        assert after.info["icc_profile"] == b"profile" * 20
    assert without_tales(bare) == bare


def test_a_second_picture_behind_the_first_is_not_kept():
    """As cameras hang a preview with its own Exif behind the picture (multi-picture format)."""
    body = written("jpeg")
    assert without_tales(body + written("jpeg")) == without_tales(body)


@pytest.mark.parametrize("kind", KINDS[:5])
def test_files_that_are_cut_or_changed_never_break_it(kind):
    rng, body = random.Random(3), written(kind)
    for _ in range(400):
        broken = bytearray(body)
        for _ in range(rng.choice((1, 4))):
            broken[rng.randrange(len(broken))] = rng.randrange(256)
        if rng.random() < 0.4:
            del broken[rng.randrange(len(broken)):]
        with suppress(ValueError):
            without_tales(bytes(broken))


SVG = (b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9">'
       b'<image href="/etc/hostname" width="9" height="9"/></svg>')


@pytest.mark.parametrize("body", [SVG, b"<?xml version='1.0'?>" + SVG, b"\x1f\x8b\x08" + SVG, b"%PDF-1.4",
                                  b"GIF89a" * 9, b"/* XPM */ static char * x[] = {", b"P6 1 1 255 abc", b""])
def test_what_is_no_photograph_by_content_is_not_decoded(app, body):
    assert kind_of(body) == "" and image_size(body) is None and read_image(body).isNull() and make_thumb(body) == b""


def test_a_picture_of_more_pixels_than_there_can_be_is_not_decoded(app):
    """A PNG of a few bytes that claims to have a billion pixels."""
    body = bytearray(written("png"))
    body[16:24] = struct.pack(">II", 60_000, 60_000)
    assert image_size(bytes(body)) is None and read_image(bytes(body)).isNull()
    assert QImage(2, 2, QImage.Format.Format_RGB32).isNull() is False


def test_import_takes_pictures_of_its_own_folder_only(tmp_path, example):
    names = ("v.jpg", "secret.jpg", "link.jpg", ".hidden.jpg", "text.jpg", "deep/w.png", "gone.jpg", "loop.jpg",
             "/etc/passwd", "..", "a\0b.jpg")
    example["views"] = [{"id": f"v{n}", "photo": name} for n, name in enumerate(names)]
    source, photos = tmp_path / "in.json", tmp_path / "in.photos"
    (photos / "deep").mkdir(parents=True)
    (tmp_path / "private").mkdir()
    (tmp_path / "private" / "id.jpg").write_bytes(written("jpeg"))
    (photos / "v.jpg").write_bytes(written("jpeg"))
    (photos / "deep" / "w.png").write_bytes(written("png"))
    (photos / ".hidden.jpg").write_bytes(written("jpeg"))
    (photos / "text.jpg").write_text("PRIVATE KEY")
    (photos / "secret.jpg").symlink_to(tmp_path / "private" / "id.jpg")
    (photos / "link.jpg").symlink_to(photos / "v.jpg")
    (photos / "loop.jpg").symlink_to(photos / "loop.jpg")
    source.write_text(exchange.dumps(exchange.from_json(example)))
    document, left_out = import_json(source, tmp_path / "a.oddbolt")
    with document:
        assert document.photo_names() == ["deep/w.png", "link.jpg", "v.jpg"]
    assert {one.name: one.why for one in left_out} == {
        "secret.jpg": "outside", ".hidden.jpg": "outside", "text.jpg": "no-picture", "gone.jpg": "missing",
        "loop.jpg": "outside", "/etc/passwd": "outside", "..": "outside", "a\0b.jpg": "outside"}


def test_export_leaves_out_what_is_asked_and_writes_nothing_outside(tmp_path, example):
    example["device"]["serial"] = "SN-9"
    example["sessions"] = [{"by": "Ann Alyst", "place": "bench 3"}]
    example["opinions"] = [{"by": "Ann Alyst"}]
    target, elsewhere = tmp_path / "out.json", tmp_path / "elsewhere"
    elsewhere.mkdir()
    with Document.create(tmp_path / "a.oddbolt", exchange.from_json(example)) as document:
        document.add_photo("v.jpg", written("jpeg"))
        document.add_photo("sub/w.png", written("png"))
        document.add_photo("../x.jpg", written("jpeg"))
        document.add_photo("broken.jpg", b"\xff\xd8\xffbroken")
        (tmp_path / "out.photos").mkdir()
        (tmp_path / "out.photos" / "sub").symlink_to(elsewhere)
        left_out = export_json(document, target, TELLS)
    assert {one.name: one.why for one in left_out} == {"../x.jpg": "outside", "sub/w.png": "outside",
                                                       "broken.jpg": "no-picture"}
    assert list(elsewhere.iterdir()) == [] and sorted(os.listdir(tmp_path / "out.photos")) == ["sub", "v.jpg"]
    text = target.read_text() + (tmp_path / "out.photos" / "v.jpg").read_bytes().decode("latin-1")
    assert not [tale for tale in ("Ann Alyst", "bench 3", "SN-9", "SN-12345") if tale in text]
    assert exchange.loads(target.read_bytes()).sessions[0].by == ""
