// The end of a piece with its rings, which one turns and bends until they look
// like those of the wood.
import { useId, useRef } from "react";
import { LengthField, NumberField, Row } from "../kit/fields";

const size = { width: 260, height: 90 };
const block = { width: 220, height: 48 };
const flat = 1200; // mm: rings of a larger radius look straight

interface Props {
  angle: number;
  radius: number;
  onChange: (angle: number, radius: number) => void;
}

export function EndGrain({ angle, radius, onChange }: Props) {
  const id = useId().replace(/[^a-z0-9]/gi, "");
  const drag = useRef<{ x: number; y: number; angle: number; radius: number } | null>(null);
  const bent = radius > 0 ? radius : flat;
  // One pixel a millimetre. The middle of the block lies on a ring; its centre lies square to the rings.
  const a = (angle * Math.PI) / 180;
  const mid = { x: size.width / 2, y: size.height / 2 };
  const centre = { x: mid.x + bent * Math.sin(a), y: mid.y + bent * Math.cos(a) };
  const rings = [];
  for (let r = bent - 150; r <= bent + 150; r += 7) if (r > 3) rings.push(r);
  const kind = angle < 30 ? "plain-sawn" : angle < 60 ? "rift-sawn" : "quarter-sawn";
  const set = (toAngle: number, toRadius: number) =>
    onChange(Math.round(Math.max(0, Math.min(90, toAngle))), toRadius >= flat ? 0 : Math.round(Math.max(20, toRadius)));
  return (
    <div className="end-grain">
      <svg
        viewBox={`0 0 ${size.width} ${size.height}`}
        role="slider"
        tabIndex={0}
        aria-label="Rings of the end grain: left and right turn them, up and down bend them"
        aria-valuemin={0}
        aria-valuemax={90}
        aria-valuenow={angle}
        aria-valuetext={`${angle} degrees, ${kind}, ${radius > 0 ? `radius ${radius} mm` : "nearly straight"}`}
        onKeyDown={(e) => {
          const step = e.shiftKey ? 10 : 2;
          const keys: Record<string, [number, number]> = {
            ArrowRight: [angle + step, radius],
            ArrowLeft: [angle - step, radius],
            ArrowUp: [angle, bent * 1.1],
            ArrowDown: [angle, bent / 1.1],
          };
          if (!(e.key in keys)) return;
          e.preventDefault();
          const [to, r] = keys[e.key];
          set(to, r || flat);
        }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { x: e.clientX, y: e.clientY, angle, radius: bent };
        }}
        onPointerMove={(e) => {
          const d = drag.current;
          if (d) set(d.angle + (e.clientX - d.x) * 0.4, d.radius * Math.exp((d.y - e.clientY) / 60));
        }}
        onPointerUp={() => (drag.current = null)}
      >
        <clipPath id={id}>
          <rect x={mid.x - block.width / 2} y={mid.y - block.height / 2} width={block.width} height={block.height} />
        </clipPath>
        <g clipPath={`url(#${id})`}>
          <rect x={0} y={0} width={size.width} height={size.height} className="end-wood" />
          {rings.map((r) => (
            <circle key={r} cx={centre.x} cy={centre.y} r={r} className="end-ring" />
          ))}
        </g>
        <rect
          x={mid.x - block.width / 2}
          y={mid.y - block.height / 2}
          width={block.width}
          height={block.height}
          className="end-line"
        />
        <text x={mid.x} y={size.height - 4}>
          show face up, {kind}
        </text>
      </svg>
      <p className="facts">
        Drag across to turn the rings, up and down to bend them, until they look like the end of the piece.
      </p>
      <Row>
        <NumberField
          label="Rings to the face"
          unit="°"
          of="piece.ringAngle"
          value={angle}
          onChange={(v) => onChange(v, radius)}
        />
        <LengthField
          label="Radius at the face, 0 if straight"
          of="piece.ringRadius"
          mm={radius}
          onChange={(v) => onChange(angle, v)}
        />
      </Row>
    </div>
  );
}
