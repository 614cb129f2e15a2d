// What became of the last change: saved, saving, not saved, and the choice
// when it was changed elsewhere.
import { useSyncExternalStore } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { useBlocker } from "react-router";
import { inWords } from "./merge";
import { mistyped, onMistyped } from "./readings";
import type { Doc } from "./document/useDocument";

const words = { saved: "Saved", saving: "Saving", away: "Not saved", refused: "Not saved", conflict: "Not saved" };

export function SaveMark<T, R>({ doc }: { doc: Doc<T, R> }) {
  const marked = useSyncExternalStore(onMistyped, mistyped); // what stands in a field is not in the document
  const kind = marked && doc.state.kind === "saved" ? "refused" : doc.state.kind;
  return (
    <span className={`save-mark save-${kind}`} role="status" data-save={kind}>
      {words[kind]}
    </span>
  );
}

export function SaveNotice<T, R>({ doc }: { doc: Doc<T, R> }) {
  return (
    <>
      <Notice doc={doc} />
      <LeaveGuard unsaved={doc.state.kind === "refused" || doc.state.kind === "conflict"} />
    </>
  );
}

/** LeaveGuard asks before a place is left whose last change cannot be stored as it stands. */
function LeaveGuard({ unsaved }: { unsaved: boolean }) {
  const leaving = useBlocker(
    ({ currentLocation, nextLocation }) =>
      (unsaved || mistyped()) && currentLocation.pathname !== nextLocation.pathname,
  );
  return (
    <Modal show={leaving.state === "blocked"} onHide={() => leaving.reset?.()} aria-labelledby="leave-title">
      <Modal.Header>
        <Modal.Title id="leave-title" as="h2">
          Your last change is not saved
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>It could not be saved as it stands. Stay and settle it, or leave and lose that change.</Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={() => leaving.proceed?.()}>
          Leave without it
        </Button>
        <Button onClick={() => leaving.reset?.()}>Stay</Button>
      </Modal.Footer>
    </Modal>
  );
}

function Notice<T, R>({ doc }: { doc: Doc<T, R> }) {
  const s = doc.state;
  if (s.kind === "saved" || s.kind === "saving") return null;
  if (s.kind === "conflict") {
    return (
      <Alert variant="warning" className="notice">
        <span>This was changed elsewhere too, and both have changed {s.both.map(inWords).join("; ")}.</span>
        <Button size="sm" variant="primary" onClick={() => doc.choose("mine")}>
          Keep mine
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => doc.choose("theirs")}>
          Take the stored one
        </Button>
      </Alert>
    );
  }
  return (
    <Alert variant={s.kind === "away" ? "warning" : "danger"} className="notice">
      <span>
        {s.kind === "away" ? `${s.why} Trying again.` : `${s.why}. It stays here, unsaved, until it is right.`}
      </span>
    </Alert>
  );
}

export function UndoButtons<T, R>({ doc }: { doc: Doc<T, R> }) {
  return (
    <span className="undo">
      <Button size="sm" variant="outline-secondary" disabled={!doc.canUndo} onClick={doc.undo} title="Undo (Ctrl+Z)">
        Undo
      </Button>
      <Button
        size="sm"
        variant="outline-secondary"
        disabled={!doc.canRedo}
        onClick={doc.redo}
        title="Redo (Ctrl+Shift+Z)"
      >
        Redo
      </Button>
    </span>
  );
}
