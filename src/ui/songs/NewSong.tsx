"use client";
import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { Button, Form, Spinner } from "react-bootstrap";
import { api } from "../shared/api";

/** A new song, or one from an archive; what goes wrong is told. */
export function NewSong({ tell }: { tell: (error: unknown) => void }) {
  const [title, setTitle] = useState("");
  const [unpacking, setUnpacking] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const router = useRouter();
  const make = () =>
    api.createSong(title.trim() || "New song").then((id) => router.push(`/songs/${id}`), tell);
  const unpack = (archive: File) => {
    setUnpacking(true);
    void api.importArchive(archive).then(
      (id) => router.push(`/songs/${id}`),
      (error: unknown) => {
        tell(error);
        setUnpacking(false);
      },
    );
  };
  return (
    <section className="new-song">
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <Form.Control
          aria-label="Title of the new song"
          placeholder="Title"
          maxLength={200}
          value={title}
          onChange={(e) => setTitle(e.target.value)}
        />
        <Button type="submit">New song</Button>
      </Form>
      <input
        ref={file}
        type="file"
        accept=".zip,application/zip"
        hidden
        aria-label="Song archive"
        onChange={(event) => event.target.files?.[0] && unpack(event.target.files[0])}
      />
      <Button variant="outline-primary" disabled={unpacking} onClick={() => file.current?.click()}>
        {unpacking ? (
          <>
            <Spinner size="sm" /> Unpacking …
          </>
        ) : (
          "Open an archive"
        )}
      </Button>
    </section>
  );
}
