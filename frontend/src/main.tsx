import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import "@fontsource-variable/public-sans/wght.css";
import "@fontsource/source-serif-4/600.css";
import { App } from "./app/App";
import { styleNonce } from "./shared/nonce";

const cache = createCache({ key: "tx", prepend: true, nonce: styleNonce() });
const root = document.getElementById("root");
if (root === null) throw new Error("the page has no root");
createRoot(root).render(
  <StrictMode>
    <CacheProvider value={cache}>
      <App />
    </CacheProvider>
  </StrictMode>,
);
