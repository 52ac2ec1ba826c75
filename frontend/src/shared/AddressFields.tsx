import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import { faultAt, otherFaults } from "./faults";
import { asPercent, fromPercent } from "./format";
import { ValueField } from "./ValueField";

export interface AddressField {
  name: string;
  label: string;
  /** Typed in per cent, kept as a share of 1. */
  isShare?: boolean;
  hint?: string;
}

interface Props {
  fields: readonly AddressField[];
  params: URLSearchParams;
  change: (part: Record<string, string | null>) => void;
  /** Why the question was refused, if it was: each fault stands at its field. */
  error: unknown;
  width?: number;
  maxWidth?: number;
  children?: ReactNode;
}

function shown(text: string, isShare: boolean | undefined): string {
  return isShare && text && Number.isFinite(Number(text)) ? asPercent(Number(text)) : text;
}

/** What of the fields stands in the address, as it is asked. */
export function askedOf(fields: readonly AddressField[], params: URLSearchParams): Record<string, string> {
  return Object.fromEntries(
    fields.flatMap(({ name }) => (params.get(name) ? [[name, params.get(name) ?? ""]] : [])),
  );
}

/** The fields of a page's question, which stand in its address, and what of it is refused. */
export function AddressFields({
  fields,
  params,
  change,
  error,
  width = 200,
  maxWidth = 900,
  children,
}: Props) {
  const set =
    ({ name, isShare }: AddressField) =>
    (text: string) => {
      const share = isShare ? fromPercent(text) : null;
      change({ [name]: share === null ? text.trim() || null : String(share) }); // what is no number is refused, not lost
    };
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, maxWidth }}>
        {fields.map((field) => (
          <ValueField
            key={field.name}
            label={field.label}
            value={shown(params.get(field.name) ?? "", field.isShare)}
            commit={set(field)}
            fault={error ? faultAt(error, field.name) : null}
            inputMode="decimal"
            width={width}
            {...(field.hint ? { hint: field.hint } : {})}
          />
        ))}
        {children}
      </Box>
      {otherFaults(error, (at) => fields.some(({ name }) => name === at)).map((words) => (
        <Box key={words} role="alert" sx={{ color: "error.main", mb: 2 }}>
          {words}
        </Box>
      ))}
    </>
  );
}
