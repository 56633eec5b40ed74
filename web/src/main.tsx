import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { BuildPage } from "./build/build-page";
import { Test } from "./build/test";
import { BuildsPage } from "./builds/builds-page";
import { Plan } from "./plan/plan";
import { DownloadTrouble } from "./shared/download";
import { LetterLimit } from "./shared/letter-limit";
import { NotFound } from "./shared/page";
import { applyTheme } from "./shared/theme";
import "./styles.css";

// The list of builds and the Plan section come at once; the rest when it is asked for.
const Assemble = lazy(() => import("./assemble/assemble").then((m) => ({ default: m.Assemble })));
const Meter = lazy(() => import("./meter/meter").then((m) => ({ default: m.Meter })));
const Program = lazy(() => import("./program/program").then((m) => ({ default: m.Program })));
const Bench = lazy(() => import("./bench/bench").then((m) => ({ default: m.Bench })));
const Diagnose = lazy(() => import("./diagnose/diagnose").then((m) => ({ default: m.Diagnose })));
const AskBoard = lazy(() => import("./link/ask-board").then((m) => ({ default: m.AskBoard })));
const Log = lazy(() => import("./log/log").then((m) => ({ default: m.Log })));
const DrillPage = lazy(() => import("./drill/drill-page").then((m) => ({ default: m.DrillPage })));
const Drill = lazy(() => import("./drill/drill").then((m) => ({ default: m.Drill })));
const DrawerPage = lazy(() => import("./drawer/drawer-page").then((m) => ({ default: m.DrawerPage })));
const PartsPage = lazy(() => import("./parts/parts-page").then((m) => ({ default: m.PartsPage })));
const BoardsPage = lazy(() => import("./boards/boards-page").then((m) => ({ default: m.BoardsPage })));

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
        <Suspense fallback={<p className="p-6">Opening…</p>}>
          <Routes>
            <Route path="/" element={<BuildsPage />} />
            <Route path="/builds/:id" element={<BuildPage />}>
              <Route index element={<Plan />} />
              <Route path="assemble" element={<Assemble />} />
              <Route path="program" element={<Program />} />
              <Route path="bench" element={<Bench />} />
              <Route element={<Test />}>
                <Route path="meter" element={<Meter />} />
                <Route path="diagnose" element={<Diagnose />} />
                <Route path="board" element={<AskBoard />} />
              </Route>
              <Route path="log" element={<Log />} />
            </Route>
            <Route path="/drill" element={<DrillPage />} />
            <Route path="/drill/:code" element={<Drill />} />
            <Route path="/drawer" element={<DrawerPage />} />
            <Route path="/parts" element={<PartsPage />} />
            <Route path="/boards" element={<BoardsPage />} />
            <Route path="*" element={<NotFound />} />
          </Routes>
        </Suspense>
      </BrowserRouter>
      <LetterLimit />
      <DownloadTrouble />
    </QueryClientProvider>
  </StrictMode>,
);
