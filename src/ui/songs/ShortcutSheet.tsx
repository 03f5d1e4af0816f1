"use client";
import { Modal, Table } from "react-bootstrap";
import { shortcuts } from "./shortcuts";

/** Keys that a bench has while it is clicked into. */
const benchKeys = [
  { keys: "Shift K, I", does: "Gather, list of files: two keys label, the drum with Shift, then the place" },
  { keys: "↑  ↓", does: "Strokes, Review: pass from one to the next and hear it" },
  { keys: "V", does: "Strokes: ghost note or main stroke" },
  { keys: "Delete", does: "Strokes: drop it; Review: leave it as played" },
  { keys: "Enter  Backspace", does: "Strokes: accept or drop a doubtful one" },
  { keys: "A", does: "Review: hear it as it was played" },
];

/** All shortcuts in one sheet. */
export function ShortcutSheet({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Modal show={open} onHide={close} aria-labelledby="sheet-title">
      <Modal.Header closeButton>
        <Modal.Title id="sheet-title">Keyboard</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Table size="sm">
          <tbody>
            {[...shortcuts, ...benchKeys, { keys: "?", does: "This sheet" }].map(({ keys, does }) => (
              <tr key={keys}>
                <td>
                  <kbd>{keys}</kbd>
                </td>
                <td>{does}</td>
              </tr>
            ))}
          </tbody>
        </Table>
        <p className="hint">
          Sliders: arrow keys move, with Shift in finer steps; a double click goes back to the usual value.
        </p>
      </Modal.Body>
    </Modal>
  );
}
