import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { Navigate, NavLink, Route, Routes, useLocation } from "react-router";
import { api, Refused, unwrap } from "./api/client";
import { useEvening, useSignOut } from "./kit/device";
import { useWorkshop, WorkshopProvider } from "./kit/workshop";
import { SignIn } from "./signin/SignIn";

const BenchPlace = lazy(() => import("./bench/Bench"));
const Rack = lazy(() => import("./timber/Rack"));
const PiecePlace = lazy(() => import("./timber/Piece"));
const LayoutPlace = lazy(() => import("./layout/Layout"));
const PhotoPlace = lazy(() => import("./timber/PhotoPlace"));
const TakeIn = lazy(() => import("./timber/TakeIn"));
const BoardList = lazy(() => import("./boards/BoardList"));
const BoardSheet = lazy(() => import("./boards/BoardSheet"));
const LogbookPlace = lazy(() => import("./logbook/Logbook"));
const ShopPlace = lazy(() => import("./shop/Shop"));

const places = [
  { to: "/bench", name: "Bench", mark: "M3 8h18M5 8v11M19 8v11M5 14h14" },
  { to: "/timber", name: "Timber", mark: "M3 6c5-2 13 2 18 0v5c-5 2-13-2-18 0zM3 15c5-2 13 2 18 0v4c-5 2-13-2-18 0z" },
  { to: "/boards", name: "Boards", mark: "M4 7h11a3 3 0 0 1 3 3h4v4h-4a3 3 0 0 1-3 3H4z" },
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
  return (
    <WorkshopProvider>
      <Places email={me.data.email} />
    </WorkshopProvider>
  );
}

function Places({ email }: { email: string }) {
  const { unit, switchUnits, shop } = useWorkshop();
  const [help, setHelp] = useState(false);
  const [evening, setEvening] = useEvening();
  const signOut = useSignOut();
  const { pathname } = useLocation();
  useEffect(() => {
    const place = places.find((p) => pathname.startsWith(p.to));
    document.title = place ? `${place.name} · Idle Timber` : "Idle Timber";
  }, [pathname]);
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
          <Button size="sm" variant="link" onClick={signOut}>
            Sign out
          </Button>
        </div>
      </nav>
      <main id="place" className="place" tabIndex={-1}>
        <Suspense fallback={<p className="p-4">One moment</p>}>
          <Routes>
            <Route path="/bench" element={<BenchPlace />} />
            <Route path="/timber" element={<Rack />} />
            <Route path="/timber/list" element={<TakeIn />} />
            <Route path="/timber/:id" element={<PiecePlace />} />
            <Route path="/timber/:id/photo" element={<PhotoPlace />} />
            <Route path="/timber/:id/layout" element={<LayoutPlace />} />
            <Route path="/boards" element={<BoardList />} />
            <Route path="/boards/:id" element={<BoardSheet />} />
            <Route path="/logbook" element={<LogbookPlace />} />
            <Route path="/shop" element={<ShopPlace />} />
            <Route path="*" element={<Navigate to="/bench" replace />} />
          </Routes>
        </Suspense>
      </main>
      <Keys show={help} onHide={() => setHelp(false)} />
    </div>
  );
}

const keys = [
  ["1 to 9, 0", "the stages of the story stick"],
  ["arrows", "nudge the board or flaw by 1 mm or 1/16, with Shift ten times"],
  ["[ and ]", "turn by a degree, with Shift by five; under Shape, pick the grip before or after"],
  ["Delete", "takes out the point or mark that is picked"],
  ["r", "turn the board end for end"],
  [", and .", "on a lay-out, pick the board before or after"],
  ["f", "turn the slab over"],
  ["u", "millimetres or inches"],
  ["[ and ] on a piece", "pick the flaw, node or reading before or after"],
  ["Delete", "take away what is picked"],
  ["/ and n on the rack", "look for a piece, add one; arrows go from piece to piece"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["?", "this list"],
];

function Keys({ show, onHide }: { show: boolean; onHide: () => void }) {
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title id="keys-title" as="h2">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>While the drawing has the focus:</p>
        <dl className="keys">
          {keys.map(([k, what]) => (
            <div key={k}>
              <dt>
                <kbd>{k}</kbd>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </Modal.Body>
    </Modal>
  );
}
