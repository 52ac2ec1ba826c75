import Box from "@mui/material/Box";

/** The mark of a field that opens a choice. */
export function Chevron({ className }: { className?: string }) {
  return (
    <Box
      component="svg"
      viewBox="0 0 12 12"
      {...(className ? { className } : {})}
      aria-hidden
      sx={{
        width: 12,
        height: 12,
        right: 6,
        top: "calc(50% - 6px)",
        pointerEvents: "none",
        position: "absolute",
      }}
    >
      <path d="M2 4.5 6 8.5 10 4.5" fill="none" stroke="currentColor" strokeWidth="1.5" />
    </Box>
  );
}
