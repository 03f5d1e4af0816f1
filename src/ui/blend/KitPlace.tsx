import { Form } from "react-bootstrap";
import { panLawOf, seenFrom, setPanLaw, turnKit, type SeenFrom } from "../../core/blend/kitPlace";
import { panLaws, type PanLaw } from "../../core/signal/pan";
import { useSong } from "../shared/songStore";

/** From which side the whole kit is heard, and the pan law of its mics. */
export function KitPlace() {
  const song = useSong((s) => s.song!);
  const { change } = useSong.getState();
  const law = panLawOf(song);
  return (
    <section className="panel" aria-label="Place of the kit">
      <header>
        <h3>Place of the kit</h3>
      </header>
      <div className="field">
        <label htmlFor="seen-from" title="Turns left and right of the whole kit over">
          Heard from
        </label>
        <Form.Select
          size="sm"
          id="seen-from"
          value={seenFrom(song)}
          onChange={(e) => {
            const side = e.target.value as SeenFrom;
            change(`The kit heard from the ${side}'s side`, turnKit(song, side));
          }}
        >
          <option value="audience">the audience</option>
          <option value="drummer">the drummer</option>
        </Form.Select>
      </div>
      <div className="field">
        <label htmlFor="pan-law" title="Level of one channel in the middle against a side, of every mic">
          Pan law
        </label>
        <Form.Select
          size="sm"
          id="pan-law"
          value={law ?? ""}
          onChange={(e) => {
            const wanted = e.target.value as PanLaw;
            change(
              `Pan law of every mic: ${wanted.replace("-", "−")} in the middle`,
              setPanLaw(song, wanted),
            );
          }}
        >
          {law === null && <option value="">not all the same</option>}
          {panLaws.map((l) => (
            <option key={l} value={l}>
              {l.replace("-", "−")} in the middle
            </option>
          ))}
        </Form.Select>
      </div>
    </section>
  );
}
