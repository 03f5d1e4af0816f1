import type { MouseEvent } from "react";
import { Form } from "react-bootstrap";
import { ChevronDown, ChevronRight } from "react-bootstrap-icons";
import { isFree } from "../../../core/song/chain";
import { isMic, type Owner } from "../../../core/song/graph";
import type { Bus } from "../../../core/song/song";
import { ownerName } from "../../shared/ProcessorPanel";
import { colourOf, isBeside } from "../mixOrder";
import { panIn } from "../together";
import { BalanceText, OutputField, Switches } from "./mixFields";
import { LevelSlider, PanSlider } from "./sliders";
import type { MixChanges } from "./useMixChanges";

interface FoldProps {
  readonly name: string;
  readonly folded: boolean;
  readonly fold: () => void;
}

function FoldButton({ name, folded, fold }: FoldProps) {
  return (
    <button
      type="button"
      className="fold"
      aria-expanded={!folded}
      aria-label={`${folded ? "Show" : "Hide"} what goes to ${name}`}
      onClick={(e) => {
        e.stopPropagation();
        fold();
      }}
    >
      {folded ? <ChevronRight aria-hidden /> : <ChevronDown aria-hidden />}
    </button>
  );
}

/** Where it goes; the record goes nowhere. */
function Goes({ owner, targets }: { owner: Owner; targets: readonly Bus[] }) {
  if (!isBeside(owner)) return owner.output !== null && <OutputField owner={owner} targets={targets} />;
  return (
    <span className="chain-text" title="Heard while one judges; no part of the kit and of no render of it">
      beside the kit
    </span>
  );
}

interface Props {
  readonly owner: Owner;
  /** How many buses it lies under. */
  readonly depth: number;
  readonly chosen: boolean;
  /** Null where nothing goes to it. */
  readonly folding: Omit<FoldProps, "name"> | null;
  readonly targets: readonly Bus[];
  readonly changes: MixChanges;
  readonly meter: (element: HTMLElement | null) => void;
  readonly press: (event: MouseEvent) => void;
}

/** A mic or bus: level, pan, where it goes, mute and solo. */
export function MixRow({ owner: o, depth, chosen, folding, targets, changes, meter, press }: Props) {
  const { section, levelOf, setLevel, setPan, setSwitches } = changes;
  const name = ownerName(o);
  return (
    <tr className={`${isMic(o) ? "" : "bus"} ${chosen ? "chosen" : ""}`} onClick={press}>
      <td className="mix-name" style={{ paddingLeft: `${0.1 + 0.45 * depth}rem` }}>
        {folding ? <FoldButton name={name} {...folding} /> : <span className="fold" aria-hidden />}
        <i aria-hidden style={{ background: colourOf(o) }} />
        <button
          type="button"
          aria-pressed={chosen}
          title={`${name}; Ctrl or Shift and a press choose several, which move together`}
          onClick={(event) => {
            event.stopPropagation();
            press(event);
          }}
        >
          {name}
        </button>
      </td>
      <td className="meter">
        <span>
          <i ref={meter} />
        </span>
      </td>
      <td>
        <LevelSlider
          value={levelOf(o)}
          label={`Level of ${name}`}
          set={(level, done) => setLevel(o, level, done)}
        />
      </td>
      <td>
        {isMic(o) ? (
          <PanSlider
            value={panIn(o, section)}
            label={`Pan of ${name}`}
            set={(position, done) => setPan(o, position, done)}
          />
        ) : (
          <BalanceText bus={o} />
        )}
      </td>
      <td>
        <Goes owner={o} targets={targets} />
      </td>
      <td className="count">{o.chain.filter((p) => isFree(p) && p.on).length || ""}</td>
      <td className="count">{o.sends.length || ""}</td>
      <td>
        {o.output !== null ? (
          <Switches name={name} muted={o.muted} soloed={o.soloed} set={(values) => setSwitches(o, values)} />
        ) : (
          <Form.Text>always on</Form.Text>
        )}
      </td>
    </tr>
  );
}
