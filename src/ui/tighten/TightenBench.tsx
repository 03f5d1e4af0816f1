"use client";
import { Nav } from "react-bootstrap";
import { create } from "zustand";
import { BeatBench } from "./beats/BeatBench";
import { MovesBench } from "./moves/MovesBench";
import { ReviewBench } from "./moves/ReviewBench";
import { StrokesBench } from "./StrokesBench";

const views = {
  moves: ["Early and late", MovesBench],
  review: ["Review", ReviewBench],
  strokes: ["Strokes", StrokesBench],
  beat: ["Beat", BeatBench],
} as const;
type View = keyof typeof views;
/** The view stays when another step or drum is looked at meanwhile. */
const useView = create<{ view: View }>()(() => ({ view: "moves" }));

/** Tighten: the strokes, the beats, and the playing against them. */
export function TightenBench() {
  const view = useView((s) => s.view);
  const Shown = views[view][1];
  return (
    <>
      <Nav
        className="bench-views"
        variant="underline"
        activeKey={view}
        onSelect={(key) => useView.setState({ view: key as View })}
        aria-label="Views of Tighten"
      >
        {Object.entries(views).map(([key, [name]]) => (
          <Nav.Item key={key}>
            <Nav.Link as="button" eventKey={key}>
              {name}
            </Nav.Link>
          </Nav.Item>
        ))}
      </Nav>
      <Shown />
    </>
  );
}
