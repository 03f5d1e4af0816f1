"use client";
import { Dropdown } from "react-bootstrap";
import { Headphones } from "react-bootstrap-icons";
import type { MonitorSettings } from "../../core/listen/listening";
import { playback, usePlayback } from "../shared/playback";

/** Ways of listening, with their keys; none of them touches the song. */
export const listenWays: readonly {
  readonly setting: keyof MonitorSettings;
  readonly label: string;
  readonly help: string;
  readonly key: string;
}[] = [
  { setting: "mono", label: "Mono", help: "Left and right folded together", key: "N" },
  { setting: "swapped", label: "Sides swapped", help: "Left heard right, right heard left", key: "" },
  {
    setting: "small",
    label: "Small loudspeaker",
    help: "One small speaker: nothing below 250 Hz or above 7 kHz",
    key: "B",
  },
  { setting: "dimmed", label: "20 dB quieter", help: "To talk, or to hear what stands out", key: "Q" },
];

export const toggleWay = (setting: keyof MonitorSettings): void =>
  playback.setMonitor({ [setting]: !usePlayback.getState().monitor[setting] });

/** How the kit is listened to. */
export function ListenMenu({ hasContext }: { hasContext: boolean }) {
  const monitor = usePlayback((s) => s.monitor);
  const active = listenWays.filter((w) => monitor[w.setting]);
  const label = [...active.map((w) => w.label), ...(hasContext && !monitor.context ? ["drums only"] : [])];
  return (
    <Dropdown autoClose="outside" align="end">
      <Dropdown.Toggle
        size="sm"
        variant={label.length > 0 ? "warning" : "outline-secondary"}
        title="Ways of listening"
      >
        <Headphones aria-hidden /> {label.length > 0 ? label.join(", ") : "Listen"}
      </Dropdown.Toggle>
      <Dropdown.Menu className="listen-menu">
        {listenWays.map(({ setting, label: name, help, key }) => (
          <label key={setting} className="dropdown-item" title={help}>
            <input type="checkbox" checked={monitor[setting]} onChange={() => toggleWay(setting)} /> {name}
            {key && <kbd>{key}</kbd>}
          </label>
        ))}
        <label
          className="dropdown-item"
          title={
            hasContext ? "The other music is heard with the drums" : "No other music came in with the drums"
          }
        >
          <input
            type="checkbox"
            checked={monitor.context}
            disabled={!hasContext}
            onChange={() => toggleWay("context")}
          />{" "}
          With the other music
        </label>
      </Dropdown.Menu>
    </Dropdown>
  );
}
