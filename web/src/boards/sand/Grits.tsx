// The grits of a ladder as buttons of the drawer.
import Button from "react-bootstrap/Button";
import { useWorkshop } from "../../kit/workshop";

interface Props {
  label: string;
  /** The grits that are climbed now. */
  of: number[];
  byHand: boolean;
  onChange: (ladder: number[]) => void;
  told: string;
}

export function Grits({ label, of, byHand, onChange, told }: Props) {
  const { shop } = useWorkshop();
  const toggle = (g: number) => {
    const next = of.includes(g) ? of.filter((o) => o !== g) : [...of, g].sort((x, y) => x - y);
    if (next.length > 0) onChange(next);
  };
  return (
    <>
      <div className="d-flex gap-1 flex-wrap align-items-center" role="group" aria-label={label}>
        {[...new Set([...shop.grits, ...of])]
          .sort((x, y) => x - y)
          .map((g) => (
            <Button
              key={g}
              size="sm"
              variant={of.includes(g) ? "primary" : "outline-primary"}
              aria-pressed={of.includes(g)}
              onClick={() => toggle(g)}
            >
              P{g}
            </Button>
          ))}
        {byHand && (
          <Button size="sm" variant="link" onClick={() => onChange([])}>
            Back to the quickest
          </Button>
        )}
      </div>
      <p className="facts">{told}</p>
    </>
  );
}
