// The list of keys.
import Modal from "react-bootstrap/Modal";

const keys = [
  ["1 to 9, 0", "the stages of the story stick"],
  ["arrows", "nudge the board or flaw by 1 mm or 1/16, with Shift ten times"],
  ["[ and ]", "turn by a degree, with Shift by five; under Shape, pick the grip before or after"],
  ["Delete", "takes out the point or mark that is picked"],
  ["r", "turn the board end for end"],
  [", and .", "on a lay-out, pick the board before or after"],
  ["f", "turn the slab over"],
  ["u", "millimetres or inches"],
  ["[ and ] on a piece", "pick the flaw, node or reading before or after"],
  ["Delete", "take away what is picked"],
  ["/ and n on the rack", "look for a piece, add one; arrows go from piece to piece"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["t, r and d", "on a panel: turn the picked strip end for end, roll it over, double it"],
  ["?", "this list"],
];

export default function Keys({ onHide }: { onHide: () => void }) {
  return (
    <Modal show onHide={onHide} aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title id="keys-title" as="h2">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>While the drawing has the focus:</p>
        <dl className="keys">
          {keys.map(([k, what]) => (
            <div key={k}>
              <dt>
                <kbd>{k}</kbd>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </Modal.Body>
    </Modal>
  );
}
