import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Link, useNavigate } from "react-router";
import { day, money } from "../../shared/format";
import { Key } from "../../shared/Key";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useKey } from "../../shared/keys/useKey";
import { usePurchases, type Purchase } from "./queries";
import { Rates } from "./Rates";
import { Answer } from "../../shared/Answer";

const STATES: Record<Purchase["state"], string> = {
  ordered: "on its way",
  received: "received",
  disputed: "in dispute",
  undone: "taken back",
};

/** What was bought: what is on its way, what it really cost. */
export default function BuyingPage() {
  const purchases = usePurchases();
  const navigate = useNavigate();
  useKey("n", "record a purchase", () => void navigate("/buying/-/new"));
  if (!purchases.data) return <Answer of={purchases} />;
  const { verdict, purchases: rows, currency } = purchases.data;
  return (
    <PageTitle title="Buying" verdict={verdict} crumbs={[{ name: "Buying" }]}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 2.5 }}>
        <Button variant="contained" component={Link} to="/buying/-/new">
          Record a purchase&nbsp;&nbsp;<Key>N</Key>
        </Button>
        <Button variant="outlined" color="inherit" component={Link} to="/buying/-/bid">
          The most to bid
        </Button>
        <Button variant="outlined" color="inherit" component={Link} to="/buying/-/offer">
          What to offer for a collection
        </Button>
        <Button variant="outlined" color="inherit" component={Link} to="/buying/-/targets">
          Target list
        </Button>
      </Box>
      <Section title="Purchases" point={`landed, ${currency}`}>
        {rows.length === 0 && (
          <Box sx={{ py: 1, color: "text.secondary" }}>
            Nothing yet. Record a box, a single, an auction won, or a whole collection.
          </Box>
        )}
        {rows.length > 0 && (
          <Table label="Purchases">
            <Heads of={["Bought", "What", "Seller", "State", { figure: "things" }, { figure: "landed" }]} />
            <tbody>
              {rows.map((row) => (
                <tr key={row.number} data-row>
                  <td style={{ whiteSpace: "nowrap" }}>{day(row.bought_on)}</td>
                  <td>
                    <Link data-cell to={`/buying/${row.number}`}>
                      {row.name}
                    </Link>
                  </td>
                  <td>{row.seller ?? ""}</td>
                  <td>
                    <Box
                      component="span"
                      sx={{
                        color: row.state === "disputed" ? "tone.lossText" : undefined,
                        fontWeight: row.state === "received" || row.state === "undone" ? 400 : 700,
                      }}
                    >
                      {STATES[row.state]}
                      {row.state === "ordered" && row.due_on ? `, due ${day(row.due_on)}` : ""}
                    </Box>
                  </td>
                  <td className="figure">{row.things.reduce((sum, thing) => sum + thing.count, 0)}</td>
                  <td className="figure">{money(row.landed)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
      </Section>
      <Rates />
    </PageTitle>
  );
}
