import Button from "react-bootstrap/Button";

/** AddMark adds a mark of one of several kinds. */
export function AddMark({ kinds, onAdd }: { kinds: Record<string, string>; onAdd: (kind: string) => void }) {
  return (
    <div className="d-flex gap-1 flex-wrap mt-1">
      {Object.entries(kinds).map(([kind, name]) => (
        <Button
          key={kind}
          size="sm"
          variant="outline-primary"
          onClick={() => onAdd(kind)}
          aria-label={`Add ${name.toLowerCase()}`}
        >
          + {name}
        </Button>
      ))}
    </div>
  );
}
