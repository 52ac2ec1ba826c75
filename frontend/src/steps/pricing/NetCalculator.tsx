import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { money } from "../../shared/format";
import { ValueField } from "../../shared/ValueField";
import type { Way } from "./ways";

/** What a price nets through a way of selling, and what to list a card at to net an amount. */
export function NetCalculator({ ways }: { ways: Way[] }) {
  const [chosen, setChosen] = useState(ways[0]?.id ?? "");
  const [asked, setAsked] = useState<{ price: string } | { net: string } | null>(null);
  const way = ways.find((item) => item.id === chosen) ?? ways[0];
  const [fault, setFault] = useState<string | null>(null);
  const found = useQuery({
    queryKey: ["ways", way?.id, way?.version, asked],
    queryFn: () =>
      take(
        client.GET("/api/ways/{way}/net", { params: { path: { way: way?.id ?? "" }, query: asked ?? {} } }),
      ),
    enabled: way !== undefined && asked !== null,
  });
  const commit = (name: "price" | "net") => (text: string) => {
    const fine = /^\d{1,8}(\.\d{1,4})?$/.test(text);
    setFault(fine ? null : "an amount like 25.00");
    if (fine) setAsked(name === "price" ? { price: text } : { net: text });
  };
  return (
    <Box sx={{ display: "flex", gap: 2, mt: 1, alignItems: "flex-start", flexWrap: "wrap" }}>
      <ChoiceBox
        label="Sold through"
        value={way?.id ?? ""}
        set={setChosen}
        width={160}
        choices={Object.fromEntries(ways.map((item) => [item.id, item.name]))}
      />
      <ValueField
        label="Listed at"
        value={found.data ? money(found.data.price).replaceAll(",", "") : ""}
        commit={commit("price")}
        fault={fault}
        hint="type a price"
        inputMode="decimal"
        width={130}
      />
      <ValueField
        label="Leaves you"
        value={found.data ? money(found.data.net).replaceAll(",", "").replace("\u2212", "-") : ""}
        commit={commit("net")}
        hint="or what you want to keep"
        inputMode="decimal"
        width={200}
      />
    </Box>
  );
}
