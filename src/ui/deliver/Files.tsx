"use client";
import { useState } from "react";
import { Button, Table } from "react-bootstrap";
import { Download, Play } from "react-bootstrap-icons";
import { fileSize } from "../shared/format";

export interface RenderedFile {
  readonly id: string;
  /** Where it lies in the archive of all; older renders do not say. */
  readonly folder?: string;
  readonly name: string;
  readonly byteLength: number;
}
const sounds = (name: string): boolean => /\.(wav|flac)$/i.test(name);

/** The folder before a file's name. */
export const InFolder = ({ folder }: { folder: string | undefined }) =>
  folder ? <span className="folder">{folder}/</span> : null;

/** Rendered files: each to hear before it is downloaded, and all of them in one archive. */
export function Files({ task, files }: { task: string; files: readonly RenderedFile[] }) {
  const [heard, setHeard] = useState<string | null>(null);
  const bytes = files.reduce((sum, f) => sum + f.byteLength, 0);
  return (
    <>
      <div className="bench-head">
        <h2>
          Files{" "}
          <small>
            {files.length}, {fileSize(bytes)}
          </small>
        </h2>
        <a className="btn btn-sm btn-outline-primary" href={`/api/tasks/${task}/zip`} download>
          <Download aria-hidden /> All as a ZIP
        </a>
      </div>
      <Table size="sm" className="mic-table" aria-label="Rendered files">
        <tbody>
          {files.map((f) => (
            <tr key={f.id}>
              <td>
                <Download aria-hidden /> <InFolder folder={f.folder} />
                <a href={`/api/files/${f.id}`} download={f.name}>
                  {f.name}
                </a>
              </td>
              <td className="number">{fileSize(f.byteLength)}</td>
              <td className="hear">
                {!sounds(f.name) ? null : heard === f.id ? (
                  <audio controls autoPlay src={`/api/files/${f.id}`} aria-label={f.name} />
                ) : (
                  <Button
                    size="sm"
                    variant="outline-secondary"
                    aria-label={`Hear ${f.name}`}
                    onClick={() => setHeard(f.id)}
                  >
                    <Play aria-hidden /> hear
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
