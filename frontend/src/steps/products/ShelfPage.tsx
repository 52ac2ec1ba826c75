import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Link, useNavigate } from "react-router";
import { age, count, day } from "../../shared/format";
import { Key } from "../../shared/Key";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { FormatRows } from "./FormatRows";
import { useDemoReleases, useRestoring, useShelf, useStubs } from "./queries";
import { useKey } from "../../shared/keys/useKey";
import { Answer } from "../../shared/Answer";

/** All releases: value against price at a glance. */
export default function ShelfPage() {
  const shelf = useShelf();
  const navigate = useNavigate();
  useKey("i", "import a product sheet", () => void navigate("/products/-/import"));
  if (!shelf.data) return <Answer of={shelf} />;
  const now = new Date();
  return (
    <PageTitle title="Products" verdict={shelf.data.verdict} crumbs={[{ name: "Products" }]}>
      <Box sx={{ mb: 3 }}>
        <Button component={Link} to="/products/-/import" variant="contained">
          Import a product sheet&nbsp;&nbsp;<Key>I</Key>
        </Button>
      </Box>
      {shelf.data.releases.length === 0 && shelf.data.offers_demo && <Offer />}
      {shelf.data.releases.map((release) => (
        <Section
          key={release.id}
          title={release.title}
          point={
            <>
              {release.publisher}; {count(release.cards)} cards in {release.lines} lines; prices of{" "}
              {day(release.priced_on)}, {age(release.priced_on, now)};{" "}
              <Link to={`/products/${release.id}`}>checklist, odds and prices</Link>
            </>
          }
        >
          <FormatRows release={release} />
        </Section>
      ))}
      <AsFarAsSeen />
      {shelf.data.removed.length > 0 && (
        <Section title="Removed" point="out of sight, not thrown away">
          {shelf.data.removed.map((release) => (
            <Removed key={release.id} release={release} />
          ))}
        </Section>
      )}
    </PageTitle>
  );
}

function Removed({ release }: { release: { id: string; title: string } }) {
  const restore = useRestoring(release.id, release.title);
  return (
    <Box sx={{ display: "flex", gap: 2, alignItems: "center", fontSize: 13, py: 0.25 }}>
      {release.title}
      <Button
        color="inherit"
        variant="outlined"
        disabled={restore.isPending}
        aria-label={`Bring back: ${release.title}`}
        onClick={() => restore.mutate()}
        sx={{ py: 0 }}
      >
        Bring it back
      </Button>
    </Box>
  );
}

/** Releases that cards turned up of before a product sheet did. */
function AsFarAsSeen() {
  const stubs = useStubs();
  if (!stubs.data?.releases.length) return null;
  return (
    <Section title="Known as far as seen" point="no product sheet yet; an import takes them over">
      <Box component="ul" sx={{ columns: { sm: 2 }, listStyle: "none", p: 0, m: 0, fontSize: 13 }}>
        {stubs.data.releases.map((stub) => (
          <li key={stub.id}>
            <Link to={`/products/${stub.id}/-/seen`}>{stub.title}</Link>, {count(stub.cards)}{" "}
            {stub.cards === 1 ? "card" : "cards"}
          </li>
        ))}
      </Box>
    </Section>
  );
}

/** Nothing is here yet: what to do first, and the demo to look around in. */
function Offer() {
  const demo = useDemoReleases();
  return (
    <Section title="To look around first">
      <p>
        The demo has five invented releases, with all their lines, cards and prices. They come in beside your
        own and can be removed one by one.
      </p>
      <Button variant="outlined" color="inherit" disabled={demo.isPending} onClick={() => demo.mutate()}>
        Bring in the demo’s releases
      </Button>
    </Section>
  );
}
