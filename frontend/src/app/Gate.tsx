import { lazy, Suspense, useEffect, type ComponentType } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { Route, Routes, useLocation } from "react-router";
import { hearOfEnd } from "../shared/api/client";
import { Quiet } from "../shared/states";
import { Frame } from "./Frame";
import { useSession, useStays } from "./session";
import { Stumble } from "./Stumble";
import { SignIn } from "./SignIn";
import { SignInAgain } from "./SignInAgain";
import { Answer } from "../shared/Answer";

const RELOADED = "tobbix-reloaded";

/** A page that is loaded when it is first gone to. A part that is gone, since a newer version was installed, is loaded
 * with the whole page anew, once. */
function page(load: () => Promise<{ default: ComponentType }>) {
  return lazy(async () => {
    try {
      const found = await load();
      sessionStorage.removeItem(RELOADED);
      return found;
    } catch (error) {
      if (sessionStorage.getItem(RELOADED)) throw error;
      sessionStorage.setItem(RELOADED, "once");
      window.location.reload();
      return new Promise<never>(() => undefined);
    }
  });
}

const FirstVisit = page(() => import("./FirstVisit"));
const Desk = page(() => import("./Desk"));
const Shelf = page(() => import("../steps/products/ShelfPage"));
const Import = page(() => import("../steps/products/ImportPage"));
const Fair = page(() => import("../steps/products/FairPage"));
const Begin = page(() => import("../steps/products/BeginPage"));
const Release = page(() => import("../steps/products/ReleasePage"));
const Box = page(() => import("../steps/products/BoxPage"));
const Chase = page(() => import("../steps/products/ChasePage"));
const Sureness = page(() => import("../steps/products/SurenessPage"));
const Comparison = page(() => import("../steps/products/ComparisonPage"));
const CardSet = page(() => import("../steps/products/SetPage"));
const Seen = page(() => import("../steps/products/SeenPage"));
const Production = page(() => import("../steps/products/ProductionPage"));
const Choice = page(() => import("../steps/products/ChoicePage"));
const Trial = page(() => import("../steps/products/TrialPage"));
const Settings = page(() => import("./SettingsPage"));
const Buying = page(() => import("../steps/buying/BuyingPage"));
const NewPurchase = page(() => import("../steps/buying/NewPurchasePage"));
const Purchase = page(() => import("../steps/buying/PurchasePage"));
const Bid = page(() => import("../steps/buying/BidPage"));
const Offer = page(() => import("../steps/buying/OfferPage"));
const Opening = page(() => import("../steps/opening/OpeningPage"));
const OpeningSession = page(() => import("../steps/opening/SessionPage"));
const Results = page(() => import("../steps/opening/ResultsPage"));
const Item = page(() => import("../steps/stock/ItemPage"));
const Stock = page(() => import("../steps/stock/StockPage"));
const Books = page(() => import("../steps/books/BooksPage"));
const Missing = page(() => import("./Missing"));

/** Sign-in first, then the frame with the page of the address. */
export function Gate() {
  const session = useSession();
  const queries = useQueryClient();
  const { pathname } = useLocation();
  useEffect(() => hearOfEnd(() => void queries.invalidateQueries({ queryKey: ["session"] })), [queries]);
  const stays = useStays(session.data?.signed_in ?? false);
  if (!session.data) return <Answer of={session} />;
  if (!session.data.has_owner) {
    return (
      <Suspense fallback={<Quiet />}>
        <FirstVisit />
      </Suspense>
    );
  }
  if (!session.data.signed_in && !stays) return <SignIn isDemo={session.data.is_demo} />;
  return (
    <Frame owner={session.data.owner ?? ""} isDemo={session.data.is_demo}>
      {!session.data.signed_in && <SignInAgain />}
      <Stumble key={pathname}>
        <Suspense fallback={<Quiet />}>
          <Routes>
            <Route index element={<Desk />} />
            <Route path="products" element={<Shelf />} />
            <Route path="products/-/import" element={<Import />} />
            <Route path="products/-/begin" element={<Begin />} />
            <Route path="products/-/fair" element={<Fair />} />
            <Route path="products/:release" element={<Release />} />
            <Route path="products/:release/-/formats" element={<Comparison />} />
            <Route path="products/:release/-/made" element={<Production />} />
            <Route path="products/:release/-/seen" element={<Seen />} />
            <Route path="products/:release/:format" element={<Box />} />
            <Route path="products/:release/:format/sure" element={<Sureness />} />
            <Route path="products/:release/:format/set" element={<CardSet />} />
            <Route path="products/:release/:format/choice" element={<Choice />} />
            <Route path="products/:release/:format/trial" element={<Trial />} />
            <Route path="buying" element={<Buying />} />
            <Route path="buying/-/new" element={<NewPurchase />} />
            <Route path="buying/-/bid" element={<Bid />} />
            <Route path="buying/-/offer" element={<Offer />} />
            <Route path="buying/:number" element={<Purchase />} />
            <Route path="opening" element={<Opening />} />
            <Route path="opening/-/results" element={<Results />} />
            <Route path="opening/:number" element={<OpeningSession />} />
            <Route path="stock" element={<Stock />} />
            <Route path="stock/:number" element={<Item />} />
            <Route path="books" element={<Books />} />
            <Route path="settings/*" element={<Settings />} />
            <Route path="products/:release/:format/chase" element={<Chase />} />
            <Route path="*" element={<Missing />} />
          </Routes>
        </Suspense>
      </Stumble>
    </Frame>
  );
}
