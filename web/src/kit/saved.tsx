// What became of the last change: saved, saving, not saved, and the choice
// when it was changed elsewhere.
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import type { Doc } from "./document";

const words = { saved: "Saved", saving: "Saving", away: "Not saved", refused: "Not saved", conflict: "Not saved" };

export function SaveMark<T, R>({ doc }: { doc: Doc<T, R> }) {
  return (
    <span className={`save-mark save-${doc.state.kind}`} role="status" data-save={doc.state.kind}>
      {words[doc.state.kind]}
    </span>
  );
}

export function SaveNotice<T, R>({ doc }: { doc: Doc<T, R> }) {
  const s = doc.state;
  if (s.kind === "saved" || s.kind === "saving") return null;
  if (s.kind === "conflict") {
    return (
      <Alert variant="warning" className="notice">
        <span>This was changed elsewhere since you opened it.</span>
        <Button size="sm" variant="primary" onClick={doc.keepMine}>
          Keep mine
        </Button>
        <Button size="sm" variant="outline-primary" onClick={doc.takeStored}>
          Take the stored one
        </Button>
      </Alert>
    );
  }
  return (
    <Alert variant={s.kind === "away" ? "warning" : "danger"} className="notice">
      <span>{s.kind === "away" ? `${s.why} Trying again.` : `${s.why}. It stays here, unsaved, until it is right.`}</span>
    </Alert>
  );
}

export function UndoButtons<T, R>({ doc }: { doc: Doc<T, R> }) {
  return (
    <span className="undo">
      <Button size="sm" variant="outline-secondary" disabled={!doc.canUndo} onClick={doc.undo} title="Undo (Ctrl+Z)">
        Undo
      </Button>
      <Button size="sm" variant="outline-secondary" disabled={!doc.canRedo} onClick={doc.redo} title="Redo (Ctrl+Shift+Z)">
        Redo
      </Button>
    </span>
  );
}
