import { queryOptions } from "@tanstack/react-query";
import { client, take, type Schemas } from "./api/client";

export type Photo = Schemas["PhotoOut"];
export type PhotoSide = Photo["side"];

export function photosOf(item: number) {
  return queryOptions({
    queryKey: ["items", "photos", String(item)],
    queryFn: () => take(client.GET("/api/items/{number}/photos", { params: { path: { number: item } } })),
  });
}

/** The address of a photo's file, of its small picture, or of the card on it by itself. */
export const fileOf = (photo: number) => `/api/photos/${photo}`;
export const smallOf = (photo: number) => `/api/photos/${photo}?small=1`;
export const cardOf = (photo: number) => `/api/photos/${photo}/card`;

/** The newest photo of a side. */
export function newest(photos: readonly Photo[] | undefined, side: PhotoSide): Photo | undefined {
  return photos?.findLast((photo) => photo.side === side);
}
