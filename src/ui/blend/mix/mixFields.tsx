import { Button, Form } from "react-bootstrap";
import type { Owner } from "../../../core/song/graph";
import type { Bus } from "../../../core/song/song";
import { ownerName } from "../../shared/ProcessorPanel";
import { routeTo } from "../routing";

/** Where a mic or bus goes: a list that offers no loop. */
export function OutputField({ owner, targets }: { owner: Owner; targets: readonly Bus[] }) {
  return (
    <Form.Select
      size="sm"
      className="output"
      aria-label={`${ownerName(owner)} goes to`}
      value={owner.output!}
      onClick={(e) => e.stopPropagation()}
      onChange={(e) => routeTo(owner, e.target.value, e.target.selectedOptions[0]!.text)}
    >
      {targets.map((b) => (
        <option key={b.id} value={b.id}>
          {b.name}
        </option>
      ))}
    </Form.Select>
  );
}

/** Whether something is heard. */
export interface Heard {
  readonly muted?: boolean;
  readonly soloed?: boolean;
}
interface SwitchesProps extends Required<Heard> {
  readonly name: string;
  readonly set: (values: Heard) => void;
}

export function Switches({ name, muted, soloed, set }: SwitchesProps) {
  return (
    <span className="switches">
      <Button
        size="sm"
        variant={muted ? "dark" : "outline-secondary"}
        aria-pressed={muted}
        aria-label={`Mute ${name}`}
        onClick={() => set({ muted: !muted })}
      >
        mute
      </Button>
      <Button
        size="sm"
        variant={soloed ? "primary" : "outline-secondary"}
        aria-pressed={soloed}
        aria-label={`Solo ${name}`}
        onClick={() => set({ soloed: !soloed })}
      >
        solo
      </Button>
    </span>
  );
}

/** The picture of a bus in a few letters; it is set beside the table. */
export const BalanceText = ({ bus }: { bus: Bus }) => (
  <span className="chain-text">
    {bus.width !== 100 && `width ${bus.width} %`}
    {bus.width !== 100 && bus.pan !== 0 && ", "}
    {bus.pan !== 0 && `balance ${bus.pan} %`}
  </span>
);
