// The straightened picture with the edge that was found.
import { useRef } from "react";
import type { Found, Point } from "../api/client";
import { Ground, useSize } from "../kit/drawing";
import { Grip } from "../timber/PieceDrawing";

interface FoundProps {
  found: Found;
  under: boolean;
  picked: number;
  onPick: (i: number) => void;
  onMove: (i: number, dx: number, dy: number) => void;
}

/** FoundDrawing shows the straightened picture with the edge that was found over it. */
export function FoundDrawing({ found, under, picked, onPick, onMove }: FoundProps) {
  const [ref, size] = useSize();
  const drag = useRef<{ node: number; x: number; y: number } | null>(null);
  const g = found.ground;
  const scale = Math.min(size.width / (g.maxX - g.minX), size.height / (g.maxY - g.minY));
  const up = under ? 1 : -1;
  const screen = (p: Point): Point => ({
    x: (p.x - g.minX) * scale,
    y: under ? (p.y - g.minY) * scale : (g.maxY - p.y) * scale,
  });
  return (
    <div className="photo-room" ref={ref}>
      {size.width > 0 && (
        <svg
          width={(g.maxX - g.minX) * scale}
          height={(g.maxY - g.minY) * scale}
          role="application"
          tabIndex={0}
          aria-label="The edge that was found. [ and ] pick a node, arrow keys move it."
          onKeyDown={(e) => {
            const step = e.shiftKey ? 5 : 0.5;
            const n = found.line.length;
            const keys: Record<string, [number, number]> = {
              ArrowLeft: [-step, 0],
              ArrowRight: [step, 0],
              ArrowUp: [0, -up * step],
              ArrowDown: [0, up * step],
            };
            if (e.key === "]") onPick((picked + 1) % n);
            else if (e.key === "[") onPick((picked - 1 + n) % n);
            else if (e.key in keys && picked >= 0) onMove(picked, ...keys[e.key]);
            else return;
            e.preventDefault();
          }}
          onPointerDown={(e) => {
            const id = (e.target as Element).getAttribute("data-grip");
            onPick(id === null ? -1 : Number(id));
            if (id === null) return;
            e.currentTarget.setPointerCapture(e.pointerId);
            drag.current = { node: Number(id), x: e.clientX, y: e.clientY };
          }}
          onPointerMove={(e) => {
            if (!drag.current) return;
            const { node, x, y } = drag.current;
            onMove(node, (e.clientX - x) / scale, (up * (e.clientY - y)) / scale);
            drag.current = { node, x: e.clientX, y: e.clientY };
          }}
          onPointerUp={() => (drag.current = null)}
        >
          <g
            transform={
              under
                ? `scale(${scale}) translate(${-g.minX} ${-g.minY})`
                : `scale(${scale}) translate(${-g.minX} ${g.maxY}) scale(1 -1)`
            }
          >
            <Ground photo={g} flipped={under} />
          </g>
          <path className="found-line" d={`M${found.line.map((p) => `${screen(p).x} ${screen(p).y}`).join("L")}z`} />
          {found.line.map((p, i) => (
            <Grip key={i} id={String(i)} at={screen(p)} picked={picked === i} />
          ))}
        </svg>
      )}
    </div>
  );
}
