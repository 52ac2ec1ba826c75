import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { ValueField } from "../../shared/ValueField";
import type { Way } from "./ways";

/** What a price nets through a way of selling, and what to list a card at to net an amount. */
export function NetCalculator({ ways }: { ways: Way[] }) {
  const [chosen, setChosen] = useState(ways[0]?.id ?? "");
  const [asked, setAsked] = useState<{ price: string } | { net: string }>({ price: "25.00" });
  const way = ways.find((item) => item.id === chosen) ?? ways[0];
  const [fault, setFault] = useState<string | null>(null);
  const found = useQuery({
    queryKey: ["ways", way?.id, way?.version, asked],
    queryFn: () =>
      take(client.GET("/api/ways/{way}/net", { params: { path: { way: way?.id ?? "" }, query: asked } })),
    enabled: way !== undefined,
  });
  const commit = (name: "price" | "net") => (text: string) => {
    const fine = /^\d{1,8}(\.\d{1,4})?$/.test(text);
    setFault(fine ? null : "an amount like 25.00");
    if (fine) setAsked(name === "price" ? { price: text } : { net: text });
  };
  return (
    <Box sx={{ display: "flex", gap: 2, mt: 1, alignItems: "flex-start", flexWrap: "wrap" }}>
      <TextField
        select
        label="Sold through"
        value={way?.id ?? ""}
        onChange={(event) => setChosen(event.target.value)}
        sx={{ minWidth: 160 }}
      >
        {ways.map((item) => (
          <MenuItem key={item.id} value={item.id}>
            {item.name}
          </MenuItem>
        ))}
      </TextField>
      <ValueField
        label="Listed at"
        value={found.data ? money(found.data.price).replaceAll(",", "") : ""}
        commit={commit("price")}
        fault={fault}
        width={130}
      />
      <ValueField
        label="Leaves you"
        value={found.data ? money(found.data.net).replaceAll(",", "").replace("\u2212", "-") : ""}
        commit={commit("net")}
        hint="type what you want to keep"
        width={200}
      />
    </Box>
  );
}
