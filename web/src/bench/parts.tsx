// Pieces that the steps at the bench share: the board to press on, an amount to write down.
import { useState, type MouseEvent, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import type { BenchBoard, Dated, Point } from "../api/client";
import { NumberField } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import type { Note, Press } from "./presses";

/** AtStep is what a step that asks for more than its time is given. */
export interface AtStep {
  board: BenchBoard;
  step: Dated;
  now: number;
  note: (step: string, note: Note) => Promise<void>;
  pending: boolean;
  /** What of this board is kept on the device until the server is back. */
  kept: readonly Press[];
}

/** useGrams shows masses to a step of the shop's scale. */
export function useGrams(): (g: number) => string {
  const { shop, scale } = useWorkshop();
  const by = scale("g");
  const digits = Math.max(0, Math.ceil(-Math.log10(by.shown(shop.scaleStep)) - 1e-9));
  return (g) => `${by.shown(g).toFixed(digits)} ${by.name}`;
}

interface PictureProps {
  board: BenchBoard;
  /** Without its voids. */
  plain?: boolean;
  /** Places that were marked, and what they tell. */
  marks?: Point[];
  told?: string;
  /** Places with a number. */
  spots?: { at: Point; text: string; active?: boolean }[];
  onPlace?: (at: Point) => void;
}

/** BoardPicture is the board with its voids numbered and what was marked on it; a press on it tells where. */
export function BoardPicture({ board: b, plain = false, marks = [], told = "", spots, onPlace }: PictureProps) {
  const [x0, y0, x1, y1] = b.box;
  const size = Math.max(x1 - x0, y1 - y0);
  const voids = plain ? [] : (b.voids ?? []);
  const press = (e: MouseEvent<SVGSVGElement>) => {
    const to = e.currentTarget.getScreenCTM()?.inverse();
    if (!to || !onPlace) return;
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(to);
    onPlace({ x: Math.round(p.x), y: Math.round(-p.y) });
  };
  const numbered = spots ?? voids.map((v) => ({ at: v.at, text: String(v.number), active: false }));
  return (
    <svg
      className="pour-picture"
      viewBox={`${x0 - 6} ${-y1 - 6} ${x1 - x0 + 12} ${y1 - y0 + 12}`}
      role="img"
      aria-label={plain ? b.course.name : `${b.course.name}: its voids, numbered`}
      onClick={press}
    >
      <g transform="scale(1 -1)">
        <path
          d={[b.path, ...b.holes].join("")}
          fill={b.light}
          fillRule="evenodd"
          stroke={b.dark}
          strokeWidth={size / 250}
        />
        {voids.flatMap((v) => v.paths.map((d, i) => <path key={`${v.void}${i}`} d={d} className="pour-void" />))}
      </g>
      {numbered.map((v) => (
        <Numbered key={v.text} at={v.at} size={size} text={v.text} active={v.active} />
      ))}
      {marks.map((p, i) => (
        <circle key={i} className="pour-leak" cx={p.x} cy={-p.y} r={size / 40}>
          <title>{told}</title>
        </circle>
      ))}
    </svg>
  );
}

function Numbered({ at, size, text, active = false }: { at: Point; size: number; text: string; active?: boolean }) {
  return (
    <g className={`pour-number ${active ? "is-active" : ""}`}>
      <circle cx={at.x} cy={-at.y} r={size / 32} />
      <text x={at.x} y={-at.y} fontSize={size / 22} textAnchor="middle" dominantBaseline="central">
        {text}
      </text>
    </g>
  );
}

export function TakeBack({ disabled, onClick }: { disabled: boolean; onClick: () => unknown }) {
  return (
    <button type="button" className="text-link" disabled={disabled} onClick={onClick}>
      Take the last note back
    </button>
  );
}

interface AmountProps {
  label: string;
  unit?: string;
  /** What stands there until something is typed. */
  start: number;
  write: string;
  /** It is not what is to be done first. */
  quiet?: boolean;
  pending: boolean;
  onWrite: (value: number) => Promise<void>;
  children?: ReactNode;
}

/** Amount is a number that is typed and written down. */
export function Amount({ label, unit, start, write, quiet, pending, onWrite, children }: AmountProps) {
  const [typed, setTyped] = useState<number | null>(null);
  const value = typed ?? Number(start.toFixed(2));
  return (
    <form
      className="pour-by-hand"
      onSubmit={(e) => {
        e.preventDefault();
        void onWrite(value).then(() => setTyped(null));
      }}
    >
      <NumberField label={label} unit={unit} of="event.value" whole={!unit} value={value} onChange={setTyped} />
      <Button type="submit" variant={quiet ? "outline-primary" : "primary"} disabled={pending}>
        {write}
      </Button>
      {children}
    </form>
  );
}
