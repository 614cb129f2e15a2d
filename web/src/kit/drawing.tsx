// The wood on screen, to scale: the slab with its grain, bark and flaws, and
// the boards laid on it. What is drawn comes from the server's reckoning;
// here it is only placed.
import classNames from "classnames";
import {
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
} from "react";
import Button from "react-bootstrap/Button";
import type { Board, Drawn, Flaw, Photo, Point, Reckoned, Wood } from "../api/client";
import { grain, seedOf, type GrainLine } from "./grain";
import { Pattern } from "./pattern";

export interface View {
  /** Pixels a millimetre. */
  scale: number;
  toScreen: (p: Point) => Point;
  toSlab: (p: Point) => Point;
  width: number;
  height: number;
}

/** useSize measures an element. */
export function useSize(): [React.RefObject<HTMLDivElement | null>, { width: number; height: number }] {
  const ref = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  return [ref, size];
}

function fit(length: number, minY: number, maxY: number, width: number, height: number, flipped: boolean): View {
  const pad = { x: 34, top: 26, bottom: 34 };
  const scale = Math.max(
    0.05,
    Math.min((width - 2 * pad.x) / length, (height - pad.top - pad.bottom) / Math.max(20, maxY - minY)),
  );
  const left = (width - length * scale) / 2;
  const middle = pad.top + (height - pad.top - pad.bottom) / 2;
  const centre = (minY + maxY) / 2;
  const up = flipped ? 1 : -1;
  return {
    scale,
    width,
    height,
    toScreen: (p) => ({ x: left + p.x * scale, y: middle + up * (p.y - centre) * scale }),
    toSlab: (p) => ({ x: (p.x - left) / scale, y: centre + (up * (p.y - middle)) / scale }),
  };
}

interface WoodDrawingProps {
  wood: Wood;
  name: string;
  flipped?: boolean;
  /** Drags on the bare wood are the drawing's own, not the page's to scroll by. */
  marking?: boolean;
  label: string;
  children?: (view: View) => ReactNode;
  /** Drawn under the flaws: boards in the slab's frame. */
  boards?: ReactNode;
  /** Where the wood is shown clear; elsewhere it is faint, as waste. */
  clear?: ReactNode;
  onKeyDown?: (e: KeyboardEvent<SVGSVGElement>) => void;
  pointer?: (view: View) => {
    onPointerDown?: (e: PointerEvent<SVGSVGElement>) => void;
    onPointerMove?: (e: PointerEvent<SVGSVGElement>) => void;
    onPointerUp?: (e: PointerEvent<SVGSVGElement>) => void;
  };
  selected?: string;
  /** A photograph that lies under the drawing, in place of drawn grain. */
  ground?: Photo;
  /** How the resin looks in flaws that are filled with it, by their ids. */
  filled?: Tones;
  /** The parts of a panel in their colours under oil. */
  oiled?: boolean;
}

