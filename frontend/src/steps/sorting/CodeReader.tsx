import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { client, inWords, take } from "../../shared/api/client";

/** A reader of codes that is asked; one that is plugged in types into the field by itself. */
export function CodeReader({ name, read }: { name: string; read: (texts: readonly string[]) => boolean }) {
  const [on, setOn] = useState(false);
  const latest = useRef(read);
  useEffect(() => {
    latest.current = read;
  });
  const scans = useQuery({
    queryKey: ["scans"],
    queryFn: async () => {
      const { texts } = await take(client.POST("/api/sorting/scans"));
      latest.current(texts);
      return Date.now();
    },
    enabled: on,
    refetchInterval: on ? 1_200 : false,
    gcTime: 0,
  });
  return (
    <>
      <Button color="inherit" variant="outlined" aria-pressed={on} onClick={() => setOn(!on)}>
        {on ? "Stop reading codes" : "Read codes"}
      </Button>
      <Box component="span" sx={{ alignSelf: "center", fontSize: 13, color: "text.secondary" }}>
        {scans.isError ? inWords(scans.error) : name}
      </Box>
    </>
  );
}
