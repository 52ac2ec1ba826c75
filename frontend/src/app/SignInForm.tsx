import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState, type FormEvent } from "react";
import { inWords } from "../shared/api/client";
import { useSignIn } from "./session";

/** The passphrase, and the button that tries it. */
export function SignInForm() {
  const [passphrase, setPassphrase] = useState("");
  const signIn = useSignIn();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate(passphrase);
  };
  return (
    <Box component="form" onSubmit={submit} sx={{ display: "flex", gap: 1.5, alignItems: "flex-start" }}>
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
  );
}