/** WoodDrawing draws a slab and lets its children draw on it in screen pixels. */
export function WoodDrawing(props: WoodDrawingProps) {
  const { wood, name, flipped = false, clear, boards } = props;
  const length = wood.length;
  const id = useId().replace(/[^a-z0-9]/gi, "");
  const [ref, size] = useSize();
  const lines = useMemo(
    () => grain(seedOf(name + wood.species.name), 0, length, wood.minY, wood.maxY),
    [name, wood.species.name, length, wood.minY, wood.maxY],
  );
  const face = flipped && wood.under ? wood.under : wood.path;
  const beneath = flipped ? wood.path : wood.under;
  const bark = flipped ? wood.underBark : wood.bark;
  const view = fit(length, wood.minY, wood.maxY, size.width, size.height, flipped);
  const origin = view.toScreen({ x: 0, y: 0 });
  const frame = `translate(${origin.x} ${origin.y}) scale(${view.scale} ${flipped ? view.scale : -view.scale})`;
  const timber = <Timber wood={wood} face={face} lines={lines} fill={`url(#${id}-colour)`} oiled={props.oiled} />;
  return (
    <div className="drawing" ref={ref}>
      {size.width > 0 && (
        <svg
          width={size.width}
          height={size.height}
          role="application"
          className={props.marking ? "is-marking" : undefined}
          aria-label={props.label}
          tabIndex={0}
          onKeyDown={props.onKeyDown}
          {...props.pointer?.(view)}
        >
          <defs>
            <linearGradient id={`${id}-colour`} x1="0" x2="0" y1="0" y2="1">
              <stop offset="0" stopColor={wood.species.light} />
              <stop offset="0.5" stopColor={wood.species.light} />
              <stop offset="0.82" stopColor={wood.species.light} />
              <stop offset="1" stopColor={wood.species.dark} />
            </linearGradient>
            <clipPath id={`${id}-slab`}>
              <path d={face} />
            </clipPath>
            {clear && <clipPath id={`${id}-clear`}>{clear}</clipPath>}
          </defs>
          <g transform={frame}>
            {props.ground ? (
              <Ground photo={props.ground} flipped={flipped} />
            ) : (
              <g clipPath={`url(#${id}-slab)`} opacity={clear ? 0.42 : 1}>
                {timber}
              </g>
            )}
            {clear && (
              <g clipPath={`url(#${id}-clear)`}>
                <g clipPath={`url(#${id}-slab)`}>{timber}</g>
              </g>
            )}
            <path d={face} className="slab-line" {...pen} />
            {wood.usable !== face && <path d={wood.usable} className="usable-line" {...pen} />}
            {wood.under && beneath && <path d={beneath} className="beneath-line" {...pen} />}
            {bark.map((d, i) => d && <path key={i} d={d} className="bark" {...pen} />)}
            <path d={`M0 0H${length}`} className="chalk-line" {...pen} />
            {boards}
            {wood.features.map((f) => (
              <path
                key={f.id}
                d={f.path}
                className={classNames("feature", {
                  "flaw-hidden": f.under !== flipped,
                  "is-selected": props.selected === f.id,
                })}
                data-flaw={f.id}
                {...pen}
              />
            ))}
            {wood.flaws.map((f) => (
              <path
                key={f.id}
                d={f.under === flipped ? f.path : (f.other ?? f.path)}
                className={classNames("flaw", `flaw-${f.kind}`, {
                  "flaw-hidden": f.under !== flipped && !f.other,
                  "is-selected": props.selected === f.id,
                  "flaw-filled": props.filled?.[f.id],
                })}
                style={toned(props.filled?.[f.id])}
                data-flaw={f.id}
                {...pen}
              />
            ))}
          </g>
          {props.children?.(view)}
        </svg>
      )}
    </div>
  );
}

/** Tones are how the resin looks in flaws that are filled with it, by their ids. */
export type Tones = Record<string, { hue: string; opacity: number } | undefined>;

/** toned is resin over what shows through it. */
export function toned(tone?: { hue: string; opacity: number }) {
  return (
    tone && { fill: `color-mix(in srgb, ${tone.hue} ${Math.round(tone.opacity * 100)}%, #7a5d3c)`, fillOpacity: 0.92 }
  );
}

interface TimberProps {
  wood: Wood;
  face: string;
  lines: GrainLine[];
  fill: string;
  oiled?: boolean;
}

/** Timber is the wood of a face: its grain, or the parts that it is made of. */
function Timber({ wood, face, lines, fill, oiled }: TimberProps) {
  const parts = wood.parts?.parts ?? wood.pattern;
  if (parts) return <Pattern parts={parts} oiled={oiled} />;
  return (
    <>
      <path d={face} fill={fill} />
      {lines.map((l, i) => (
        <path key={i} d={l.d} fill="none" stroke={wood.species.dark} strokeWidth={l.width} opacity={l.strength} />
      ))}
    </>
  );
}

/** Ground is a photograph to scale in the slab's frame; that of the under face was taken turned over. */
export function Ground({ photo: p, flipped }: { photo: Photo; flipped: boolean }) {
  const [w, h] = [p.maxX - p.minX, p.maxY - p.minY];
  return (
    <image
      href={`/api/pictures/${p.picture}`}
      width={w}
      height={h}
      preserveAspectRatio="none"
      transform={flipped ? `translate(${p.minX} ${p.minY})` : `translate(${p.minX} ${p.maxY}) scale(1 -1)`}
    />
  );
}

/** pen keeps the width of a line at every scale. */
export const pen = { vectorEffect: "non-scaling-stroke" as const };

/** transformOf carries a board's frame to the slab's. */
export function transformOf(p: Board["placement"]): string {
  return `translate(${p.x} ${p.y}) rotate(${p.angle}) scale(1 ${p.flip ? -1 : 1})`;
}

/** BoardShape draws one board in the slab's frame. */
export function BoardShape({ board, reckoned, active }: { board: Board; reckoned: Reckoned; active: boolean }) {
  return (
    <g
      transform={transformOf(board.placement)}
      className={`board board-${reckoned.level} ${active ? "is-active" : ""}`}
      data-board={board.id}
    >
      <path d={reckoned.path} className="board-line" {...pen} />
      {reckoned.holes.map((h, i) => (
        <path key={i} d={h} className="board-hole" {...pen} />
      ))}
    </g>
  );
}

