// The board alone, true to size, drawn as the wood that it is cut from: its
// grips are dragged, or picked and moved by keys.
import { useQuery } from "@tanstack/react-query";
import { memo, useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from "react";
import { flushSync } from "react-dom";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Board, type Design, type Node, type Photo, type Point, type Reckoning, type Wood } from "../../api/client";
import { betweenFrames, type Doc } from "../../kit/document";
import { Dimension, Ground, useSize } from "../../kit/drawing";
import { Tick } from "../../kit/fields";
import { grain, seedOf } from "../../kit/grain";
import { nudge } from "../../kit/length";
import { stages } from "../../kit/stick";
import { useWorkshop } from "../../kit/workshop";
import { gripsOf, mirrored, nodeGrips, seen, withoutNode, type Grip, type Seen } from "./grips";

export interface Shaping {
  part: string;
  picked: string;
  pick: (id: string) => void;
  /** A line that is drawn across the board to split it. */
  line: Node[];
  setLine: (line: Node[] | ((now: Node[]) => Node[])) => void;
  onDragging: (dragging: boolean) => void;
}

interface Props extends Shaping {
  doc: Doc<Board, Reckoning>;
  slabName: string;
  flipped: boolean;
  onFlip: () => void;
  onStage: (stage: string) => void;
  ground?: Photo;
}

const pen = { vectorEffect: "non-scaling-stroke" as const };

