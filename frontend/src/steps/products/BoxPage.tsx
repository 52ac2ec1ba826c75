import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useEffect, useRef, useState } from "react";
import { useLocation, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { count, day, money } from "../../shared/format";
import { Key } from "../../shared/Key";
import { PageTitle } from "../../shared/PageTitle";
import { TwoColumns } from "../../shared/TwoColumns";
import { BasisChoice } from "./BasisChoice";
import { BestCards } from "./BestCards";
import { BoxFigures } from "./BoxFigures";
import { Histogram } from "./Histogram";
import { LineShares } from "./LineShares";
import { MarketRows } from "./MarketRows";
import { PlanTabs } from "./PlanTabs";
import { readView } from "./view";
import { useAnswer, useCorrections, useRelease, type Asked } from "./queries";
import { readShare } from "../../shared/forms/reading";
import { ValueField } from "../../shared/ValueField";
import { UnitChoice } from "./UnitChoice";
import { useKey } from "../../shared/keys/useKey";
import { Answer } from "../../shared/Answer";

/** What a box is worth: the answer, the picture, the working. */
export default function BoxPage() {
  const { release = "", format = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const asked = readAsked(params);
  const [moved, setMoved] = useState<number | null>(null);
  const trying = useSlowed(moved, 70);
  const view = readView(params);
  const answer = useAnswer(release, format, trying === null ? asked : { ...asked, price: trying }, view);
  const detail = useRelease(release);
  const corrections = useCorrections(release);
  const [frozen, setFrozen] = useState<Schemas["HistogramOut"] | null>(null);

  const today = detail.data?.release.formats.find((item) => item.id === format)?.price ?? null;
  const isTrial = asked.price !== null;
  const setAsked = (change: Partial<Asked>) => {
    setParams({ ...view, ...writeAsked({ ...asked, ...change }) }, { replace: true });
  };
  const move = (price: number, done: boolean) => {
    setMoved(done ? null : price);
    setFrozen(done ? null : (frozen ?? answer.data?.histogram ?? null));
    if (done) setAsked({ price });
  };
  const back = () => setAsked({ price: null });
  const keep = () => {
    if (asked.price === null || asked.unit === "pack") return;
    void corrections.priceFormat(format, asked.price.toFixed(2)).then(back, () => undefined);
  };
  useKey("p", "the price handle: arrows move it, Enter keeps it, Esc puts it back", (event) => {
    event.preventDefault();
    document.getElementById("price-handle")?.focus();
  });

  const { hash } = useLocation();
  const ready = answer.data !== undefined && detail.data !== undefined;
  useEffect(() => {
    if (ready && hash) document.getElementById(hash.slice(1))?.scrollIntoView({ block: "center" });
  }, [ready, hash]);

  if (!answer.data) return <Answer of={answer} />;
  if (!detail.data) return <Answer of={detail} />;
  const data = answer.data;
  const per = data.boxes;
  const unit = data.unit === "pack" ? "a pack" : per === 1 ? "a box" : `${per} boxes`;
  const each = asked.price ?? data.price; // what was asked stands before its answer is there
  const shownPrice = moved ?? (each === null ? null : each * per);
  const crumbs = [
    { name: "Products", to: "/products" },
    { name: data.release_title, to: `/products/${release}` },
    { name: `${data.format.name}, ${data.format.contents}` },
  ];
  return (
    <PageTitle
      title={`${data.format.name}, ${data.release_title}`}
      verdict={data.verdict}
      crumbs={crumbs}
      links={{ guess: "#guesses" }}
    >
      <PlanTabs release={release} format={format} />
      <TwoColumns
        main={
          <>
            <Histogram
              histogram={frozen ?? data.histogram}
              price={shownPrice}
              landed={moved === null ? data.outlay : null}
              mean={data.mean}
              middle={data.quantiles["0.5"] ?? 0}
              unit={unit}
              move={(total, done) => move(Math.round((total / per) * 100) / 100, done)}
              keep={keep}
              back={back}
            />
            <Box
              sx={{
                display: "flex",
                flexWrap: "wrap",
                alignItems: "center",
                gap: 1.5,
                minHeight: 34,
                mt: 0.5,
                mb: 2.5,
                fontSize: 13,
              }}
            >
              <UnitChoice
                format={data.format}
                asked={asked}
                choose={(change) => setAsked({ ...change, price: null })}
              />
              <BasisChoice basis={data.basis} />
              <Select
                variant="standard"
                value={asked.own ? "own" : "stated"}
                onChange={(event) => setAsked({ own: event.target.value === "own" })}
                inputProps={{ "aria-label": "Which odds" }}
                sx={{ fontSize: 13 }}
              >
                <MenuItem value="stated">odds as stated</MenuItem>
                <MenuItem value="own">odds as yours came</MenuItem>
              </Select>
              {asked.unit === "pack" && <Searched share={asked.searched} choose={setAsked} />}
              <Box sx={{ flex: 1 }} />
              {isTrial ? (
                <>
                  <span>trying {money(asked.price)}</span>
                  {data.unit === "boxes" && (
                    <Button variant="outlined" color="inherit" onClick={keep}>
                      Keep as today’s price
                    </Button>
                  )}
                  <Button color="inherit" onClick={back}>
                    {today === null || data.unit === "pack" ? "Back" : `Back to ${money(today)}`}
                  </Button>
                </>
              ) : (
                <Box component="span" sx={{ color: "text.secondary" }}>
                  <Key>P</Key> moves the price; prices of {day(data.priced_on)}
                </Box>
              )}
            </Box>
            <LineShares answer={data} lines={detail.data.lines} corrections={corrections} />
            <BestCards answer={data} corrections={corrections} />
          </>
        }
        aside={
          <BoxFigures answer={data}>
            {data.unit === "boxes" && (
              <MarketRows release={release} format={format} view={view} price={asked.price} />
            )}
          </BoxFigures>
        }
      />
      <Box component="p" sx={{ color: "text.secondary", fontSize: 12 }}>
        Worked out on {count(data.grid.points)} amounts in steps of {String(data.grid.step)} {data.currency}
        {data.grid.parts > 1 && `, what is rare and dear apart in ${count(data.grid.parts)} parts`}; about{" "}
        {data.grid.error.toExponential(0)} of all chance may stand at a wrong amount.
      </Box>
    </PageTitle>
  );
}

/** How many loose packs are believed to have been searched: their hits are gone. */
function Searched({ share, choose }: { share: number; choose: (change: Partial<Asked>) => void }) {
  const [fault, setFault] = useState<string | null>(null);
  return (
    <ValueField
      label="Believed searched, %"
      value={String(share * 100)}
      inputMode="decimal"
      fault={fault}
      commit={(text) => {
        const read = readShare(text || "0");
        setFault("fault" in read ? read.fault : null);
        if ("value" in read) choose({ searched: Number(read.value) });
      }}
    />
  );
}

function readAsked(params: URLSearchParams): Asked {
  const price = Number(params.get("price") ?? NaN);
  const boxes = Math.round(Number(params.get("boxes") ?? 1));
  const searched = Number(params.get("searched") ?? 0);
  return {
    unit: params.get("unit") === "pack" ? "pack" : "boxes",
    boxes: boxes >= 1 && boxes <= 1000 ? boxes : 1,
    price: Number.isFinite(price) && price >= 0 ? price : null,
    own: params.get("odds") === "own",
    searched: searched >= 0 && searched <= 1 ? searched : 0,
  };
}

function writeAsked(asked: Asked): Record<string, string> {
  return {
    ...(asked.unit === "pack" ? { unit: "pack" } : {}),
    ...(asked.boxes !== 1 && asked.unit === "boxes" ? { boxes: String(asked.boxes) } : {}),
    ...(asked.price !== null ? { price: String(asked.price) } : {}),
    ...(asked.own ? { odds: "own" } : {}),
    ...(asked.searched > 0 ? { searched: String(asked.searched) } : {}),
  };
}

/** A value that follows another at most every so many milliseconds, and takes null at once. */
function useSlowed(value: number | null, milliseconds: number): number | null {
  const [slow, setSlow] = useState(value);
  const last = useRef(0);
  useEffect(() => {
    const wait = value === null ? 0 : Math.max(last.current + milliseconds - Date.now(), 0);
    const timer = setTimeout(() => {
      last.current = Date.now();
      setSlow(value);
    }, wait);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return value === null ? null : slow;
}
