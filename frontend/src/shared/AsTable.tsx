import Button from "@mui/material/Button";
import { useState } from "react";
import { Heads, Table } from "./Table";

/** A picture as figures, for whoever cannot or would not look. The first column says where, the others what. */
export function AsTable({ heads, rows }: { heads: readonly string[]; rows: readonly (readonly string[])[] }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <Button
        color="inherit"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
        sx={{ py: 0, fontSize: 12 }}
      >
        {isOpen ? "Put the table away" : "As a table"}
      </Button>
      {isOpen && (
        <Table label="The picture as a table">
          <Heads of={heads.map((head, at) => (at === 0 ? head : { figure: head }))} />
          <tbody>
            {rows.map((row) => (
              <tr key={row[0]}>
                {row.map((text, at) => (
                  <td key={at} className={at === 0 ? "" : "figure"}>
                    {text}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </>
  );
}