export function ShapeDrawing({ doc: d, slabName, flipped, onFlip, onStage, ground, part, picked, pick, line, setLine, onDragging }: Props) {
  const { unit, length, switchUnits } = useWorkshop();
  const [over, setOver] = useState({ cut: true, mirror: false, grain: false });
  const [ref, size] = useSize();
  const drag = useRef<{ grip: Grip; off: Point; box: DOMRect } | null>(null);
  // What is dragged moves at once, among the grips alone; the document, and all that hangs on it, follows a few times a second.
  const lead = useRef<Lead>(() => {});
  const follow = useRef({ timer: 0, go: () => {} });
  const board = d.doc;
  const wood = d.result.slab!;
  const r = d.result.boards[0];
  const s = r.shape;
  const [still, setStill] = useState<number[] | null>(null); // while something is dragged the view stands still
  const [x0, y0, x1, y1] = still ?? r.box;
  const [left, bottom, right, top] = r.box;
  const pad = 44;
  const scale = Math.max(0.05, Math.min((size.width - 2 * pad) / Math.max(20, x1 - x0), (size.height - 2 * pad) / Math.max(20, y1 - y0)));
  const middle = { x: (x0 + x1) / 2, y: (y0 + y1) / 2 };
  const up = flipped ? 1 : -1;
  const toScreen = (p: Point): Point => ({ x: size.width / 2 + (p.x - middle.x) * scale, y: size.height / 2 + up * (p.y - middle.y) * scale });
  const toBoard = (p: Point): Point => ({ x: middle.x + (p.x - size.width / 2) / scale, y: middle.y + (up * (p.y - size.height / 2)) / scale });
  const o = toScreen({ x: 0, y: 0 });
  const frame = `translate(${o.x} ${o.y}) scale(${scale} ${up * scale})`;
  const place = board.placement;
  const toSlab = `scale(1 ${place.flip ? -1 : 1}) rotate(${-place.angle}) translate(${-place.x} ${-place.y})`;
  const under = flipped !== place.flip; // which face of the slab is seen

  const curve = useQuery({ queryKey: ["line", line], enabled: line.length > 1, placeholderData: (was) => was, gcTime: 0, queryFn: () => unwrap(api.POST("/api/lines", { body: { line } })) });
  const lineGrips = useMemo(() => nodeGrips(line, "line", () => ({}), () => line), [line]);
  const grips = () => [...gripsOf(board.design, part, seen(r)), ...(part === "set" ? lineGrips : [])];
  const moveTo = (g: Grip, to: Point, kind: string) => {
    const i = lineGrips.findIndex((o) => o.id === g.id); // by its name: the grips are made anew at each move
    if (i >= 0) return setLine((now) => now.map((n, k) => (k === i ? { ...n, x: Math.round(to.x * 10) / 10, y: Math.round(to.y * 10) / 10 } : n)));
    d.set((b) => ({ ...b, design: { ...b.design, ...g.drag(b.design, to) } }), kind);
  };
  const remove = () => {
    d.set((b) => ({ ...b, design: { ...b.design, ...withoutNode(b.design, picked) } }));
    pick("");
  };
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const step = nudge(unit) * (e.shiftKey ? 10 : 1);
    const all = grips();
    const g = all.find((o) => o.id === picked);
    const next = (by: number) => {
      if (all.length > 0) pick(all[(all.findIndex((o) => o.id === picked) + by + all.length) % all.length].id);
    };
    const move = (dx: number, dy: number) => g && moveTo(g, { x: g.at.x + dx, y: g.at.y - up * dy }, `nudge-${g.id}`);
    const keys: Record<string, () => void> = {
      ArrowLeft: () => move(-step, 0),
      ArrowRight: () => move(step, 0),
      ArrowUp: () => move(0, step),
      ArrowDown: () => move(0, -step),
      "[": () => next(-1),
      "]": () => next(1),
      Escape: () => pick(""),
      Delete: remove,
      f: onFlip,
      u: switchUnits,
    };
    if (/^\d$/.test(e.key)) onStage(stages[(Number(e.key) + 9) % 10]);
    else if (keys[e.key]) keys[e.key]();
    else return;
    e.preventDefault();
  };
  const at = (e: PointerEvent<SVGSVGElement>, box: DOMRect): Point => toBoard({ x: e.clientX - box.left, y: e.clientY - box.top });
  const release = () => {
    window.clearTimeout(follow.current.timer);
    drag.current = null;
    follow.current.go();
    lead.current(null);
    setStill(null);
    onDragging(false);
    d.settle();
  };
  const pointer = {
    onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
      const id = (e.target as Element).getAttribute("data-grip");
      const g = grips().find((o) => o.id === id);
      pick(id ?? "");
      if (!g) return;
      const box = e.currentTarget.getBoundingClientRect(); // once: asked while dragging, the page would be laid out again at every move
      const p = at(e, box);
      e.currentTarget.setPointerCapture(e.pointerId);
      drag.current = { grip: g, off: { x: g.at.x - p.x, y: g.at.y - p.y }, box };
      setStill(r.box);
      onDragging(true);
    },
    onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
      if (!drag.current) return;
      const { grip, off, box } = drag.current;
      const p = at(e, box);
      const to = { x: p.x + off.x, y: p.y + off.y };
      if (lineGrips.some((o) => o.id === grip.id)) return moveTo(grip, to, "drag");
      flushSync(() => lead.current({ grip, to })); // at once: an answer that comes in waits for the hand, not the hand for it
      const set = d.set;
      follow.current.go = () => {
        follow.current = { timer: 0, go: () => {} };
        set((b) => ({ ...b, design: { ...b.design, ...grip.drag(b.design, to) } }), "drag");
      };
      follow.current.timer ||= window.setTimeout(() => betweenFrames(() => follow.current.go()), 50);
    },
    onPointerUp: release,
    onPointerCancel: release,
  };
  const solid = [r.path, ...r.holes].join("");
  const edge = Math.max(board.design.edge.kind === "none" ? 0 : board.design.edge.size, 0.6);
  const filled = useMemo(() => r.voids.filter((v) => v.chosen === "epoxy").map((v) => v.flaw), [r.voids]);
  return (
    <div className="drawing-frame shape-frame">
      <div className="drawing-tools">
        <Button size="sm" variant="outline-primary" onClick={onFlip}>
          {flipped ? "Turn to its show face" : "Turn to its under face"}
        </Button>
        <span className="face-mark">{flipped ? "Under face" : "Show face"}</span>
        <Tick label="cut line" value={over.cut} onChange={(cut) => setOver({ ...over, cut })} />
        <Tick label="mirror image" value={over.mirror} onChange={(mirror) => setOver({ ...over, mirror })} />
        <Tick label="grain at the router" value={over.grain} onChange={(v) => setOver({ ...over, grain: v })} />
      </div>
      <div className="drawing" ref={ref}>
        {size.width > 0 && (
          <svg width={size.width} height={size.height} role="application" tabIndex={0} aria-label={`${board.name}, true to size. Square brackets pick a grip, arrow keys move it, digits choose a stage.`} onKeyDown={onKeyDown} {...pointer}>
            <defs>
              <clipPath id="shape-clip">
                <path d={solid} clipRule="evenodd" />
              </clipPath>
              <pattern id="shape-waste" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
                <path d="M0 0V6" className="waste-line" />
              </pattern>
            </defs>
            <g transform={frame}>
              {over.cut && s.cutLine.endsWith("z") && <path d={s.cutLine + r.path} className="waste" fillRule="evenodd" />}
              <g clipPath="url(#shape-clip)">
                <rect x={x0 - 5} y={y0 - 5} width={x1 - x0 + 10} height={y1 - y0 + 10} fill={wood.species.light} />
                <WoodUnder wood={wood} slabName={slabName} toSlab={toSlab} under={under} ground={ground} filled={filled} />
                {s.recesses.map((c, i) => (
                  <path key={i} d={c.path} fillRule="evenodd" className={`recess ${c.under !== flipped ? "is-hidden" : ""}`} {...pen} />
                ))}
                {s.narrow && !flipped !== Boolean(board.design.wideUnder) ? null : s.narrow && <path d={s.narrow} className="narrow-line" {...pen} />}
                <path d={solid} fill="none" className="edge-shade" strokeWidth={2 * edge} />
              </g>
              {over.cut && <path d={s.cutLine} className="cut-line" {...pen} />}
              <path d={r.path} className={`board-line shape-line board-${r.level}`} {...pen} />
              {r.holes.map((h, i) => (
                <path key={i} d={h} className="shape-hole" {...pen} />
              ))}
              {s.planned && <path d={s.planned} className="planned-line" {...pen} />}
              {over.mirror && <path d={r.path} className="mirror-line" transform="scale(1 -1)" {...pen} />}
              <path d={`M${x0 - 12} 0H${x1 + 12}`} className="chalk-line" {...pen} />
              {over.grain && s.stretches.map((t, i) => <path key={i} d={t.path} className={`stretch stretch-${t.grain}`} {...pen} />)}
              {r.fittings.slots.map((t, i) => (
                <path key={i} className={`slot-line ${t.under !== flipped ? "is-hidden" : ""}`} d={wedge(t.a, t.b, Math.max(t.width, 1.4), t.depthA, t.depthB)} {...pen} />
              ))}
              {part === "cut" && s.entries.filter((t) => t.diameter > 0).map((t, i) => <circle key={i} className="entry" cx={t.at.x} cy={t.at.y} r={t.diameter / 2} {...pen} />)}
              {part === "set" && line.length > 1 && <path className="split-line" d={curve.data?.path ?? ""} {...pen} />}
            </g>
            <Dimension from={toScreen({ x: left, y: flipped ? top : bottom })} to={toScreen({ x: right, y: flipped ? top : bottom })} text={length(right - left)} off={24} />
            <Dimension from={toScreen({ x: left, y: flipped ? top : bottom })} to={toScreen({ x: left, y: flipped ? bottom : top })} text={length(top - bottom)} off={-24} />
            {(s.feet ?? []).map((p, i) => {
              const q = toScreen(p);
              return <circle key={i} className={`foot ${flipped ? "" : "is-hidden"}`} cx={q.x} cy={q.y} r={6} />;
            })}
            {r.fittings.spots
              .filter((t) => t.diameter > 0)
              .map((t, i) => {
                const q = toScreen(t);
                return (
                  <g key={i} className={`spot ${t.under !== flipped ? "is-hidden" : ""}`}>
                    <path d={`M${q.x - 7} ${q.y}h14M${q.x} ${q.y - 7}v14`} />
                    {t.name.startsWith("bore") && (
                      <text x={q.x} y={q.y + (q.y > size.height / 2 ? 18 : -10)}>
                        {t.name}
                      </text>
                    )}
                  </g>
                );
              })}
            {(() => {
              const q = toScreen(s.balance);
              return (
                <path className="balance" d={`M${q.x - 6} ${q.y}h12M${q.x} ${q.y - 6}v12`}>
                  <title>Balance point</title>
                </path>
              );
            })()}
            {r.verdicts
              .filter((v) => v.mark && (v.level !== "good" || v.check === "web" || v.check === "neck"))
              .map((v, i) => {
                const a = toScreen({ x: v.mark!.ax, y: v.mark!.ay });
                const b = toScreen({ x: v.mark!.bx, y: v.mark!.by });
                return (
                  <path key={i} className={`mark mark-${v.level}`} d={`M${a.x} ${a.y}L${b.x} ${b.y}`}>
                    <title>{v.finding}</title>
                  </path>
                );
              })}
            <Grips design={board.design} part={part} where={seen(r)} others={part === "set" ? lineGrips : none} toScreen={toScreen} picked={picked} lead={lead} />
          </svg>
        )}
      </div>
    </div>
  );
}

