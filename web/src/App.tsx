import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useState, type ComponentType } from "react";
import Button from "react-bootstrap/Button";
import { Navigate, NavLink, Route, Routes, useLocation } from "react-router";
import { found } from "./api/asking";
import { api, Refused, unwrap } from "./api/client";
import { PressesKept } from "./bench/kept";
import { SignOut } from "./bench/SignOut";
import { AwayMark, LeftoverMark, Unbroken } from "./kit/away";
import { whenBack } from "./kit/document/trying";
import { keepFor } from "./kit/document/unsaved";
import { useEvening } from "./kit/device";
import { useTitle } from "./kit/title";
import { useWorkshop, WorkshopProvider } from "./kit/workshop";
import { SignIn } from "./signin/SignIn";

// Each place is loaded when it is opened, or when nothing else is to be done: so
// that it is there when the server is not.
const load = {
  bench: () => import("./bench/Bench"),
  rack: () => import("./timber/Rack"),
  piece: () => import("./timber/Piece"),
  glueUp: () => import("./timber/panel/GlueUp"),
  newRiver: () => import("./timber/river/NewRiver"),
  layout: () => import("./layout/Layout"),
  photo: () => import("./photo/PhotoPlace"),
  trace: () => import("./photo/TracePlace"),
  takeIn: () => import("./timber/TakeIn"),
  boards: () => import("./boards/BoardList"),
  board: () => import("./boards/BoardSheet"),
  runs: () => import("./runs/Runs"),
  run: () => import("./runs/RunPlace"),
  shelf: () => import("./shelf/Shelf"),
  logbook: () => import("./logbook/Logbook"),
  trial: () => import("./logbook/trial/TrialPlace"),
  shop: () => import("./shop/Shop"),
  rescue: () => import("./rescue/Rescue"),
  practice: () => import("./rescue/Practice"),
};
/** place is loaded when it is opened, or as soon as the server is back. */
const place = <P,>(loading: () => Promise<{ default: ComponentType<P> }>) =>
  lazy(async () => {
    const loaded = await whenBack(loading, () => {
      found(false);
      return true;
    });
    found(true);
    return loaded;
  });

const BenchPlace = place(load.bench);
const Rack = place(load.rack);
const PiecePlace = place(load.piece);
const GlueUp = place(load.glueUp);
const NewRiver = place(load.newRiver);
const LayoutPlace = place(load.layout);
const PhotoPlace = place(load.photo);
const TracePlace = place(load.trace);
const TakeIn = place(load.takeIn);
const BoardList = place(load.boards);
const BoardSheet = place(load.board);
const RunsPlace = place(load.runs);
const RunPlace = place(load.run);
const ShelfPlace = place(load.shelf);
const LogbookPlace = place(load.logbook);
const TrialPlace = place(load.trial);
const ShopPlace = place(load.shop);
const RescuePlace = place(load.rescue);
const PracticePlace = place(load.practice);

const Keys = lazy(() => import("./Keys"));

/**
 * useOthers loads the places that are not open, one after another, once the open one has come to rest and what the
 * bench needs without a network is there.
 */
function useOthers(): void {
  useEffect(() => {
    let here = true;
    const rest = setTimeout(async () => {
      if (navigator.serviceWorker?.controller === null) await navigator.serviceWorker.ready;
      for (const place of Object.values(load)) if (here) await place().catch(() => undefined);
    }, 3000);
    return () => {
      here = false;
      clearTimeout(rest);
    };
  }, []);
}

/** useOthersChanges follows what others change, once the open place has come to rest. */
function useOthersChanges(): void {
  const client = useQueryClient();
  useEffect(() => {
    let end: (() => void) | null = null;
    let here = true;
    const rest = setTimeout(() => {
      void import("./kit/news")
        .then((news) => {
          if (here) end = news.followOthers(client);
        })
        .catch(() => undefined); // the server is away: the next page follows
    }, 1500);
    return () => {
      here = false;
      clearTimeout(rest);
      end?.();
    };
  }, [client]);
}

const places = [
  { to: "/bench", name: "Bench", mark: "M3 8h18M5 8v11M19 8v11M5 14h14" },
  { to: "/timber", name: "Timber", mark: "M3 6c5-2 13 2 18 0v5c-5 2-13-2-18 0zM3 15c5-2 13 2 18 0v4c-5 2-13-2-18 0z" },
  { to: "/boards", name: "Boards", mark: "M4 7h11a3 3 0 0 1 3 3h4v4h-4a3 3 0 0 1-3 3H4z" },
  { to: "/runs", name: "Runs", mark: "M3 5h8v5H3zM13 5h8v5h-8zM3 14h8v5H3zM13 14h8v5h-8z" },
  { to: "/shelf", name: "Shelf", mark: "M3 20h18M3 11h18M6 11V4h4v7M13 11V6h5v5M5 20v-6h6v6M15 20v-5h4v5" },
  { to: "/logbook", name: "Logbook", mark: "M6 4h13v16H6zM6 8H4M6 12H4M6 16H4M10 9h6M10 13h6" },
  { to: "/shop", name: "Shop", mark: "M4 20V10l8-6 8 6v10zM9 20v-6h6v6" },
];

