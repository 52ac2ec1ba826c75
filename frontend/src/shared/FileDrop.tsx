import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useRef, useState, type DragEvent, type ReactNode } from "react";

interface Props {
  /** What the file is, for whoever does not see the button. */
  label: string;
  accept: string;
  act: string;
  strong?: boolean;
  autoFocus?: boolean;
  disabled?: boolean;
  choose: (file: File) => void;
  /** Beside the button: what may be chosen, or what was. */
  children?: ReactNode;
}

/** Where a file is chosen or dropped. */
export function FileDrop({ label, accept, act, strong, autoFocus, disabled, choose, children }: Props) {
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const take = (files: FileList | null | undefined) => {
    const file = files?.[0];
    if (file && !disabled) choose(file);
  };
  return (
    <Box
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event: DragEvent) => {
        event.preventDefault();
        setOver(false);
        take(event.dataTransfer.files);
      }}
      sx={{
        display: "flex",
        flexWrap: "wrap",
        alignItems: "center",
        columnGap: 2,
        rowGap: 1,
        border: 2,
        borderStyle: "dashed",
        borderColor: over ? "tone.marker" : "divider",
        p: strong ? 3 : 1.25,
        maxWidth: 740,
      }}
    >
      <Button
        variant={strong ? "contained" : "outlined"}
        color={strong ? "primary" : "inherit"}
        autoFocus={autoFocus ?? false}
        disabled={disabled ?? false}
        onClick={() => input.current?.click()}
        sx={{ flexShrink: 0 }}
      >
        {act}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept={accept}
        aria-label={label}
        onChange={(event) => {
          take(event.target.files);
          event.target.value = ""; // the same file, mended, can be chosen again
        }}
      />
      {children}
    </Box>
  );
}