type Lead = (led: { grip: Grip; to: Point } | null) => void;

const none: Grip[] = [];

interface GripsProps {
  design: Design;
  part: string;
  where: Seen;
  /** Besides those of the shape. */
  others: Grip[];
  toScreen: (p: Point) => Point;
  picked: string;
  /** Is given what moves a grip before the design does. */
  lead: RefObject<Lead>;
}

/** Grips are the marks that are taken hold of, where the one that is led has brought them. */
function Grips({ design, part, where, others, toScreen, picked, lead }: GripsProps) {
  const [led, setLed] = useState<Parameters<Lead>[0]>(null);
  useEffect(() => {
    lead.current = setLed;
  }, [lead]);
  const now = led ? { ...design, ...led.grip.drag(design, led.to) } : design;
  const grips = [...gripsOf(now, part, where), ...others];
  const named = grips.find((g) => g.id === picked);
  const label = named && toScreen(named.at);
  return (
    <>
      {grips.map((g) => {
        const q = toScreen(g.at);
        return <GripMark key={g.id} id={g.id} label={g.label} x={q.x} y={q.y} picked={g.id === picked} />;
      })}
      {label && (
        <text className="grip-label" x={label.x} y={label.y - 12}>
          {named.label}
        </text>
      )}
      {now.half &&
        part === "outline" &&
        (now.nodes ?? []).map((n, i) => {
          const q = toScreen(mirrored(n));
          return <circle key={i} className="node-mirror" cx={q.x} cy={q.y} r={3} />;
        })}
    </>
  );
}

