import Button from "@mui/material/Button";

/** Something that is done at once, among figures. */
export function Act({ text, go }: { text: string; go: () => void }) {
  return (
    <Button color="inherit" onClick={go} sx={{ p: 0, minWidth: 24, minHeight: 24, whiteSpace: "nowrap" }}>
      {text}
    </Button>
  );
}
