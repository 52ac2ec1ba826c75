"""What is sent and answered about photos."""

from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from tobbix.api.base.fields import RowNumber
from tobbix.api.base.mirroring import Mirror
from tobbix.core.holdings.documents import Photo, Side


class PhotoOut(Mirror, of=Photo):
    """A photo of an item, without its file."""


class PhotosOut(BaseModel):
    photos: list[PhotoOut]


class PhotoForm(BaseModel):
    file: FileStorage = Field(description="A picture: JPEG, PNG or WebP")
    side: Side


class PhotoPath(BaseModel):
    number: RowNumber


class PhotoQuery(BaseModel):
    small: bool = False
