"use client";
import { Button, Form, Offcanvas } from "react-bootstrap";
import { steps, type Step } from "../../core/song/song";
import { stepTitle } from "../compare/Compare";
import { useSong } from "../shared/songStore";
import { beginGuide, toggleHelp, useHelp } from "./helpStore";
import { stepHelp } from "./stepHelp";

/** One step: what it is for, how one works in it, and what its figures mean. */
function StepPart({ step }: { step: Step }) {
  const { purpose, ways, figures } = stepHelp[step];
  return (
    <section aria-labelledby={`help-${step}`}>
      <h3 id={`help-${step}`}>{stepTitle(step)}</h3>
      <p>{purpose}</p>
      <ul>
        {ways.map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
      <dl>
        {figures.map(({ name, means, measured }) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>
              {means} <span className="measured">{measured}</span>
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

/** Help beside the bench: the step one is in first, the others behind it. */
export function HelpPage({ showKeys }: { showKeys: () => void }) {
  const open = useHelp((s) => s.open);
  const purpose = useHelp((s) => s.purpose);
  const current = useSong((s) => s.step);
  const openKeys = () => {
    toggleHelp();
    showKeys();
  };
  const others = steps.filter((s) => s !== current);
  return (
    <Offcanvas show={open} onHide={toggleHelp} placement="end" aria-labelledby="help-title" className="help">
      <Offcanvas.Header closeButton>
        <Offcanvas.Title id="help-title">Help</Offcanvas.Title>
        <Button size="sm" variant="outline-primary" onClick={beginGuide}>
          Guide through this song
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={openKeys}>
          Keys
        </Button>
      </Offcanvas.Header>
      <Offcanvas.Body>
        <StepPart step={current} />
        <Form.Check
          id="help-purpose"
          type="switch"
          label="Say above each step what it is for"
          checked={purpose}
          onChange={(e) => useHelp.setState({ purpose: e.target.checked })}
        />
        <p className="hint">What stands on the page says more of itself where the pointer rests on it.</p>
        {others.map((s) => (
          <StepPart key={s} step={s} />
        ))}
      </Offcanvas.Body>
    </Offcanvas>
  );
}
