import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Link, useNavigate } from "react-router";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { FieldRow } from "../../shared/FieldRow";
import { age, counted, day } from "../../shared/format";
import { Key } from "../../shared/Key";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { FormatRows } from "./FormatRows";
import { byRelease, listFormats } from "./shelf";
import { useDemoReleases, useRestoring, useShelf, useStubs } from "./queries";
import { SCALE } from "./ValueStrip";
import { useKey } from "../../shared/keys/useKey";
import { Answer } from "../../shared/Answer";

const SHOWN = {
  "": "all",
  rule: "within your rule",
  dear: "too dear",
  unpriced: "without a price today",
} as const;
const SORTS = {
  "": "release",
  loss: "chance of a loss",
  under: "most under the most to pay",
  price: "price",
} as const;

/** All releases: value against price at a glance; found, sorted and filtered where they stand. */
export default function ShelfPage() {
  const shelf = useShelf();
  const navigate = useNavigate();
  const [params, change] = useAddress();
  useKey("i", "import a product sheet", () => void navigate("/products/-/import"));
  if (!shelf.data) return <Answer of={shelf} />;
  const now = new Date();
  const [find, show, sort] = ["find", "show", "sort"].map((name) => params.get(name) ?? "");
  const listed = listFormats(shelf.data.releases, { find: find ?? "", show: show ?? "", sort: sort ?? "" });
  return (
    <PageTitle title="Products" verdict={shelf.data.verdict} crumbs={[{ name: "Products" }]}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 2 }}>
        <Button component={Link} to="/products/-/import" variant="contained">
          Import a product sheet&nbsp;&nbsp;<Key>I</Key>
        </Button>
        <Button component={Link} to="/products/-/begin" variant="outlined" color="inherit">
          Begin one by hand
        </Button>
        {shelf.data.releases.length > 0 && (
          <Button component={Link} to="/products/-/fair" variant="outlined" color="inherit">
            The most to pay, on one page
          </Button>
        )}
      </Box>
      {shelf.data.releases.length === 0 && shelf.data.offers_demo && <Offer />}
      {shelf.data.releases.length > 0 && (
        <FieldRow>
          <ValueField
            label="Find, by several words"
            value={find ?? ""}
            commit={(text) => change({ find: text })}
            width={220}
          />
          <ChoiceBox
            width={230}
            label="Show"
            value={show ?? ""}
            set={(value) => change({ show: value })}
            choices={SHOWN}
          />
          <ChoiceBox
            width={230}
            label="In order of"
            value={sort ?? ""}
            set={(value) => change({ sort: value })}
            choices={SORTS}
          />
        </FieldRow>
      )}
      {listed.length === 0 && shelf.data.releases.length > 0 && <Aside>No format is like that.</Aside>}
      {sort
        ? listed.length > 0 && (
            <Section title="Formats" point={SORTS[sort as keyof typeof SORTS]}>
              <FormatRows rows={listed} label="Formats in order" named />
            </Section>
          )
        : byRelease(listed).map(({ release, rows }) => (
            <Section
              key={release.id}
              title={release.title}
              point={
                <>
                  {release.publisher}; {counted(release.cards, "card")} in {counted(release.lines, "line")};
                  prices of {day(release.priced_on)}, {age(release.priced_on, now)};{" "}
                  <Link to={`/products/${release.id}`}>checklist, odds and prices</Link>
                </>
              }
            >
              <FormatRows rows={rows} label={`Formats of ${release.title}`} />
            </Section>
          ))}
      {listed.length > 0 && <Aside>{SCALE}</Aside>}
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
            <Link to={`/products/${stub.id}/-/seen`}>{stub.title}</Link>, {counted(stub.cards, "card")}
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