export function App() {
  const me = useQuery({
    queryKey: ["me"],
    queryFn: async () => {
      try {
        return await unwrap(api.GET("/api/me"));
      } catch (error) {
        if (error instanceof Refused && error.status === 401) return null;
        throw error;
      }
    },
  });
  if (me.isPending)
    return <p className="p-4">{me.failureCount > 0 ? "The server does not answer. Trying again." : ""}</p>;
  if (!me.data) return <SignIn />;
  keepFor(me.data.email);
  return (
    <WorkshopProvider>
      <PressesKept email={me.data.email}>
        <Places email={me.data.email} />
      </PressesKept>
    </WorkshopProvider>
  );
}

function Places({ email }: { email: string }) {
  const { unit, switchUnits, shop } = useWorkshop();
  const [help, setHelp] = useState(false);
  const [evening, setEvening] = useEvening();
  const { pathname } = useLocation();
  useTitle(places.find((p) => pathname.startsWith(p.to))?.name ?? "");
  useOthers();
  useOthersChanges();
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && e.target.matches("input, textarea, select");
      if (e.key === "?" && !typing) setHelp(true);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return (
    <div className="places">
      <a className="visually-hidden-focusable skip" href="#place">
        To the work
      </a>
      <nav className="rail" aria-label="Places">
        <div className="shop-name" title={email}>
          {shop.name}
        </div>
        {places.map((p) => (
          <NavLink key={p.to} to={p.to} className="rail-link">
            <svg viewBox="0 0 24 24" width="22" height="22" aria-hidden="true">
              <path d={p.mark} fill="none" stroke="currentColor" strokeWidth="1.7" strokeLinejoin="round" />
            </svg>
            <span>{p.name}</span>
          </NavLink>
        ))}
        <div className="rail-foot">
          <Button size="sm" variant="link" onClick={switchUnits}>
            {unit === "mm" ? "mm" : "inch"}
            <span className="visually-hidden">, change the unit</span>
          </Button>
          <Button size="sm" variant="link" onClick={() => setEvening(!evening)} aria-pressed={evening}>
            {evening ? "Day" : "Evening"}
          </Button>
          <Button size="sm" variant="link" onClick={() => setHelp(true)} aria-label="Keys">
            Keys
          </Button>
          <SignOut variant="link" />
        </div>
      </nav>
      <main id="place" className="place" tabIndex={-1}>
        <AwayMark />
        <LeftoverMark at={pathname} />
        <Unbroken at={pathname}>
          <Suspense fallback={<p className="p-4">One moment</p>}>
            <Routes>
              <Route path="/bench" element={<BenchPlace />} />
              <Route path="/timber" element={<Rack />} />
              <Route path="/timber/list" element={<TakeIn />} />
              <Route path="/timber/glue" element={<GlueUp />} />
              <Route path="/timber/:id" element={<PiecePlace />} />
              <Route path="/timber/:id/river" element={<NewRiver />} />
              <Route path="/timber/:id/photo" element={<PhotoPlace />} />
              <Route path="/timber/:id/layout" element={<LayoutPlace />} />
              <Route path="/boards" element={<BoardList />} />
              <Route path="/boards/:id" element={<BoardSheet />} />
              <Route path="/boards/:id/rescue" element={<RescuePlace />} />
              <Route path="/boards/:id/trace" element={<TracePlace />} />
              <Route path="/shelf" element={<ShelfPlace />} />
              <Route path="/runs" element={<RunsPlace />} />
              <Route path="/runs/:id" element={<RunPlace />} />
              <Route path="/logbook" element={<LogbookPlace />} />
              <Route path="/logbook/trials/:id" element={<TrialPlace />} />
              <Route path="/logbook/practice" element={<PracticePlace />} />
              <Route path="/logbook/practice/:key" element={<PracticePlace />} />
              <Route path="/shop" element={<ShopPlace />} />
              <Route path="*" element={<Navigate to="/bench" replace />} />
            </Routes>
          </Suspense>
        </Unbroken>
      </main>
      {help && (
        <Suspense>
          <Keys onHide={() => setHelp(false)} />
        </Suspense>
      )}
    </div>
  );
}
