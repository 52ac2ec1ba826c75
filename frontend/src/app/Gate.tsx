import { Suspense, useEffect } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { Route, Routes, useLocation } from "react-router";
import { hearOfEnd } from "../shared/api/client";
import { Quiet } from "../shared/states";
import { Frame } from "./Frame";
import { later } from "./later";
import { useSession, useStays } from "./session";
import { Stumble } from "./Stumble";
import { Answer } from "../shared/Answer";

const SignIn = later(() => import("./SignIn"));
const SignInAgain = later(() => import("./SignInAgain"));
const FirstVisit = later(() => import("./FirstVisit"));
const Desk = later(() => import("./Desk"));
const Pricing = later(() => import("../steps/pricing/PricingPage"));
const TablePage = later(() => import("../steps/pricing/TablePage"));
const BesidePage = later(() => import("../steps/pricing/BesidePage"));
const TradePage = later(() => import("../steps/pricing/TradePage"));
const ListsPage = later(() => import("../steps/pricing/ListsPage"));
const FetchPage = later(() => import("../steps/pricing/FetchPage"));
const PastePage = later(() => import("../steps/pricing/PastePage"));
const CardPrice = later(() => import("../steps/pricing/PricePage"));
const Shelf = later(() => import("../steps/products/ShelfPage"));
const Import = later(() => import("../steps/products/ImportPage"));
const Fair = later(() => import("../steps/products/FairPage"));
const Begin = later(() => import("../steps/products/BeginPage"));
const Release = later(() => import("../steps/products/ReleasePage"));
const Box = later(() => import("../steps/products/BoxPage"));
const Chase = later(() => import("../steps/products/ChasePage"));
const Sureness = later(() => import("../steps/products/SurenessPage"));
const Comparison = later(() => import("../steps/products/ComparisonPage"));
const CardSet = later(() => import("../steps/products/SetPage"));
const Seen = later(() => import("../steps/products/SeenPage"));
const Production = later(() => import("../steps/products/ProductionPage"));
const Choice = later(() => import("../steps/products/ChoicePage"));
const Trial = later(() => import("../steps/products/TrialPage"));
const Settings = later(() => import("./SettingsPage"));
const Buying = later(() => import("../steps/buying/BuyingPage"));
const NewPurchase = later(() => import("../steps/buying/NewPurchasePage"));
const Purchase = later(() => import("../steps/buying/PurchasePage"));
const Bid = later(() => import("../steps/buying/BidPage"));
const Targets = later(() => import("../steps/buying/TargetsPage"));
const Make = later(() => import("../steps/buying/MakePage"));
const Offer = later(() => import("../steps/buying/OfferPage"));
const Opening = later(() => import("../steps/opening/OpeningPage"));
const OpeningSession = later(() => import("../steps/opening/SessionPage"));
const Results = later(() => import("../steps/opening/ResultsPage"));
const Identify = later(() => import("../steps/stock/IdentifyPage"));
const Subjects = later(() => import("../steps/stock/SubjectsPage"));
const Item = later(() => import("../steps/stock/ItemPage"));
const EnterCards = later(() => import("../steps/sorting/EnterPage"));
const Plans = later(() => import("../steps/sorting/PlanPage"));
const SortingPlan = later(() => import("../steps/sorting/SortingPlanPage"));
const AllPulls = later(() => import("../steps/sorting/AllPullsPage"));
const Pulls = later(() => import("../steps/sorting/PullPage"));
const Goals = later(() => import("../steps/sorting/GoalsPage"));
const Goal = later(() => import("../steps/sorting/GoalPage"));
const Doubles = later(() => import("../steps/sorting/DoublesPage"));
const Condition = later(() => import("../steps/sorting/ConditionPage"));
const Grading = later(() => import("../steps/grading/GradingPage"));
const Submission = later(() => import("../steps/grading/SubmissionPage"));
const WorthGrading = later(() => import("../steps/grading/WorthPage"));
const GradingCard = later(() => import("../steps/grading/CardPage"));
const Batch = later(() => import("../steps/grading/BatchPage"));
const GradingRecord = later(() => import("../steps/grading/RecordPage"));
const Eye = later(() => import("../steps/grading/EyePage"));
const Graders = later(() => import("../steps/grading/GradersPage"));
const Grader = later(() => import("../steps/grading/GraderPage"));
const Selling = later(() => import("../steps/selling/SellingPage"));
const SellingOrder = later(() => import("../steps/selling/OrderPage"));
const NewOrder = later(() => import("../steps/selling/NewOrderPage"));
const Listings = later(() => import("../steps/selling/ListingsPage"));
const ListingDetail = later(() => import("../steps/selling/ListingPage"));
const NewListings = later(() => import("../steps/selling/NewListingsPage"));
const Swap = later(() => import("../steps/selling/SwapPage"));
const SalesFile = later(() => import("../steps/selling/SalesFilePage"));
const ListingHabits = later(() => import("../steps/selling/HabitsPage"));
const Parcels = later(() => import("../steps/selling/ParcelsPage"));
const PackingSupplies = later(() => import("../steps/selling/SuppliesPage"));
const Opinion = later(() => import("../steps/grading/OpinionPage"));
const Borrowed = later(() => import("../steps/pricing/BorrowedPage"));
const Stock = later(() => import("../steps/stock/StockPage"));
const SalesResults = later(() => import("../steps/books/ResultsPage"));
const Friends = later(() => import("../steps/books/FriendsPage"));
const Purses = later(() => import("../steps/books/PursesPage"));
const Books = later(() => import("../steps/books/BooksPage"));
const Missing = later(() => import("./Missing"));

