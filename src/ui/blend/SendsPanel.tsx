"use client";
import { Button, Form } from "react-bootstrap";
import { isMic, ownersOf, possibleTargets, type Owner } from "../../core/song/graph";
import { levelParam } from "../../core/song/limits";
import type { Operation } from "../../core/song/operations";
import { taps, type Send, type Tap } from "../../core/song/song";
import { TypedField } from "../shared/ParamField";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";

const tapNames: Readonly<Record<Tap, string>> = {
  input: "before the chain",
  chain: "before the fader",
  fader: "after the fader",
};

/** Sends of the chosen mic or bus: how loud, from where, with its pan or without; copied to others. */
export function SendsPanel({ owner }: { owner: Owner }) {
  const song = useSong((s) => s.song!);
  const { change, preview } = useSong.getState();
  const name = ownerName(owner);
  const targets = possibleTargets(song, owner.id).filter((b) => b.output !== null && b.id !== owner.output);
  const store = (sends: readonly Send[], label: string, done = true) => {
    const operation: Operation = { op: "setSends", owner: owner.id, sends };
    if (done) change(label, operation);
    else preview(operation);
  };
  const set = (send: Send, values: Partial<Send>, done = true) =>
    store(
      owner.sends.map((s) => (s === send ? { ...s, ...values } : s)),
      `Send of ${name}`,
      done,
    );
  /** Others that can take the same send: those that it makes no loop with. */
  const copy = (send: Send, others: readonly Owner[], what: string) => {
    const operations = others
      .filter((o) => o.id !== owner.id && possibleTargets(song, o.id).some((b) => b.id === send.bus))
      .map((o): Operation => ({
        op: "setSends",
        owner: o.id,
        sends: [...o.sends.filter((s) => s.bus !== send.bus), send],
      }));
    if (operations.length > 0) change(`Send of ${name} to ${what}`, { op: "several", operations });
  };
  const siblings = ownersOf(song).filter((o) => isMic(o) === isMic(owner) && o.output === owner.output);
  const drums = song.mics.filter((m) => m.piece === owner.piece);
  return (
    <section className="panel" aria-label={`Sends of ${name}`}>
      <header>
        <h3>Sends</h3>
        {targets.length > 0 && (
          <Form.Select
            size="sm"
            aria-label={`Send ${name} to`}
            value=""
            onChange={(e) => {
              const bus = song.buses.find((b) => b.id === e.target.value)!;
              const from = bus.kind === "room" ? "chain" : "fader";
              store(
                [...owner.sends, { bus: bus.id, level: 0, from, followsPan: true }],
                `Send ${name} to ${bus.name}`,
              );
            }}
          >
            <option value="">to …</option>
            {targets
              .filter((b) => !owner.sends.some((s) => s.bus === b.id))
              .map((b) => (
                <option key={b.id} value={b.id}>
                  {b.name}
                </option>
              ))}
          </Form.Select>
        )}
      </header>
      {owner.sends.length === 0 && <p className="hint">None. At 0 dB a send goes as loud as it is taken.</p>}
      {owner.sends.map((send, i) => {
        const bus = song.buses.find((b) => b.id === send.bus)!;
        return (
          <div className="send-row" key={`${send.bus} ${i}`}>
            <b title={bus.name}>{bus.name}</b>
            <TypedField
              spec={levelParam}
              value={send.level}
              sampleRate={song.sampleRate}
              label={`Send of ${name} to ${bus.name}, dB`}
              onChange={(level) => set(send, { level })}
            />
            <Form.Select
              size="sm"
              aria-label={`Send of ${name} to ${bus.name} is taken`}
              value={send.from}
              onChange={(e) => set(send, { from: e.target.value as Tap })}
            >
              {taps.map((t) => (
                <option key={t} value={t}>
                  {tapNames[t]}
                </option>
              ))}
            </Form.Select>
            <Form.Check
              type="checkbox"
              id={`pan-${owner.id}-${send.bus}`}
              label="pan"
              title="Keeps the place between left and right; otherwise it goes in the middle"
              checked={send.followsPan}
              onChange={(e) => set(send, { followsPan: e.target.checked })}
            />
            <span className="send-tools">
              {drums.length > 1 && isMic(owner) && (
                <button type="button" className="more" onClick={() => copy(send, drums, "its drum")}>
                  to the drum
                </button>
              )}
              {siblings.length > 1 && (
                <button
                  type="button"
                  className="more"
                  title="The same send for all that go where this one goes"
                  onClick={() => copy(send, siblings, "all beside it")}
                >
                  to all beside it
                </button>
              )}
              <Button
                size="sm"
                variant="link"
                aria-label={`End the send of ${name} to ${bus.name}`}
                onClick={() =>
                  store(
                    owner.sends.filter((s) => s !== send),
                    `No send of ${name} to ${bus.name}`,
                  )
                }
              >
                end
              </Button>
            </span>
          </div>
        );
      })}
    </section>
  );
}