/** GripMark is drawn again only when it has moved. */
const GripMark = memo(function GripMark({ id, label, x, y, picked }: { id: string; label: string; x: number; y: number; picked: boolean }) {
  return (
    <g>
      <circle className={`node ${picked ? "is-picked" : ""}`} cx={x} cy={y} r={picked ? 6 : 4.5} />
      <circle className="node-reach" cx={x} cy={y} r={13} data-grip={id}>
        <title>{label}</title>
      </circle>
    </g>
  );
});

interface UnderProps {
  wood: Wood;
  slabName: string;
  toSlab: string;
  under: boolean;
  ground?: Photo;
  filled: string[];
}

/** WoodUnder is the slab's wood with its flaws, in the board's frame. */
const WoodUnder = memo(function WoodUnder({ wood, slabName, toSlab, under, ground, filled }: UnderProps) {
  const lines = useMemo(() => grain(seedOf(slabName + wood.species.name), wood.length, wood.minY, wood.maxY), [slabName, wood.species.name, wood.length, wood.minY, wood.maxY]);
  return (
    <g transform={toSlab}>
      {ground ? <Ground photo={ground} flipped={under} /> : lines.map((l, i) => <path key={i} d={l.d} fill="none" stroke={wood.species.dark} strokeWidth={l.width} opacity={l.strength} />)}
      {wood.flaws.map((f) => (
        <path
          key={f.id}
          d={f.under === under ? f.path : (f.other ?? f.path)}
          className={`flaw flaw-${f.kind} ${f.under !== under && !f.other ? "flaw-hidden" : ""} ${filled.includes(f.id) ? "flaw-filled" : ""}`}
          pointerEvents="none"
          {...pen}
        />
      ))}
    </g>
  );
});

/** wedge is a slot seen from above, as much wider at an end as it is deeper there. */
function wedge(a: Point, b: Point, width: number, deepA: number, deepB: number): string {
  const l = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const n = { x: -(b.y - a.y) / l, y: (b.x - a.x) / l };
  const deep = Math.max(deepA, deepB, 0.1);
  const wa = (width / 2) * (0.4 + (1.6 * deepA) / deep);
  const wb = (width / 2) * (0.4 + (1.6 * deepB) / deep);
  const p = (q: Point, w: number) => `${q.x + n.x * w} ${q.y + n.y * w}`;
  return `M${p(a, wa)}L${p(b, wb)}L${p(b, -wb)}L${p(a, -wa)}z`;
}
