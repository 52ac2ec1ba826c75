import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { Link } from "react-router";
import { clock } from "../shared/format";
import { useHistory } from "../shared/history";
import { Key } from "../shared/Key";
import { useTakingBack } from "../shared/notices";
import { Heads, Table } from "../shared/Table";
import { LongWork } from "./LongWork";

/** What was done in this tab and can be taken back, the latest first; what was booked is in the books for good. */
export default function HistoryPanel({ close }: { close: () => void }) {
  const done = useHistory();
  const takeBack = useTakingBack();
  return (
    <Dialog open onClose={close} maxWidth="sm" fullWidth aria-labelledby="history-title">
      <DialogTitle id="history-title" variant="h2">
        Done here
      </DialogTitle>
      <DialogContent>
        {done.length === 0 ? (
          <p>Nothing yet that could be taken back. What is done here from now on stands in this list.</p>
        ) : (
          <Table label="Done here">
            <Heads of={["At", "What", { hidden: "take back" }]} />
            <tbody>
              {done.toReversed().map((act) => (
                <tr key={act.number} data-row>
                  <td className="day">{clock(act.at)}</td>
                  <td>{act.text}</td>
                  <td className="figure">
                    {act.state === "taken back" ? (
                      "taken back"
                    ) : (
                      <Button
                        color="inherit"
                        data-cell
                        disabled={act.state === "going"}
                        aria-label={`Take back: ${act.text}`}
                        onClick={() => void takeBack(act.number)}
                        sx={{ py: 0, minWidth: 0 }}
                      >
                        take back
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
        <Box sx={{ mt: 2, fontSize: 13, color: "text.secondary" }}>
          <Key>Ctrl Z</Key> takes back the last of these. What was booked can also be taken back later, in{" "}
          <Link to="/books" onClick={close}>
            Books
          </Link>
          .
        </Box>
        <LongWork close={close} />
      </DialogContent>
    </Dialog>
  );
}
