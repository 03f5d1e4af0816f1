import { signed } from "../../shared/format";
import { ownerName } from "../../shared/ProcessorPanel";
import { colourOf } from "../mixOrder";
import { curve, row, type Box } from "./layOut";

interface LineProps {
  readonly from: Box;
  readonly to: Box | undefined;
  readonly columnWidth: number;
  readonly chosen: string;
  readonly send: boolean;
  readonly title: string;
}

function Line({ from, to, columnWidth, chosen, send, title }: LineProps) {
  if (!to) return null;
  const { owner } = from;
  const lit = owner.id === chosen || to.owner.id === chosen;
  return (
    <path
      d={curve(from.x + columnWidth, from.y + row / 2, to.x, to.y + row / 2)}
      className={`way ${send ? "send" : ""} ${lit ? "lit" : ""} ${owner.muted ? "muted" : ""}`}
      style={{ stroke: colourOf(owner) }}
    >
      <title>{title}</title>
    </path>
  );
}

interface Props {
  readonly boxes: ReadonlyMap<string, Box>;
  readonly columnWidth: number;
  readonly chosen: string;
}

/** Where everything goes: outputs as lines, sends dashed; those of the chosen one stand out. */
export function GraphLines({ boxes, columnWidth, chosen }: Props) {
  return [...boxes.values()].map((from) => {
    const { owner } = from;
    const name = ownerName(owner);
    const common = { from, columnWidth, chosen };
    return (
      <g key={owner.id}>
        {owner.output && (
          <Line {...common} to={boxes.get(owner.output)} send={false} title={`${name} goes here`} />
        )}
        {owner.sends.map((s, i) => (
          <Line
            key={`${s.bus} ${i}`}
            {...common}
            to={boxes.get(s.bus)}
            send
            title={`Send of ${name}, ${signed(s.level, 1)} dB`}
          />
        ))}
      </g>
    );
  });
}
