"use client";
import { Button } from "react-bootstrap";
import { endBlind, hearBlind, preferBlind, revealBlind, useCompare } from "./compareStore";

/** Two unnamed sides, shuffled after every choice; says in the end how often the choice was the same. */
export function BlindPanel({ names }: { names: readonly [string, string] }) {
  const blind = useCompare((s) => s.blind)!;
  const side = useCompare((s) => s.side);
  const count = blind.choices.length;
  const withCount = blind.choices.filter((c) => c === "with").length;
  const hearsOne = (side === "with") === blind.oneIsWith;
  if (blind.revealed) {
    const most = Math.max(withCount, count - withCount);
    return (
      <div className="blind" role="group" aria-label="Blind comparison">
        <span data-testid="blind-result">
          {count === 0
            ? "Nothing was chosen."
            : `${names[withCount * 2 >= count ? 0 : 1]}: ${most} of ${count} times`}
        </span>
        <Button size="sm" variant="outline-secondary" onClick={endBlind}>
          Done
        </Button>
      </div>
    );
  }
  return (
    <div className="blind" role="group" aria-label="Blind comparison">
      {(["one", "two"] as const).map((which) => (
        <Button
          key={which}
          size="sm"
          variant={hearsOne === (which === "one") ? "primary" : "outline-primary"}
          aria-pressed={hearsOne === (which === "one")}
          onClick={() => hearBlind(which)}
        >
          {which}
        </Button>
      ))}
      <Button size="sm" variant="outline-secondary" onClick={preferBlind} title="I prefer what I hear now">
        Better ({count})
      </Button>
      <Button size="sm" variant="outline-secondary" onClick={revealBlind}>
        Reveal
      </Button>
    </div>
  );
}
