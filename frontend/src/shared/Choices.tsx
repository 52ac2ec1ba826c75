import Box from "@mui/material/Box";
import { useEffect, useRef, type ReactNode } from "react";

interface Props<T> {
  id: string;
  label: string;
  options: readonly T[];
  keyOf: (option: T) => string | number;
  /** Which is chosen by the arrows; -1 for none. */
  at: number;
  pick: (option: T) => void;
  /** Over what stands beneath the field, or in the flow of a page of its own. */
  over?: boolean;
  children: (option: T, index: number) => ReactNode;
}

/** What is found for the words in a field: chosen by the arrows of the field, a click or a tap. What is chosen is seen. */
export function Choices<T>({ id, label, options, keyOf, at, pick, over = true, children }: Props<T>) {
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    const box = list.current;
    const option = box?.children[at];
    if (!box || !(option instanceof HTMLElement)) return;
    const lowest = option.offsetTop + option.offsetHeight - box.clientHeight;
    box.scrollTop = Math.min(Math.max(box.scrollTop, lowest), option.offsetTop);
  }, [at, options]);
  return (
    <Box sx={{ position: "relative" }}>
      <Box
        component="ul"
        ref={list}
        id={id}
        role="listbox"
        aria-label={label}
        sx={{
          listStyle: "none",
          m: 0,
          p: 0,
          maxHeight: over ? 290 : 420,
          overflowY: "auto",
          position: over ? "absolute" : "relative",
          zIndex: 3,
          left: 0,
          right: 0,
          minWidth: over ? 220 : undefined,
          bgcolor: "background.paper",
          border: over && options.length > 0 ? 1 : 0,
          borderTop: 0,
          borderColor: "tone.ink",
        }}
      >
        {options.map((option, index) => (
          // The keys are the field's, which keeps the focus.

          <Box
            component="li"
            role="option"
            id={`${id}-${index}`}
            key={keyOf(option)}
            aria-selected={index === at}
            onMouseDown={(event: { preventDefault: () => void }) => event.preventDefault()} // the field keeps the focus
            onClick={() => pick(option)}
            sx={{
              px: 1,
              py: { xs: 1.1, sm: 0.5 },
              cursor: "pointer",
              fontSize: 13,
              ...(index === at
                ? { bgcolor: "background.default", boxShadow: "inset 3px 0 0 var(--mui-palette-tone-marker)" }
                : {}),
            }}
          >
            {children(option, index)}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

/** Where an arrow leads among so many choices; null for another key. `least` is -1 where none need be chosen. */
export function moveChoice(key: string, at: number, count: number, least = 0): number | null {
  if (key === "ArrowDown") return Math.min(at + 1, count - 1);
  if (key === "ArrowUp") return Math.max(at - 1, least);
  return null;
}

/** What a field says of its choices to whoever hears the page. */
export function choiceField(id: string, at: number, count: number) {
  return {
    role: "combobox",
    "aria-expanded": count > 0,
    "aria-controls": id,
    "aria-autocomplete": "list" as const,
    "aria-activedescendant": at >= 0 && at < count ? `${id}-${at}` : undefined,
  };
}
