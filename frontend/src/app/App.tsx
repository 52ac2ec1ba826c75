import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { HotkeysProvider } from "react-hotkeys-hook";
import { BrowserRouter } from "react-router";
import { ProblemError } from "../shared/api/client";
import { NoticeProvider } from "../shared/notices";
import { Gate } from "./Gate";
import { theme } from "./theme";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (failures, error) => failures < 2 && error instanceof ProblemError && error.problem.status === 0,
    },
  },
});

export function App() {
  return (
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <HotkeysProvider>
            <NoticeProvider>
              <Gate />
            </NoticeProvider>
          </HotkeysProvider>
        </BrowserRouter>
      </QueryClientProvider>
    </ThemeProvider>
  );
}
