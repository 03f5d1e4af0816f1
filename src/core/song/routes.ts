import { newBus } from "./create";
import { isMic, kitOf } from "./graph";
import { applyAll, type Operation } from "./operations";
import { pieceNames } from "./pieceNames";
import { drumPieces, isDrum, isShell, type Bus, type Mic, type Piece, type Song } from "./song";

const groupNames = { toms: "Toms", shells: "Shells", cymbals: "Cymbals", rooms: "Rooms" } as const;
type GroupId = keyof typeof groupNames;
const isTom = (piece: Piece): boolean => isShell(piece) && piece !== "kick" && piece !== "snare";

/** True for a bus that changes nothing. */
const isPlain = (bus: Bus): boolean =>
  bus.chain.length === 0 &&
  bus.level === 0 &&
  bus.pan === 0 &&
  bus.width === 100 &&
  !bus.muted &&
  !bus.soloed &&
  bus.sends.length === 0 &&
  Object.keys(bus.levelBySection ?? {}).length === 0 &&
  (bus.levelMoves ?? []).length === 0;

/** What of a mic tells where it goes. */
type Routed = Pick<Mic, "id" | "piece" | "reference" | "layer">;

/** The drum a mic belongs to; for a layer the one it doubles, once an analysis has found it. */
const doubled = ({ piece, reference, layer }: Routed, mics: readonly Routed[]): Piece =>
  layer ? layer.drum : piece === "sample" ? (mics.find((m) => m.id === reference)?.piece ?? piece) : piece;

/** Where mics usually go: their drum, if it has several, then shells, cymbals or rooms. */
interface Usual {
  /** Whole kit of usual buses for these mics, in the order of the song. */
  readonly buses: readonly Bus[];
  outputOf(mic: Routed): string;
}

/** Loops, other music and layers of no drum go straight to the kit. */
function groupOf(piece: Piece): GroupId | null {
  if (isShell(piece)) return "shells";
  if (isDrum(piece) || piece === "overhead") return "cymbals";
  return piece === "room" ? "rooms" : null;
}

/**
 * The usual buses for a set of mics. A bus that is there already keeps its id, whatever it is called by now.
 * Shape  `now`: buses of the song.
 */
function usualFor(mics: readonly Routed[], now: readonly Bus[], kit: string): Usual {
  const belongs = mics.map((m) => doubled(m, mics));
  const count = (piece: Piece) => belongs.filter((p) => p === piece).length;
  // A drum whose bus somebody has worked on keeps it also with one mic.
  const kept = (p: Piece) => now.some((b) => b.kind === "drum" && b.piece === p && !isPlain(b));
  const drums = [...drumPieces, "overhead" as const].filter(
    (p) => count(p) > 1 || (count(p) === 1 && kept(p)),
  );
  const toms = drumPieces.filter((p) => isTom(p) && count(p) > 0).length > 1;
  const groups = new Set(belongs.flatMap((piece) => groupOf(piece) ?? []));
  const drumId = (piece: Piece): string =>
    now.find((b) => b.kind === "drum" && b.piece === piece)?.id ?? `drum-${piece}`;
  const above = (piece: Piece): string => (toms && isTom(piece) ? "toms" : (groupOf(piece) ?? kit));
  const group = (id: GroupId, output: string) => newBus(id, groupNames[id], "group", { output });
  return {
    buses: [
      ...drums.map((piece) =>
        newBus(drumId(piece), pieceNames[piece], "drum", { piece, output: above(piece) }),
      ),
      ...(toms ? [group("toms", "shells")] : []),
      ...(["shells", "cymbals", "rooms"] as const).filter((id) => groups.has(id)).map((id) => group(id, kit)),
    ],
    outputOf(mic) {
      const piece = doubled(mic, mics);
      return drums.some((d) => d === piece) ? drumId(piece) : above(piece);
    },
  };
}

/**
 * Operations that bring mics to where their labels send them: what stood where the labels before sent it goes along, what
 * was sent elsewhere by hand stays. Buses that are missing come in, those that nothing goes to any more and that nobody has
 * touched go.
 * Shape  `before`: the song with the labels that held until now; `now`: with the new ones. A song in which no mic goes the
 *        usual way, as songs from before there were drums, is left as it is.
 */