/** Sign-in first, then the frame with the page of the address. */
export function Gate() {
  const session = useSession();
  const queries = useQueryClient();
  const { pathname } = useLocation();
  useEffect(() => hearOfEnd(() => void queries.invalidateQueries({ queryKey: ["session"] })), [queries]);
  const stays = useStays(session.data?.signed_in ?? false);
  if (!session.data) return <Answer of={session} />;
  if (!session.data.has_owner || (!session.data.signed_in && !stays)) {
    return (
      <Suspense fallback={<Quiet />}>
        {session.data.has_owner ? <SignIn isDemo={session.data.is_demo} /> : <FirstVisit />}
      </Suspense>
    );
  }
  return (
    <Frame owner={session.data.owner ?? ""} isDemo={session.data.is_demo}>
      {!session.data.signed_in && (
        <Suspense>
          <SignInAgain />
        </Suspense>
      )}
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
            <Route path="buying/-/targets" element={<Targets />} />
            <Route path="buying/-/make" element={<Make />} />
            <Route path="buying/-/offer" element={<Offer />} />
            <Route path="buying/:number" element={<Purchase />} />
            <Route path="opening" element={<Opening />} />
            <Route path="opening/-/results" element={<Results />} />
            <Route path="opening/:number" element={<OpeningSession />} />
            <Route path="stock" element={<Stock />} />
            <Route path="stock/-/identify" element={<Identify />} />
            <Route path="stock/-/subjects" element={<Subjects />} />
            <Route path="stock/-/enter" element={<EnterCards />} />
            <Route path="stock/-/plan" element={<Plans />} />
            <Route path="stock/-/plan/:number" element={<SortingPlan />} />
            <Route path="stock/-/pull" element={<AllPulls />} />
            <Route path="stock/-/pull/:release" element={<Pulls />} />
            <Route path="stock/-/goals" element={<Goals />} />
            <Route path="stock/-/goals/:number" element={<Goal />} />
            <Route path="stock/-/doubles" element={<Doubles />} />
            <Route path="stock/:number" element={<Item />} />
            <Route path="stock/:number/condition" element={<Condition />} />
            <Route path="pricing/-/borrowed" element={<Borrowed />} />
            <Route path="pricing" element={<Pricing />} />
            <Route path="pricing/-/card" element={<CardPrice />} />
            <Route path="pricing/-/table" element={<TablePage />} />
            <Route path="pricing/-/beside" element={<BesidePage />} />
            <Route path="pricing/-/trade" element={<TradePage />} />
            <Route path="pricing/-/lists" element={<ListsPage />} />
            <Route path="pricing/-/fetch" element={<FetchPage />} />
            <Route path="pricing/-/paste" element={<PastePage />} />
            <Route path="grading" element={<Grading />} />
            <Route path="grading/-/worth" element={<WorthGrading />} />
            <Route path="grading/-/card/:number" element={<GradingCard />} />
            <Route path="grading/-/batch" element={<Batch />} />
            <Route path="grading/-/record" element={<GradingRecord />} />
            <Route path="grading/-/eye" element={<Eye />} />
            <Route path="grading/-/graders" element={<Graders />} />
            <Route path="grading/-/graders/:number" element={<Grader />} />
            <Route path="grading/-/opinion/:number" element={<Opinion />} />
            <Route path="grading/:number" element={<Submission />} />
            <Route path="selling" element={<Selling />} />
            <Route path="selling/-/new" element={<NewOrder />} />
            <Route path="selling/-/listings" element={<Listings />} />
            <Route path="selling/-/listings/:number" element={<ListingDetail />} />
            <Route path="selling/-/list" element={<NewListings />} />
            <Route path="selling/-/file" element={<SalesFile />} />
            <Route path="selling/-/trade" element={<Swap />} />
            <Route path="selling/-/habits" element={<ListingHabits />} />
            <Route path="selling/-/parcels" element={<Parcels />} />
            <Route path="selling/-/supplies" element={<PackingSupplies />} />
            <Route path="selling/:number" element={<SellingOrder />} />
            <Route path="books" element={<Books />} />
            <Route path="books/-/results" element={<SalesResults />} />
            <Route path="books/-/friends" element={<Friends />} />
            <Route path="books/-/purses" element={<Purses />} />
            <Route path="settings/*" element={<Settings />} />
            <Route path="products/:release/:format/chase" element={<Chase />} />
            <Route path="*" element={<Missing />} />
          </Routes>
        </Suspense>
      </Stumble>
    </Frame>
  );
}
