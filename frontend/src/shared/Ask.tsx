import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import type { ReactNode } from "react";

interface Props {
  title: string;
  children: ReactNode;
  /** The act that is asked about, in its own words. */
  act: string;
  leave?: string;
  busy?: boolean;
  go: () => void;
  close: () => void;
}

/** A question before something is done that is better not done by mistake; Esc and the first button leave all as it is. */
export function Ask({ title, children, act, leave = "Leave it as it is", busy = false, go, close }: Props) {
  return (
    <Dialog open onClose={close} maxWidth="sm" fullWidth aria-labelledby="ask-title">
      <DialogTitle id="ask-title" variant="h2">
        {title}
      </DialogTitle>
      <DialogContent>{children}</DialogContent>
      <DialogActions>
        <Button color="inherit" autoFocus onClick={close}>
          {leave}
        </Button>
        <Button variant="contained" disabled={busy} onClick={go}>
          {act}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
