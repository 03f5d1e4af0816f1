"use client";
import { Modal, Table } from "react-bootstrap";
import { shortcuts } from "./shortcuts";

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
            {[...shortcuts, { keys: "?", does: "This sheet" }].map(({ keys, does }) => (
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
