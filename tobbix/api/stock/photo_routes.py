"""Photos of things."""

from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.fields import read_upload
from tobbix.api.stock.photo_schemas import PhotoForm, PhotoOut, PhotoPath, PhotoQuery, PhotosOut
from tobbix.api.stock.schemas import ItemPath
from tobbix.services.stock import photos

blueprint = APIBlueprint(
    "photos",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="stock", description="Everything owned")],
    operation_id_callback=operation_id,
)
PICTURE: dict[Any, Any] = {200: {"content": {"image/jpeg": {"schema": {"type": "string", "format": "binary"}}}}}


def _photos(item: int) -> PhotosOut:
    return PhotosOut(photos=[PhotoOut.model_validate(it) for it in photos.photos_of(catalogue().database, item)])


@blueprint.get("/items/<int:number>/photos", responses={200: PhotosOut}, summary="The photos of an item")
@returns()
def list_photos(path: ItemPath) -> PhotosOut:
    return _photos(path.number)


@blueprint.post("/items/<int:number>/photos", responses={201: PhotosOut}, summary="Add a photo of an item")
@returns(201)
def add_photo(path: ItemPath, form: PhotoForm) -> PhotosOut:
    photos.keep_photo(catalogue().database, path.number, form.side, read_upload(form.file))
    return _photos(path.number)


@blueprint.get("/photos/<int:number>", responses=PICTURE, summary="A photo's file, or its small picture")
def read_photo(path: PhotoPath, query: PhotoQuery) -> Response:
    media, content = photos.read_photo(catalogue().database, path.number, query.small)
    return show_picture(media, content)


def show_picture(media: str, content: bytes) -> Response:
    """A picture as it is sent."""
    response = make_response(content)
    response.content_type = media
    return response


@blueprint.delete("/photos/<int:number>", responses={204: None}, summary="Take a photo out for good")
@returns(204)
def take_photo_out(path: PhotoPath) -> None:
    photos.take_photo_out(catalogue().database, path.number)
