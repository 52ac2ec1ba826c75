import Box from "@mui/material/Box";
import { client, inWords, take, type Schemas } from "./api/client";
import { markOf, send, useStage, useUploadKey } from "./api/upload";
import { FileDrop } from "./FileDrop";
import type { PhotoSide } from "./photos";
import { UploadProgress } from "./UploadProgress";
import { useAct } from "./useAct";

interface Props {
  item: number;
  side: PhotoSide;
  /** What is done with it once it is there. */
  done?: (photo: number) => void;
}

/** A picture of a side of a thing, chosen, dropped, or on a phone taken. */
export function AddPhoto({ item, side, done }: Props) {
  const keyOf = useUploadKey();
  const [stage, tell] = useStage();
  const add = useAct(
    (file: File) => {
      const form = new FormData();
      form.set("file", file);
      form.set("side", side);
      return send<Schemas["PhotosOut"]>(
        { path: `/api/items/${item}/photos`, form, key: keyOf(`${markOf(file)} ${side}`) },
        tell,
      );
    },
    {
      keys: ["items", "grading"],
      text: `A photo of the ${side} is kept.`,
      undo: (_, { photos }) =>
        take(
          client.DELETE("/api/photos/{number}", {
            params: { path: { number: Math.max(...photos.map((it) => it.number)) } },
          }),
        ),
      done: ({ photos }) => done?.(Math.max(...photos.map((photo) => photo.number))),
      quiet: true,
    },
  );
  return (
    <Box>
      <FileDrop
        label={`A photo of the ${side}`}
        accept="image/jpeg,image/png,image/webp"
        act={add.isPending ? "Adding it …" : `Photo of the ${side}`}
        disabled={add.isPending}
        choose={(file) => add.mutate(file)}
      >
        <Box component="span" sx={{ fontSize: 13, color: "text.secondary" }}>
          or drop it here; JPEG, PNG or WebP
        </Box>
      </FileDrop>
      {add.isPending && <UploadProgress stage={stage} />}
      {add.isError && (
        <Box role="alert" sx={{ color: "error.main", mt: 0.5, fontSize: 13 }}>
          {inWords(add.error)}
        </Box>
      )}
    </Box>
  );
}
