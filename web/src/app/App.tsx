import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import ConfigProvider from "antd/es/config-provider";
import { lazy, Suspense, useMemo } from "react";
import { BrowserRouter, Link, Route, Routes } from "react-router";

import { antTheme } from "./theme";
import { useTheme } from "./useTheme";

const Files = lazy(() => import("../views/files/Files"));
const WouldFit = lazy(() => import("../views/fit/WouldFit"));
const Gallery = lazy(() => import("../views/gallery/Gallery"));
const LightPath = lazy(() => import("../views/light-path/LightPath"));

const Kit = lazy(() => import("../views/kit/Kit"));
const Key = lazy(() => import("../views/mounts/Key"));
const Mounts = lazy(() => import("../views/mounts/Mounts"));
const System = lazy(() => import("../views/mounts/System"));

const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 60_000, refetchOnWindowFocus: false } } });
const nonce = document.querySelector<HTMLScriptElement>("script[nonce]")?.nonce ?? "";

export function App() {
  const { dark, toggle } = useTheme();
  const theme = useMemo(() => antTheme(dark), [dark]);
  return (
    <ConfigProvider theme={theme} csp={{ nonce }} button={{ autoInsertSpace: false }}>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Suspense fallback={<main className="page" aria-busy="true" />}>
            <Routes>
              <Route path="/" element={<LightPath dark={dark} onToggleTheme={toggle} />} />
              <Route path="/mounts" element={<Mounts dark={dark} onToggleTheme={toggle} />} />
              <Route path="/mounts/:id" element={<System dark={dark} onToggleTheme={toggle} />} />
              <Route path="/mounts/:id/key" element={<Key dark={dark} onToggleTheme={toggle} />} />
              <Route path="/kit/:kind?" element={<Kit dark={dark} onToggleTheme={toggle} />} />
              <Route path="/files" element={<Files dark={dark} onToggleTheme={toggle} />} />
              <Route path="/fit" element={<WouldFit dark={dark} onToggleTheme={toggle} />} />
              <Route path="/gallery/:state?" element={<Gallery dark={dark} onToggleTheme={toggle} />} />
              <Route path="*" element={<NoPage />} />
            </Routes>
          </Suspense>
        </BrowserRouter>
      </QueryClientProvider>
    </ConfigProvider>
  );
}

function NoPage() {
  return (
    <main className="page message">
      <h1>There is no page at this address.</h1>
      <p>
        <Link to="/">To the light path</Link>
      </p>
    </main>
  );
}
