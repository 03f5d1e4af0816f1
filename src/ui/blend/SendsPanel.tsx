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

interface RowProps {
  readonly owner: Owner;
  readonly send: Send;
}

/** Puts an owner's sends. */
function store(owner: Owner, sends: readonly Send[], label: string): void {
  useSong.getState().change(label, { op: "setSends", owner: owner.id, sends });
}

/** Others that can take the same send: those that it makes no loop with. */
function copy(owner: Owner, send: Send, others: readonly Owner[], what: string): void {
  const { song, change } = useSong.getState();
  const operations = others
    .filter((o) => o.id !== owner.id && possibleTargets(song!, o.id).some((b) => b.id === send.bus))
    .map((o): Operation => ({
      op: "setSends",
      owner: o.id,
      sends: [...o.sends.filter((s) => s.bus !== send.bus), send],
    }));
  if (operations.length > 0) change(`Send of ${ownerName(owner)} to ${what}`, { op: "several", operations });
}

/** What is done with a send as a whole: given to others, or ended. */
function SendTools({ owner, send }: RowProps) {
  const song = useSong((s) => s.song!);
  const name = ownerName(owner);
  const bus = song.buses.find((b) => b.id === send.bus)!;
  const siblings = ownersOf(song).filter((o) => isMic(o) === isMic(owner) && o.output === owner.output);
  const drums = song.mics.filter((m) => m.piece === owner.piece);
  const end = () =>
    store(
      owner,
      owner.sends.filter((s) => s !== send),
      `No send of ${name} to ${bus.name}`,
    );
  return (
    <span className="send-tools">
      {drums.length > 1 && isMic(owner) && (
        <button type="button" className="more" onClick={() => copy(owner, send, drums, "its drum")}>
          to the drum
        </button>
      )}
      {siblings.length > 1 && (
        <button
          type="button"
          className="more"
          title="The same send for all that go where this one goes"
          onClick={() => copy(owner, send, siblings, "all beside it")}
        >
          to all beside it
        </button>
      )}
      <Button size="sm" variant="link" aria-label={`End the send of ${name} to ${bus.name}`} onClick={end}>
        end
      </Button>
    </span>
  );
}

/** One send: how loud, from where, with its pan or without. */
function SendRow({ owner, send }: RowProps) {
  const song = useSong((s) => s.song!);
  const name = ownerName(owner);
  const bus = song.buses.find((b) => b.id === send.bus)!;
  const set = (values: Partial<Send>) =>
    store(
      owner,
      owner.sends.map((s) => (s === send ? { ...s, ...values } : s)),
      `Send of ${name}`,
    );
  return (
    <div className="send-row">
      <b title={bus.name}>{bus.name}</b>
      <TypedField
        spec={levelParam}
        value={send.level}
        sampleRate={song.sampleRate}
        label={`Send of ${name} to ${bus.name}, dB`}
        onChange={(level) => set({ level })}
      />
      <Form.Select
        size="sm"
        aria-label={`Send of ${name} to ${bus.name} is taken`}
        value={send.from}
        onChange={(e) => set({ from: e.target.value as Tap })}
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
        onChange={(e) => set({ followsPan: e.target.checked })}
      />
      <SendTools owner={owner} send={send} />
    </div>
  );
}

/** A bus to which the owner may send and does not yet. */
function NewSend({ owner }: { owner: Owner }) {
  const song = useSong((s) => s.song!);
  const name = ownerName(owner);
  const targets = possibleTargets(song, owner.id).filter((b) => b.output !== null && b.id !== owner.output);
  if (targets.length === 0) return null;
  const add = (id: string) => {
    const bus = song.buses.find((b) => b.id === id)!;
    const from = bus.kind === "room" ? "chain" : "fader";
    const send: Send = { bus: id, level: 0, from, followsPan: true };
    store(owner, [...owner.sends, send], `Send ${name} to ${bus.name}`);
  };
  return (
    <Form.Select size="sm" aria-label={`Send ${name} to`} value="" onChange={(e) => add(e.target.value)}>
      <option value="">to …</option>
      {targets
        .filter((b) => !owner.sends.some((s) => s.bus === b.id))
        .map((b) => (
          <option key={b.id} value={b.id}>
            {b.name}
          </option>
        ))}
    </Form.Select>
  );
}

/** Sends of the chosen mic or bus; copied to others. */
export function SendsPanel({ owner }: { owner: Owner }) {
  return (
    <section className="panel" aria-label={`Sends of ${ownerName(owner)}`}>
      <header>
        <h3>Sends</h3>
        <NewSend owner={owner} />
      </header>
      {owner.sends.length === 0 && <p className="hint">None. At 0 dB a send goes as loud as it is taken.</p>}
      {owner.sends.map((send, i) => (
        <SendRow key={`${send.bus} ${i}`} owner={owner} send={send} />
      ))}
    </section>
  );
}
