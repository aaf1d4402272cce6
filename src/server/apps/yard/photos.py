"""Pictures of logs: checked, made small, stripped of everything but the picture, kept as files."""

import io
from datetime import datetime
from pathlib import Path
from uuid import uuid4

from django.conf import settings
from django.db import transaction
from PIL import Image, ImageOps, UnidentifiedImageError

from kilncore.errors import Impossible
from server.apps.yard.models import Log, LogPhoto

__all__ = ["MOST_BYTES", "MOST_PHOTOS", "add_photo", "path_of", "remove_photo"]

MOST_BYTES = 12_000_000
MOST_PHOTOS = 12
SIDE = 1600
MOST_PIXELS = 80_000_000


def folder() -> Path:
    """Return where pictures lie, made when first asked for."""
    place = Path(settings.DATA_DIR) / "photos"
    place.mkdir(parents=True, exist_ok=True)
    return place


def path_of(photo: LogPhoto) -> Path:
    """Return a picture's file."""
    return folder() / photo.name


def _small(data: bytes) -> Image.Image:
    """Return the picture upright, at most ``SIDE`` long, without its hidden notes."""
    if len(data) > MOST_BYTES:
        raise Impossible("photo-too-large", "photo", "A picture may have 12 megabytes; take it smaller.")
    try:
        with Image.open(io.BytesIO(data)) as opened:
            if opened.width * opened.height > MOST_PIXELS:
                raise Impossible(
                    "photo-too-large", "photo", "That picture has too many dots; take it smaller."
                )
            picture = ImageOps.exif_transpose(opened).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise Impossible(
            "not-a-photo", "photo", "That is not a picture this can read: JPEG, PNG or WebP."
        ) from None
    picture.thumbnail((SIDE, SIDE))
    plain = Image.new("RGB", picture.size)
    plain.paste(picture)  # pixels only: place, camera and time of the original stay behind
    return plain


@transaction.atomic
def add_photo(log: Log, data: bytes, *, now: datetime) -> LogPhoto:
    """Keep a picture of a log."""
    if log.photos.count() >= MOST_PHOTOS:
        raise Impossible("photos-full", "photo", "Twelve pictures of one log are kept; remove one first.")
    picture = _small(data)
    name = f"{uuid4().hex}.jpg"
    picture.save(folder() / name, "JPEG", quality=82, optimize=True)
    return LogPhoto.objects.create(
        log=log, name=name, added_at=now, width=picture.width, height=picture.height
    )


@transaction.atomic
def remove_photo(photo: LogPhoto) -> None:
    """Remove a picture and its file."""
    path = path_of(photo)
    photo.delete()
    transaction.on_commit(lambda: path.unlink(missing_ok=True))
