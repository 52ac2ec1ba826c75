import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { SignInForm } from "./SignInForm";

export default function SignIn({ isDemo }: { isDemo: boolean }) {
  return (
    <Box component="main" sx={{ maxWidth: 460, mx: "auto", mt: { xs: 6, sm: "16vh" }, px: 3 }}>
      <Typography component="p" sx={{ fontWeight: 700, fontSize: 20, mb: 3 }}>
        Tobbix
      </Typography>
      <Typography variant="h1" sx={{ mb: 3 }}>
        What is in the box, before you open it.
      </Typography>
      <SignInForm />
      {isDemo && (
        <Typography variant="body2" sx={{ color: "text.secondary" }}>
          This is the demo. Its passphrase is <b>lamp over the water</b>.
        </Typography>
      )}
    </Box>
  );
}