export function routeByLabel(before: Pick<Song, "mics" | "buses">, now: Song): Operation[] {
  const kit = kitOf(now).id;
  const was = usualFor(before.mics, before.buses, kit);
  const usual = usualFor(now.mics, now.buses, kit);
  const old = new Map(before.mics.map((m) => [m.id, m]));
  const stood = (m: Mic): boolean => m.output === was.outputOf(m);
  const grouped = before.mics.some((m) => m.output !== kit && stood(m));
  if (before.mics.length > 0 && !grouped && before.mics.some((m) => was.outputOf(m) !== kit)) return [];
  const moved = now.mics.filter((m) => {
    const then = old.get(m.id);
    return m.output !== usual.outputOf(m) && (then ? stood(then) : m.output === kit);
  });
  const there = new Map(now.buses.map((b) => [b.id, b]));
  const wanted = new Set(moved.map((m) => usual.outputOf(m)));
  const needed = (id: string): boolean =>
    wanted.has(id) || usual.buses.some((b) => b.output === id && needed(b.id));
  const added = usual.buses.filter((b) => !there.has(b.id) && needed(b.id));
  // A drum that stood in its group goes through the toms' bus as soon as there is one, and back.
  const rehung = usual.buses.flatMap((b): Operation[] => {
    const has = there.get(b.id);
    const then = was.buses.find((x) => x.id === b.id);
    return has && then && has.output === then.output && has.output !== b.output
      ? [{ op: "setBus", bus: b.id, values: { output: b.output } }]
      : [];
  });
  const operations: Operation[] = [
    ...(added.length > 0
      ? [{ op: "addBuses", buses: added, order: inUsualOrder(now.buses, usual.buses, added) } as const]
      : []),
    ...rehung,
    ...moved.map((m): Operation => ({ op: "setMic", mic: m.id, values: { output: usual.outputOf(m) } })),
  ];
  const left = emptied(now, was, usual, operations);
  return left.length > 0 ? [...operations, { op: "removeBuses", buses: left }] : operations;
}

/** A song whose mics go the usual way, as those of a new song do. */
export const routed = (song: Song): Song =>
  applyAll(song, routeByLabel({ mics: [], buses: song.buses }, song));

/** The usual buses in their own order, before those that one has added. */
function inUsualOrder(now: readonly Bus[], usual: readonly Bus[], added: readonly Bus[]): string[] {
  const there = new Set([...now, ...added].map((b) => b.id));
  const first = usual.map((b) => b.id).filter((id) => there.has(id));
  return [...first, ...now.map((b) => b.id).filter((id) => !first.includes(id))];
}

/** Usual buses of before to which nothing goes any more after `operations`. */
function emptied(song: Song, was: Usual, usual: Usual, operations: readonly Operation[]): string[] {
  const outputs = new Map([...song.mics, ...song.buses].map((o) => [o.id, o.output]));
  for (const o of operations)
    if (o.op === "setMic") outputs.set(o.mic, o.values.output ?? null);
    else if (o.op === "setBus") outputs.set(o.bus, o.values.output ?? null);
    else if (o.op === "addBuses") for (const b of o.buses) outputs.set(b.id, b.output);
  const asked = new Set([
    ...[...song.mics, ...song.buses].flatMap((o) => o.sends.map((s) => s.bus)),
    ...[...song.mics, ...song.buses].flatMap((o) => o.chain.flatMap((p) => p.key ?? [])),
  ]);
  const gone: string[] = [];
  for (const fresh of was.buses) {
    const bus = song.buses.find((b) => b.id === fresh.id);
    const stays = usual.buses.some((b) => b.id === fresh.id) || asked.has(fresh.id);
    if (!bus || stays || !isPlain(bus) || bus.output !== fresh.output) continue;
    const feeds = [...outputs].some(([id, output]) => output === bus.id && !gone.includes(id));
    if (!feeds) gone.push(bus.id);
  }
  return gone;
}

/**
 * Operations that take a bus out: what went there goes on to where it went, sends to it and keys from it end.
 * Errors  RangeError for the kit.
 */
export function withoutBus(song: Song, id: string): Operation[] {
  const bus = song.buses.find((b) => b.id === id);
  if (!bus || bus.output === null) throw new RangeError("the kit is the end of everything and stays");
  const operations: Operation[] = [];
  for (const owner of [...song.mics, ...song.buses]) {
    if (owner.id === id) continue;
    const output = bus.output;
    if (owner.output === id)
      operations.push(
        isMic(owner)
          ? { op: "setMic", mic: owner.id, values: { output } }
          : { op: "setBus", bus: owner.id, values: { output } },
      );
    if (owner.sends.some((s) => s.bus === id))
      operations.push({ op: "setSends", owner: owner.id, sends: owner.sends.filter((s) => s.bus !== id) });
    operations.push(...withoutKey(owner, [id]));
  }
  return [...operations, { op: "removeBuses", buses: [id] }];
}

const withoutKey = (owner: Mic | Bus, gone: readonly string[]): Operation[] =>
  owner.chain
    .filter((p) => p.key && gone.includes(p.key))
    .map((p): Operation => ({ op: "setProcessor", owner: owner.id, processor: p.id, key: null }));

/** Operations that take mics out: keys from them end, and buses that only they went to go, as long as nobody touched them. */
export function withoutMics(song: Song, ids: readonly string[]): Operation[] {
  const mics = song.mics.filter((m) => !ids.includes(m.id));
  const free = [...mics, ...song.buses].flatMap((o) => withoutKey(o, ids));
  return [...free, { op: "removeMics", mics: [...ids] }, ...routeByLabel(song, { ...song, mics })];
}
