import gate from "./Gate.tsx?raw";
import { PAGES, STATIONS } from "./pages";

const routes = [...gate.matchAll(/path="([^"*:]+)"/g)].map(([, path]) => `/${path}`);

describe("pages that can be gone to by their name", () => {
  it("are all that there are, but for the one that is of a card", () => {
    const named = PAGES.map((page) => page.path).filter((path) => path !== "/" && path !== "/settings");
    expect(named.sort()).toEqual(routes.filter((path) => path !== "/pricing/-/card").sort());
  });

  it("have a name each, and a station a key each", () => {
    expect(new Set(PAGES.map((page) => page.name)).size).toBe(PAGES.length);
    expect(new Set(STATIONS.map((station) => station.key)).size).toBe(STATIONS.length);
  });
});
