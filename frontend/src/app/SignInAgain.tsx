import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { SignInForm } from "./SignInForm";

/** The session has ended while somebody was at work: asked for in place, and the page stays as it is. */
export function SignInAgain() {
  return (
    <Dialog open maxWidth="sm" fullWidth aria-labelledby="sign-in-again">
      <DialogTitle id="sign-in-again" sx={{ fontFamily: "Source Serif 4 Variable, serif", fontSize: 20 }}>
        Your session has ended.
      </DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2.5 }}>
          Sign in again to go on. The page and what you typed on it are as you left them.
        </Typography>
        <SignInForm />
      </DialogContent>
    </Dialog>
  );
}
