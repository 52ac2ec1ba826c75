import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { lazy, Suspense, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { age, day } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Quiet } from "../../shared/states";
import { FormatRows } from "./FormatRows";
import { Guarantees } from "./Guarantees";
import { OddsTable } from "./OddsTable";
import { ReleaseTabs } from "./PlanTabs";
import { useCorrections, useRelease, useRemoval } from "./queries";
import { useKey } from "../../shared/keys/useKey";
import { Answer } from "../../shared/Answer";
import { Ask } from "../../shared/Ask";

const Checklist = lazy(() => import("./Checklist"));

/** A release: its formats, odds and checklists, all corrected in place, and its sheet in and out. */
export default function ReleasePage() {
  const { release: id = "" } = useParams();
  const detail = useRelease(id);
  const corrections = useCorrections(id);
  const navigate = useNavigate();
  const removal = useRemoval(
    id,
    detail.data?.release.title ?? "The release",
    () => void navigate("/products"),
  );
  useKey("i", "import a product sheet", () => void navigate("/products/-/import"));
  const [asking, setAsking] = useState(false);
  if (!detail.data) return <Answer of={detail} />;
  const { release, lines, guarantees, verdict, last_change } = detail.data;
  return (
    <PageTitle
      title={release.title}
      verdict={verdict}
      crumbs={[{ name: "Products", to: "/products" }, { name: release.title }]}
    >
      <ReleaseTabs release={id} />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 2.5 }}>
        <Button variant="outlined" color="inherit" href={`/api/releases/${id}/sheet.json`} download>
          Export as JSON
        </Button>
        <Button variant="outlined" color="inherit" href={`/api/releases/${id}/sheet.xlsx`} download>
          Export as XLSX
        </Button>
        <Button variant="outlined" color="inherit" href={`/api/releases/${id}/sheet.zip`} download>
          Export as CSV
        </Button>
        {last_change && (
          <Button color="inherit" onClick={() => void corrections.undoLast()}>
            Take back: {last_change}
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Button color="inherit" onClick={() => setAsking(true)}>
          Remove
        </Button>
        {asking && (
          <Ask
            title={`Remove ${release.title}?`}
            act="Remove it"
            busy={removal.isPending}
            go={() => removal.mutate()}
            close={() => setAsking(false)}
          >
            Its lines, cards and prices go out of sight; nothing is thrown away. It stands under “Removed” at
            the foot of Products and can be brought back from there. What you own of it stays in stock.
          </Ask>
        )}
      </Box>
      <Section
        title="Formats"
        point={`one box; prices of ${day(release.priced_on)}, ${age(release.priced_on, new Date())}`}
      >
        <FormatRows
          rows={release.formats.map((format) => ({ release, format }))}
          label={`Formats of ${release.title}`}
          savePrice={corrections.priceFormat}
          saveCase={corrections.priceCase}
          saveUsable={corrections.setUsable}
        />
      </Section>
      <Section title="Odds" point="1:36 packs · 2 per box, guaranteed · unstated · not in it">
        <OddsTable release={release} lines={lines} setOdds={corrections.setOdds} />
        <Guarantees release={release} guarantees={guarantees} setGuarantee={corrections.setGuarantee} />
      </Section>
      <Section title="Checklist" id="checklist" point={`revision ${release.revision}`}>
        <Suspense fallback={<Quiet />}>
          <Checklist release={release} lines={lines} corrections={corrections} />
        </Suspense>
      </Section>
    </PageTitle>
  );
}
