import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { createContext, useCallback, useContext, useEffect, useMemo, useState, type ReactNode } from "react";
import { inWords } from "./api/client";
import { record, takeBack } from "./history";

export interface Notice {
  text: string;
  isError?: boolean;
  /** What takes it back: offered beside the text, and in the history for as long as the tab stands. */
  undo?: () => Promise<unknown>;
}

interface Said extends Notice {
  number: number;
  act?: number;
}

const SHOWN = 4;
const STAYS = 10_000;

const Say = createContext<(notice: Notice) => void>(() => undefined);
const All = createContext<{ said: readonly Said[]; close: (number: number) => void }>({
  said: [],
  close: () => undefined,
});

/** Say something in passing, with a way back where there is one. */
export function useNotice() {
  return useContext(Say);
}

/** A refusal is worded for its field; standing alone it begins like a sentence. */
function sentence(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

let turn = 0;

/** Keeps what was said: each notice has its own time and can be closed; none pushes another away unread. */
export function NoticeProvider({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<readonly Said[]>([]);
  const close = useCallback(
    (number: number) => setSaid((all) => all.filter((notice) => notice.number !== number)),
    [],
  );
  const say = useCallback((notice: Notice) => {
    turn += 1;
    const act = notice.undo && { act: record(notice.text, notice.undo) };
    const fresh: Said = { ...notice, ...act, number: turn };
    setSaid((all) => [...all.filter((old) => !old.isError || old.text !== fresh.text), fresh]); // said once
  }, []);
  const all = useMemo(() => ({ said, close }), [said, close]);
  return (
    <Say.Provider value={say}>
      <All.Provider value={all}>{children}</All.Provider>
    </Say.Provider>
  );
}

/** Take back something that was done here, and say which; a refusal is said too. */
export function useTakingBack(): (act: number) => Promise<void> {
  const say = useNotice();
  return useCallback(
    async (act) => {
      try {
        const done = await takeBack(act);
        if (done) say({ text: `Taken back: ${done.text}` });
      } catch (error) {
        say({ text: inWords(error), isError: true });
      }
    },
    [say],
  );
}

/** The notices that still stand, beside the page and never over its rows: at the foot of the rail. */
export function Notices() {
  const { said, close } = useContext(All);
  return (
    <Box
      role="region"
      aria-label="What was done"
      aria-live="polite"
      sx={{ display: "flex", flexDirection: "column", gap: 1, py: said.length ? 1 : 0 }}
    >
      {said.slice(0, SHOWN).map((notice) => (
        <OneNotice key={notice.number} notice={notice} close={close} />
      ))}
      {said.length > SHOWN && (
        <Box sx={{ fontSize: 12, color: "text.secondary" }}>and {said.length - SHOWN} more</Box>
      )}
    </Box>
  );
}

function OneNotice({ notice, close }: { notice: Said; close: (number: number) => void }) {
  const [held, setHeld] = useState(false); // being read or reached for: it stays
  const undo = useTakingBack();
  const { number, isError = false } = notice;
  useEffect(() => {
    if (held || isError) return undefined; // what went wrong is closed by whoever has read it
    const timer = setTimeout(() => close(number), STAYS);
    return () => clearTimeout(timer);
  }, [held, isError, number, close]);
  return (
    <Box
      role={isError ? "alert" : "status"}
      onMouseEnter={() => setHeld(true)}
      onMouseLeave={() => setHeld(false)}
      onFocus={() => setHeld(true)}
      onBlur={() => setHeld(false)}
      sx={{
        fontSize: 13,
        lineHeight: 1.4,
        pl: 1.25,
        py: 0.25,
        borderLeft: 3,
        borderColor: isError ? "tone.loss" : "tone.marker",
        overflowWrap: "anywhere",
      }}
    >
      {sentence(notice.text)}
      <Box sx={{ display: "flex", gap: 1, ml: -0.5 }}>
        {notice.act !== undefined && (
          <Button
            color="inherit"
            sx={{ py: 0, px: 0.5, minWidth: 0 }}
            onClick={() => {
              close(number);
              if (notice.act !== undefined) void undo(notice.act);
            }}
          >
            Take back
          </Button>
        )}
        <Button
          color="inherit"
          aria-label={`Close: ${notice.text}`}
          sx={{ py: 0, px: 0.5, minWidth: 0, color: "text.secondary" }}
          onClick={() => close(number)}
        >
          close
        </Button>
      </Box>
    </Box>
  );
}
