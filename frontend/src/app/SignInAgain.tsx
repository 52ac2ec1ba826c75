import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import Typography from "@mui/material/Typography";
import { SignInForm } from "./SignInForm";

/** The session has ended while somebody was at work: asked for in place, and the page stays as it is. */
export default function SignInAgain() {
  return (
    <Dialog open maxWidth="sm" fullWidth aria-labelledby="sign-in-again">
      <DialogContent>
        <Typography id="sign-in-again" component="h2" variant="h1" sx={{ mb: 1.5 }}>
          Your session has ended.
        </Typography>
        <Typography sx={{ mb: 3 }}>
          Sign in again to go on. The page and what you typed on it are as you left them.
        </Typography>
        <SignInForm />
      </DialogContent>
    </Dialog>
  );
}
