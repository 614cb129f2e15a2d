import Button from "react-bootstrap/Button";
import type { Mark } from "../api/client";

/** AddMark adds a mark of one of several kinds. */
export function AddMark({ kinds, onAdd }: { kinds: Mark[]; onAdd: (mark: Mark) => void }) {
  return (
    <div className="d-flex gap-1 flex-wrap mt-1">
      {kinds.map((m) => (
        <Button
          key={m.kind}
          size="sm"
          variant="outline-primary"
          onClick={() => onAdd(m)}
          aria-label={`Add ${m.name.toLowerCase()}`}
        >
          + {m.name}
        </Button>
      ))}
    </div>
  );
}
