"use client";
import { useMemo } from "react";
import { Table } from "react-bootstrap";
import { allTargets, ownersOf, type Owner } from "../../../core/song/graph";
import { SectionPicker } from "../../shared/SectionPicker";
import { useSong } from "../../shared/songStore";
import { useFolded } from "../folded";
import { mixRows, unfolded } from "../mixOrder";
import { useTogether } from "../useTogether";
import { MixRow } from "./MixRow";
import { useMeters } from "./useMeters";
import { useMixChanges } from "./useMixChanges";

interface Props {
  /** Mic or bus on the bench, by id. */
  readonly chosen: string;
  readonly choose: (owner: Owner) => void;
}

/** All mics and buses, what goes to a bus under it; worked by keyboard or mouse. */
export function MixTable({ chosen, choose }: Props) {
  const song = useSong((s) => s.song!);
  const meter = useMeters(song);
  const differs = ownersOf(song).flatMap((o) => Object.keys(o.levelBySection ?? {}));
  const rows = useMemo(() => mixRows(song), [song]);
  const { together, choosing, isWith } = useTogether(chosen);
  const changes = useMixChanges(together);
  const { folded, fold } = useFolded();
  const { shown, hides } = useMemo(() => unfolded(rows, folded), [rows, folded]);
  const targetsOf = useMemo(() => allTargets(song), [song]);
  return (
    <Table size="sm" className="mix-table" aria-label="Mix">
      <thead>
        <tr>
          <th>
            Mic or bus <SectionPicker differs={differs} />
          </th>
          <th aria-label="Peak" />
          <th>Level</th>
          <th>Pan</th>
          <th>Goes to</th>
          <th title="Processors that are on">On</th>
          <th title="Sends">Sends</th>
          <th aria-label="Mute and solo" />
        </tr>
      </thead>
      <tbody>
        {shown.map(({ owner, depth }) => (
          <MixRow
            key={owner.id}
            owner={owner}
            depth={depth}
            chosen={owner.id === chosen || isWith(owner.id)}
            folding={
              hides.has(owner.id) ? { folded: folded.has(owner.id), fold: () => fold(owner.id) } : null
            }
            targets={targetsOf(owner.id)}
            changes={changes}
            meter={meter(owner.id)}
            press={(event) => choosing(event, owner.id, shown) || choose(owner)}
          />
        ))}
      </tbody>
    </Table>
  );
}
