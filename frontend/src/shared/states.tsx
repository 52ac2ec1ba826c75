import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { ProblemError } from "./api/client";

/** Something is on its way. */
export function Quiet() {
  return <LinearProgress color="inherit" aria-label="Working it out" sx={{ height: 2, opacity: 0.5 }} />;
}

/** Something went wrong, in plain words, with a way on. */
export function Trouble({ error, again }: { error: unknown; again?: () => void }) {
  const missing = error instanceof ProblemError && error.problem.status === 404;
  return (
    <Box role="alert" sx={{ my: 3 }}>
      <Typography variant="h1">{missing ? "That is not here." : "That did not work."}</Typography>
      <Typography sx={{ my: 1.5 }}>{error instanceof Error ? error.message : String(error)}</Typography>
      {again && !missing && (
        <Button variant="outlined" color="inherit" onClick={again}>
          Try again
        </Button>
      )}
    </Box>
  );
}

/** A caution or a doubt, marked at its edge. */
export function Aside({ children, id }: { children: React.ReactNode; id?: string }) {
  return (
    <Typography
      component="div"
      variant="body2"
      id={id}
      sx={{ color: "text.secondary", borderLeft: 3, borderColor: "tone.marker", pl: 1.25, my: 2 }}
    >
      {children}
    </Typography>
  );
}
