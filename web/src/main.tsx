import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { App as Antd, ConfigProvider } from "antd";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { isAway } from "./api/client";
import { Pages } from "./shell/Pages";
import { cssVariables, theme } from "./base/theme";
import "./shell/styles.css";
import "./drawing/drawing.css";
import "./plan/plan.css";
import "./stops/templates/bench.css";
import "./strip/strip.css";

const sheet = document.createElement("style");
sheet.textContent = cssVariables();
document.head.append(sheet);

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      // The browser's own opinion of the network says nothing about our server: it is asked all the same.
      networkMode: "always",
      retry: (count, error) => isAway(error) && count < 2,
      // What could not be asked while the server was away is asked again until it answers.
      refetchInterval: (query) => (query.state.status === "error" && isAway(query.state.error) ? 3000 : false),
      refetchOnWindowFocus: true,
    },
    mutations: { networkMode: "always" },
  },
});

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <ConfigProvider theme={theme} button={{ autoInsertSpace: false }}>
        <Antd message={{ maxCount: 3 }}>
          {/* The address is rendered at once: what is done next must not act on the range before. */}
          <BrowserRouter useTransitions={false}>
            <Pages />
          </BrowserRouter>
        </Antd>
      </ConfigProvider>
    </QueryClientProvider>
  </StrictMode>,
);
