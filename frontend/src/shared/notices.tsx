import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { createContext, useCallback, useContext, useState, type ReactNode } from "react";

interface Notice {
  text: string;
  isError?: boolean;
  action?: { name: string; run: () => void };
}

const Context = createContext<(notice: Notice) => void>(() => undefined);

/** Say something in passing, with an action (undo) where there is one. */
export function useNotice() {
  return useContext(Context);
}

/** A refusal is worded for its field; standing alone it begins like a sentence. */
function sentence(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const [open, setOpen] = useState(false);
  const [turn, setTurn] = useState(0); // each notice has its own time: one that follows another is not cut short
  const say = useCallback((fresh: Notice) => {
    setNotice(fresh);
    setOpen(true);
    setTurn((before) => before + 1);
  }, []);
  const action = notice?.action;
  return (
    <Context.Provider value={say}>
      {children}
      <Snackbar
        key={turn}
        open={open}
        autoHideDuration={notice?.isError ? 12_000 : 7_000}
        onClose={(_, reason) => reason !== "clickaway" && setOpen(false)}
      >
        <Alert
          icon={false}
          role={notice?.isError ? "alert" : "status"}
          severity={notice?.isError ? "error" : "info"}
          variant="outlined"
          onClose={() => setOpen(false)}
          sx={{ bgcolor: "background.paper", color: "text.primary", borderColor: "tone.ink" }}
          action={
            action && (
              <Button
                color="inherit"
                onClick={() => {
                  setOpen(false);
                  action.run();
                }}
              >
                {action.name}
              </Button>
            )
          }
        >
          {notice && sentence(notice.text)}
        </Alert>
      </Snackbar>
    </Context.Provider>
  );
}
