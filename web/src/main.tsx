import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { BoardsPage } from "./boards/boards-page";
import { BuildsPage } from "./builds/builds-page";
import { DrawerPage } from "./drawer/drawer-page";
import { PlanPage } from "./plan/plan-page";
import { NotFound } from "./shared/page";
import { applyTheme } from "./shared/theme";
import "./styles.css";

// Radix writes a style element of its own; the content security policy wants its nonce on it.
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce;
Object.assign(globalThis, { __webpack_nonce__: nonce });

applyTheme();
const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
const root = document.getElementById("root");
if (!root) throw new Error("the page has no root");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Routes>
          <Route path="/" element={<BuildsPage />} />
          <Route path="/builds/:id" element={<PlanPage />} />
          <Route path="/drawer" element={<DrawerPage />} />
          <Route path="/boards" element={<BoardsPage />} />
          <Route path="*" element={<NotFound />} />
        </Routes>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
