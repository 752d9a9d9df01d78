import { QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { queryClient } from "../api/hooks";
import { followProduction } from "../api/production/productions";
import { lightPage } from "../theme/theme";
import { App } from "./App";
import { followAddress } from "./address";
import "../theme/tokens.css";

lightPage();
followAddress();
followProduction(queryClient);

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <Tooltip.Provider delayDuration={350}>
        <App />
      </Tooltip.Provider>
    </QueryClientProvider>
  </StrictMode>,
);
