import { lazy, Suspense, useEffect } from "react";
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

const Desk = lazy(() => import("./Desk"));
const Shelf = lazy(() => import("../steps/products/ShelfPage"));
const Import = lazy(() => import("../steps/products/ImportPage"));
const Release = lazy(() => import("../steps/products/ReleasePage"));
const Box = lazy(() => import("../steps/products/BoxPage"));
const Chase = lazy(() => import("../steps/products/ChasePage"));
const Sureness = lazy(() => import("../steps/products/SurenessPage"));
const Comparison = lazy(() => import("../steps/products/ComparisonPage"));
const CardSet = lazy(() => import("../steps/products/SetPage"));
const Seen = lazy(() => import("../steps/products/SeenPage"));
const Production = lazy(() => import("../steps/products/ProductionPage"));
const Choice = lazy(() => import("../steps/products/ChoicePage"));
const Trial = lazy(() => import("../steps/products/TrialPage"));
const Settings = lazy(() => import("./SettingsPage"));
const Buying = lazy(() => import("../steps/buying/BuyingPage"));
const NewPurchase = lazy(() => import("../steps/buying/NewPurchasePage"));
const Purchase = lazy(() => import("../steps/buying/PurchasePage"));
const Bid = lazy(() => import("../steps/buying/BidPage"));
const Offer = lazy(() => import("../steps/buying/OfferPage"));
const Opening = lazy(() => import("../steps/opening/OpeningPage"));
const OpeningSession = lazy(() => import("../steps/opening/SessionPage"));
const Results = lazy(() => import("../steps/opening/ResultsPage"));
const Item = lazy(() => import("../steps/stock/ItemPage"));
const Stock = lazy(() => import("../steps/stock/StockPage"));
const Books = lazy(() => import("../steps/books/BooksPage"));
const Missing = lazy(() => import("./Missing"));

/** Sign-in first, then the frame with the page of the address. */
export function Gate() {
  const session = useSession();
  const queries = useQueryClient();
  const { pathname } = useLocation();
  useEffect(() => hearOfEnd(() => void queries.invalidateQueries({ queryKey: ["session"] })), [queries]);
  const stays = useStays(session.data?.signed_in ?? false);
  if (!session.data) return <Answer of={session} />;
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
            <Route path="settings" element={<Settings />} />
            <Route path="products/:release/:format/chase" element={<Chase />} />
            <Route path="*" element={<Missing />} />
          </Routes>
        </Suspense>
      </Stumble>
    </Frame>
  );
}
