import Box from "@mui/material/Box";
import { Route, Routes } from "react-router";
import { Answer } from "../shared/Answer";
import { PageTabs } from "../shared/PageTabs";
import { PageTitle } from "../shared/PageTitle";
import { Ways } from "../steps/pricing/Ways";
import { usePreferences } from "../steps/products/queries";
import { Backups } from "./Backups";
import { Group, GROUPS, Limit, Worth } from "./Habits";
import { Home } from "./Home";
import { Sessions } from "./Sessions";
import { Spending } from "./Spending";

const TABS = [
  { to: "/settings", name: "How you decide", end: true },
  { to: "/settings/selling", name: "How you sell", end: true },
  { to: "/settings/money", name: "Money", end: true },
  { to: "/settings/installation", name: "This installation", end: true },
];

/** What the owner says once: each part is saved by itself. */
export default function SettingsPage() {
  const preferences = usePreferences();
  if (!preferences.data) return <Answer of={preferences} />;
  const said = preferences.data;
  const groups = GROUPS.map((group) => <Group key={group.title} group={group} preferences={said} />);
  return (
    <PageTitle title="Settings" plain="Settings" crumbs={[{ name: "Settings" }]}>
      <PageTabs links={TABS} label="Settings" />
      <Box sx={{ maxWidth: 1052 }}>
        <Routes>
          <Route
            index
            element={
              <>
                <Worth preferences={said} />
                {groups}
              </>
            }
          />
          <Route path="selling" element={<Ways />} />
          <Route
            path="money"
            element={
              <>
                <Home preferences={said} />
                <Limit preferences={said} />
                <Spending />
              </>
            }
          />
          <Route
            path="installation"
            element={
              <>
                <Backups />
                <Sessions />
              </>
            }
          />
        </Routes>
      </Box>
    </PageTitle>
  );
}