/** Silhouette is a small drawing of one outline in its colours. */
interface SilhouetteProps {
  path: string;
  holes?: string[];
  box: number[];
  light: string;
  dark: string;
  label: string;
  /** The length that fills the width, so that all drawn beside it are to one scale. */
  longest?: number;
  /** What the grain is drawn from. */
  seed?: string;
  /** What a panel is made of, in place of grain. */
  parts?: Drawn[];
}

type Outlined = Pick<SilhouetteProps, "path" | "holes" | "box" | "light" | "dark"> & { parts?: Drawn[] | null };

/** silhouetteOf is what a silhouette takes of a board, as lists and the bench tell of it. */
export const silhouetteOf = ({ path, holes, box, light, dark, parts }: Outlined) => ({
  path,
  holes,
  box,
  light,
  dark,
  parts: parts ?? undefined,
});

export function Silhouette({ path, holes = [], box, light, dark, label, longest, seed, parts }: SilhouetteProps) {
  const id = useId().replace(/[^a-z0-9]/gi, "");
  const [x0, y0, x1, y1] = box;
  const lines = useMemo(
    () =>
      seed && !parts
        ? grain(seedOf(seed), x0, x1, y0, y1)
            .map((l) => l.d)
            .join("")
        : "",
    [seed, parts, x0, x1, y0, y1],
  );
  if (!path) return <div className="silhouette" />;
  const w = longest ?? x1 - x0;
  const rim = w * 0.008;
  const view = { width: w + 2 * rim, height: y1 - y0 + 2 * rim };
  const named = label ? { role: "img", "aria-label": label } : { "aria-hidden": true };
  return (
    <svg
      className="silhouette"
      viewBox={`${x0 - rim} ${-y1 - rim} ${view.width} ${view.height}`}
      style={longest ? { height: "auto", aspectRatio: `${view.width} / ${view.height}` } : undefined}
      {...named}
    >
      <g transform="scale(1 -1)">
        <path
          d={[path, ...holes].join("")}
          fill={light}
          fillRule="evenodd"
          stroke={dark}
          strokeWidth={1.5}
          vectorEffect="non-scaling-stroke"
        />
        {(lines || parts) && (
          <>
            <clipPath id={`${id}-clip`}>
              <path d={[path, ...holes].join("")} clipRule="evenodd" />
            </clipPath>
            <g clipPath={`url(#${id}-clip)`}>
              {parts?.map((p, i) => (
                <path key={i} d={p.path} fill={p.light} stroke={p.dark} strokeWidth={0.6} {...pen} />
              ))}
              <path d={lines} fill="none" stroke={dark} strokeWidth={1.3} opacity={0.3} />
            </g>
          </>
        )}
      </g>
    </svg>
  );
}

/** centreOf is where a flaw lies, for its grip and its name. */
export function centreOf(f: Flaw): Point {
  const line = f.line ?? [];
  if (line.length === 0) return f.centre;
  return { x: line.reduce((s, p) => s + p.x, 0) / line.length, y: line.reduce((s, p) => s + p.y, 0) / line.length };
}

/** FlipButton turns the slab over, about its long axis. */
export function FlipButton({ flipped, onFlip }: { flipped: boolean; onFlip: () => void }) {
  return (
    <Button size="sm" variant="outline-primary" onClick={onFlip}>
      {flipped ? "Flip to the show face" : "Flip to the under face"}
    </Button>
  );
}

/** Dimension draws a measured line in screen pixels. */
export function Dimension({ from, to, text, off = 0 }: { from: Point; to: Point; text: string; off?: number }) {
  const d = { x: to.x - from.x, y: to.y - from.y };
  const l = Math.hypot(d.x, d.y) || 1;
  const n = { x: -d.y / l, y: d.x / l };
  const a = { x: from.x + n.x * off, y: from.y + n.y * off };
  const b = { x: to.x + n.x * off, y: to.y + n.y * off };
  const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  const tick = (p: Point) => `M${p.x - n.x * 4} ${p.y - n.y * 4}l${n.x * 8} ${n.y * 8}`;
  let angle = (Math.atan2(d.y, d.x) * 180) / Math.PI;
  if (angle > 90.5 || angle < -89.5) angle += 180;
  return (
    <g className="dimension">
      <path d={`M${a.x} ${a.y}L${b.x} ${b.y}${tick(a)}${tick(b)}`} />
      <text x={middle.x} y={middle.y} transform={`rotate(${angle} ${middle.x} ${middle.y})`} dy="-4">
        {text}
      </text>
    </g>
  );
}
