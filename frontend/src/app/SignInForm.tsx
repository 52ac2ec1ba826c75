import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControl from "@mui/material/FormControl";
import FormHelperText from "@mui/material/FormHelperText";
import Input from "@mui/material/Input";
import InputLabel from "@mui/material/InputLabel";
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
      {/* from its parts: a whole text field would bring lists and menus into the first load */}
      <FormControl variant="standard" fullWidth error={signIn.isError}>
        <InputLabel htmlFor="passphrase">Passphrase</InputLabel>
        <Input
          id="passphrase"
          type="password"
          autoComplete="current-password"
          autoFocus
          value={passphrase}
          onChange={(event) => setPassphrase(event.target.value)}
          aria-describedby="passphrase-help"
        />
        <FormHelperText id="passphrase-help">{signIn.isError ? inWords(signIn.error) : " "}</FormHelperText>
      </FormControl>
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
