// The point that is picked of a line drawn by points: an outline, the outline as
// it was cut, or a hole.
import Button from "react-bootstrap/Button";
import type { Design, Grip, Node } from "../../api/client";
import { Choice, LengthField, Row } from "../../kit/fields";
import { put } from "../../kit/items";
import { AtHand } from "./AtHand";
import { nodesOf, withNodes, withoutNode, type Line, type SetDesign } from "./lines";

interface PickedProps {
  d: Design;
  line: Line;
  picked: string;
  /** As reckoned: they tell which points may be taken out. */
  grips: Grip[];
  set: SetDesign;
}

/** PickedNode edits the point that is picked of a line; nothing while none of it is. */
export function PickedNode({ d, line, picked, grips, set }: PickedProps) {
  const at = new RegExp(`^${line}-(\\d+)$`).exec(picked)?.[1];
  if (at === undefined) return null;
  const i = Number(at);
  const to = (change: (nodes: Node[]) => Node[], kind = "") =>
    set((now) => withNodes(now, line, change(nodesOf(now, line))), kind);
  const removable = grips.some((g) => g.key === picked && g.remove);
  return (
    <NodeFields
      nodes={nodesOf(d, line)}
      i={i}
      onChange={(part, kind) => to((now) => put(now, i, part), `${picked}-${kind}`)}
      onInsert={() => to((now) => inserted(now, i))}
      onRemove={removable ? () => set((now) => withoutNode(now, picked)) : undefined}
    />
  );
}

interface FieldsProps {
  nodes: Node[];
  i: number;
  onChange: (part: Partial<Node>, kind: string) => void;
  onInsert: () => void;
  /** Left out where the line needs every point that it has. */
  onRemove?: () => void;
}

/** NodeFields edits the point that is picked. */
function NodeFields({ nodes, i, onChange, onInsert, onRemove }: FieldsProps) {
  const n = nodes[i];
  if (!n) return null;
  const straight = !n.kind || n.kind === "straight";
  return (
    <div className="flaw-card p-2">
      <strong>Point {i + 1}</strong>
      <Row>
        <LengthField label="Along" of="board.design.nodes.x" mm={n.x} onChange={(x) => onChange({ x }, "x")} />
        <LengthField label="To the left" of="board.design.nodes.y" mm={n.y} onChange={(y) => onChange({ y }, "y")} />
        <Choice
          label="The line goes"
          value={n.kind || "straight"}
          options={[
            { value: "straight", label: "straight" },
            { value: "smooth", label: "smoothly through" },
            { value: "corner", label: "round a corner" },
          ]}
          onChange={(kind) => onChange({ kind: kind as Node["kind"] }, "kind")}
        />
      </Row>
      {n.kind !== "smooth" && (
        <Row>
          <LengthField
            label="Round the corner by"
            of="board.design.nodes.round"
            mm={n.round ?? 0}
            onChange={(round) => onChange({ round, cut: 0 }, "round")}
          />
          <LengthField
            label="or trace a round thing of"
            of="board.design.nodes.round"
            mm={2 * (n.round ?? 0)}
            onChange={(across) => onChange({ round: across / 2, cut: 0 }, "trace")}
          />
          <AtHand radius={n.round ?? 0} onChange={(round) => onChange({ round, cut: 0 }, "at-hand")} />
          {straight && (
            <LengthField
              label="or cut it off by"
              of="board.design.nodes.cut"
              mm={n.cut ?? 0}
              onChange={(cut) => onChange({ cut, round: 0 }, "cut")}
            />
          )}
        </Row>
      )}
      <Row>
        <Choice
          label="To the next point"
          value={n.run ?? ""}
          options={[
            { value: "", label: "as the points say" },
            { value: "batten", label: "a bent batten" },
            { value: "arc", label: "an arc" },
          ]}
          onChange={(run) => onChange({ run: run as Node["run"], ...(run && !n.rise ? { rise: 15 } : {}) }, "run")}
        />
        {n.run ? (
          <LengthField
            label="Rise, outward"
            of="board.design.nodes.rise"
            mm={n.rise ?? 0}
            onChange={(rise) => onChange({ rise }, "rise")}
          />
        ) : (
          <LengthField
            label="Move this edge in by"
            of="board.design.nodes.in"
            mm={n.in ?? 0}
            onChange={(v) => onChange({ in: v }, "in")}
          />
        )}
      </Row>
      <div className="d-flex gap-2">
        <Button size="sm" variant="outline-primary" onClick={onInsert}>
          Add a point after it
        </Button>
        <Button size="sm" variant="outline-secondary" disabled={!onRemove} onClick={onRemove}>
          Remove it
        </Button>
      </div>
    </div>
  );
}

/** inserted puts a node half way to the next. */
function inserted(nodes: Node[], i: number): Node[] {
  const a = nodes[i];
  const b = nodes[(i + 1) % nodes.length];
  const middle: Node = {
    x: Math.round(((a.x + b.x) / 2) * 10) / 10,
    y: Math.round(((a.y + b.y) / 2) * 10) / 10,
    ...(a.kind === "smooth" && b.kind === "smooth" ? { kind: "smooth" as const } : {}),
  };
  return [...nodes.slice(0, i + 1), middle, ...nodes.slice(i + 1)];
}
