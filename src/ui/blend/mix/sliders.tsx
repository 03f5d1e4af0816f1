import { levelParam } from "../../../core/song/limits";
import { withUnit } from "../../shared/format";
import { TypedField } from "../../shared/ParamField";
import { Slider, type SliderWay } from "../../shared/Slider";
import { useSong } from "../../shared/songStore";
import { panParam } from "../together";

/** A fader: most of its way for the last 30 dB. */
const faderWay: SliderWay = {
  places: 100,
  key: 0.5,
  toPlace: (db) => 100 * Math.pow(Math.max(0, (db + 80) / 92), 2.2),
  fromPlace: (place) => Math.round(10 * (92 * Math.pow(place / 100, 1 / 2.2) - 80)) / 10,
};
/** A pan, a percent a place. */
const panWay: SliderWay = {
  places: panParam.max - panParam.min,
  key: 1,
  fine: 1,
  toPlace: (pan) => pan - panParam.min,
  fromPlace: (place) => Math.round(place) + panParam.min,
};

interface Props {
  readonly value: number;
  readonly label: string;
  readonly set: (value: number, done: boolean) => void;
}

/** A level, dB. */
export function LevelSlider({ value, label, set }: Props) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  return (
    <span className="level">
      <Slider
        way={faderWay}
        value={value}
        rest={0}
        label={label}
        text={withUnit(value, levelParam.unit)}
        set={set}
      />
      <TypedField
        spec={levelParam}
        value={value}
        sampleRate={sampleRate}
        label={`${label}, typed`}
        onChange={set}
      />
    </span>
  );
}

/** A pan, percent. */
export function PanSlider({ value, label, set }: Props) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  return (
    <span className="pan">
      <Slider
        way={panWay}
        value={value}
        rest={0}
        label={label}
        text={withUnit(value, panParam.unit)}
        set={set}
      />
      <TypedField
        spec={panParam}
        value={value}
        sampleRate={sampleRate}
        label={`${label}, typed`}
        onChange={(v) => set(Math.round(v), true)}
      />
    </span>
  );
}
