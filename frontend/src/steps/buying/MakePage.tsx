import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { AddressFields, askedOf, type AddressField } from "../../shared/AddressFields";
import { client, take } from "../../shared/api/client";
import { PageTitle } from "../../shared/PageTitle";
import { Aside } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";

const FIELDS: readonly AddressField[] = [
  { name: "raw", label: "A raw copy, all-in" },
  { name: "grading", label: "Grading one, all in all", hint: "fee, both ways, duty" },
  { name: "chance", label: "Chance of the grade or better, %", isShare: true },
  { name: "miss_net", label: "A miss leaves you, net", hint: "on average" },
  { name: "slab", label: "The slab, all-in" },
  { name: "lower", label: "A grade lower, all-in", hint: "if you know" },
];

/** Make or buy a wanted grade: grading raw copies beside buying the slab. */
export default function MakePage() {
  const [params, change] = useAddress();
  const query = askedOf(FIELDS, params) as { raw: string; grading: string; chance: string };
  const made = useQuery({
    queryKey: ["make", query],
    queryFn: () => take(client.GET("/api/make", { params: { query } })),
    enabled: "raw" in query && "grading" in query && "chance" in query,
    placeholderData: keepPreviousData,
    retry: false,
  });
  return (
    <PageTitle
      title="Make or buy a grade"
      {...(made.data && !made.isError ? { verdict: made.data.verdict } : {})}
      plain="Grade raw copies, or buy the slab?"
      crumbs={[
        { name: "Buying", to: "/buying" },
        { name: "Target list", to: "/buying/-/targets" },
        { name: "Make or buy" },
      ]}
    >
      <AddressFields
        fields={FIELDS}
        params={params}
        change={change}
        error={made.error}
        width={230}
        maxWidth={760}
      />
      <Aside>Grading is an opinion: the same copy may come back a grade lower.</Aside>
    </PageTitle>
  );
}
