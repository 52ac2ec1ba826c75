import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState, type FormEvent } from "react";
import { inWords } from "../shared/api/client";
import { useSignIn } from "./session";

export function SignIn({ isDemo }: { isDemo: boolean }) {
  const [passphrase, setPassphrase] = useState("");
  const signIn = useSignIn();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate(passphrase);
  };
  return (
    <Box component="main" sx={{ maxWidth: 460, mx: "auto", mt: { xs: 6, sm: "16vh" }, px: 3 }}>
      <Typography component="p" sx={{ fontWeight: 700, fontSize: 20, mb: 3 }}>
        Tobbix
      </Typography>
      <Typography variant="h1">What is in the box, before you open it.</Typography>
      <Box
        component="form"
        onSubmit={submit}
        sx={{ mt: 3, display: "flex", gap: 1.5, alignItems: "flex-start" }}
      >
        <TextField
          label="Passphrase"
          type="password"
          autoComplete="current-password"
          autoFocus
          fullWidth
          value={passphrase}
          onChange={(event) => setPassphrase(event.target.value)}
          error={signIn.isError}
          helperText={signIn.isError ? inWords(signIn.error) : " "}
        />
        <Button
          type="submit"
          variant="contained"
          disabled={!passphrase || signIn.isPending}
          sx={{ height: 40, px: 3, flex: "none" }}
        >
          Sign in
        </Button>
      </Box>
      {isDemo && (
        <Typography variant="body2" sx={{ color: "text.secondary" }}>
          This is the demo. Its passphrase is <b>lamp over the water</b>.
        </Typography>
      )}
    </Box>
  );
}
