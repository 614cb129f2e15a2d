// The server may be away: what waits for it says so, and the rest of the page stays.
import { useQueryClient, type UseQueryResult } from "@tanstack/react-query";
import { Component, useEffect, useSyncExternalStore, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { isAway, onAway } from "../api/asking";
import { Link } from "react-router";
import { api, say } from "../api/client";
import { leftover, onLeftover, unsavedOf } from "./document/unsaved";

/** Away stands where something is to be shown that the server has not given yet. */
export function Away({ of }: { of: Pick<UseQueryResult, "error" | "failureCount"> }) {
  if (of.error) return <p className="empty">{say(of.error)}</p>;
  if (of.failureCount > 0) return <p className="empty">The server does not answer. Trying again.</p>;
  return null;
}

/** How often the server is looked for while it is away, ms. */
const lookEvery = 2500;

/** AwayMark says on every place that the server is away, and looks for it. */
export function AwayMark() {
  const away = useSyncExternalStore(onAway, isAway);
  const client = useQueryClient();
  useEffect(() => {
    if (!away) return;
    const timer = setInterval(() => {
      void api.GET("/api/health").then(
        ({ response }) => void (response.ok && client.invalidateQueries()),
        () => undefined, // still away
      );
    }, lookEvery);
    return () => clearInterval(timer);
  }, [away, client]);
  if (!away) return null;
  return (
    <p className="away-mark" role="status">
      The server is away. What you change is kept here and sent when it is back.
    </p>
  );
}

/** where a document of a name is opened. */
function whereIs(name: string): string {
  const [kind, id] = name.split(" ");
  const places: Record<string, string> = { board: "boards", piece: "timber", run: "runs", trial: "logbook/trials" };
  return places[kind] ? `/${places[kind]}/${id}` : `/${kind}`;
}

/** LeftoverMark says what was changed before the page was opened and is not stored yet. */
export function LeftoverMark({ at }: { at: string }) {
  const names = useSyncExternalStore(onLeftover, leftover).filter((n) => whereIs(n) !== at);
  if (names.length === 0) return null;
  return (
    <p className="away-mark" role="status">
      A change that was not stored is kept on this device. It is stored as soon as you open{" "}
      {names.map((n, i) => (
        <span key={n}>
          {i > 0 && ", "}
          <Link to={whereIs(n)}>{unsavedOf<{ name?: string }>(n)?.doc.name || n.split(" ")[0]}</Link>
        </span>
      ))}
      .
    </p>
  );
}

/** Unbroken shows, in the place of what cannot be shown, what to do. */
export class Unbroken extends Component<{ children: ReactNode; at: string }, { broken: boolean }> {
  state = { broken: false };

  static getDerivedStateFromError = () => ({ broken: true });

  componentDidUpdate(before: { at: string }) {
    if (before.at !== this.props.at && this.state.broken) this.setState({ broken: false });
  }

  render() {
    if (!this.state.broken) return this.props.children;
    return <Broken />;
  }
}

/** Broken stands where something cannot be shown. */
export function Broken() {
  return (
    <div className="empty" role="alert">
      <p>This place cannot be shown just now. Nothing that was saved is lost.</p>
      <Button onClick={() => window.location.reload()}>Open it anew</Button>
    </div>
  );
}
