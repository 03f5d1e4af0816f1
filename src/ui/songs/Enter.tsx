"use client";
import { useState } from "react";
import { Alert, Button, Form } from "react-bootstrap";
import { api } from "../shared/api";

/** Asks for the passphrase when the server is reachable by others. */
export function Enter() {
  const [passphrase, setPassphrase] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const enter = async () => {
    try {
      await api.enter(passphrase);
      window.location.assign("/");
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <main className="song-list enter">
      <h1>
        <span className="home">jubo</span>
      </h1>
      {trouble && <Alert variant="warning">{trouble}</Alert>}
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          void enter();
        }}
      >
        <Form.Control
          type="password"
          aria-label="Passphrase"
          placeholder="Passphrase"
          autoFocus
          value={passphrase}
          onChange={(e) => setPassphrase(e.target.value)}
        />
        <Button type="submit">Enter</Button>
      </Form>
    </main>
  );
}
