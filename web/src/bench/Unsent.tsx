// What is asked when one signs out and not all is sent.
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";

export default function Unsent({ count, onStay, onGo }: { count: number; onStay: () => void; onGo: () => void }) {
  return (
    <Modal show onHide={onStay} aria-labelledby="unsent">
      <Modal.Header closeButton>
        <Modal.Title id="unsent">Not all is sent yet</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {count === 1 ? "One press waits" : `${count} presses wait`} on this device for the server. They stay here, and
        are sent when you sign in again on this device.
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={onGo}>
          Sign out all the same
        </Button>
        <Button onClick={onStay}>Stay</Button>
      </Modal.Footer>
    </Modal>
  );
}
