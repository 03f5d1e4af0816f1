import type { Piece, Place } from "../song/song";

export interface Label {
  piece: Piece;
  place: Place;
  /** 0..1. */
  sure: number;
}

/** Lower case, accents off, words split at case changes, digits and anything that is no letter; joined by spaces. */
export function wordsOf(fileName: string): string {
  const stem = fileName.replace(/^.*[\\/]/, "").replace(/\.[a-z0-9]{2,4}$/i, "");
  const spaced = stem
    .normalize("NFD")
    .replace(/\p{Diacritic}/gu, "")
    .replace(/([a-z])([A-Z])/g, "$1 $2")
    .replace(/([A-Z]{2,})([A-Z][a-z]{2,})/g, "$1 $2")
    .replace(/([A-Za-z])(\d)/g, "$1 $2")
    .replace(/(\d)([A-Za-z])/g, "$1 $2");
  return ` ${spaced
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, " ")
    .trim()} `;
}

type Rule = readonly [RegExp, Piece];

/**
 * Drum words as people write them (common practice, from memory), in the order in which they are tried: "bass drum"
 * before the bass, "room" before "kick" in "kick room". English, German, French, Spanish, Italian, Portuguese, Dutch.
 */
const pieceRules: readonly Rule[] = [
  [/ (ir|irs|impulse|impulses|impulse ?response) /, "response"],
  [/ (click|metronome|cue|talk ?back|tb|ref|reference|mix|master|guide|video) /, "context"],
  [/ (loop|loops|brk|breakbeat) /, "loop"],
  [/ (smp|sample|samples|sampled|one ?shots?|layer) /, "sample"],
  [
    / (oh|ohs|ovh|ovhd|ovhds|ovrhd|ovr|overhd|ohead|oheads|overhead|overheads|over ?head|over ?heads|galgen|aerien|aereo|aereos|panoramici) (?:.* )?/,
    "overhead",
  ],
  [/ (ohl|ohr|oh ?l|oh ?r|ovl|ovr|ohead|ohst|ohm|ohlr) /, "overhead"],
  [
    / (room|rooms|rm|rms|amb|ambs|ambi|ambient|ambience|raum|hall|far|sala|salle|ambiente|ambiance|crush|trash|mono ?room|wurst|chamber) /,
    "room",
  ],
  [/ (rooml|roomr|rml|rmr|ambl|ambr) /, "room"],
  [
    / (bass ?drum|base ?drum|bassdrum|gran ?cassa|grosse ?caisse|bombo|bumbo|gr ?trommel|grosse ?trommel|bass ?trommel) /,
    "kick",
  ],
  [
    / (kick|kic|kik|kck|kk|kd|bd|bdr|kicks|gc|cassa|fusstrommel|sub ?kick|subkick|kickin|kickout|kin|kout|basedrum|kickdrum|grancassa|grossecaisse) /,
    "kick",
  ],
  [/ (k|b) (in|out|sub|inside|outside|i|o|front|back|beater) /, "kick"],
  [
    / (hi ?hat|h h|hi ?hats|hh|hat|hats|hihat|hihats|high ?hat|charley|charleston|charles|hi ?h|hht|contratempo|chimbal) /,
    "hat",
  ],
  [
    / (floor|flr|ft|flt|flour|stand ?tom|standtom|timbal ?base|timbal ?de ?piso|floortom|floor ?tom|tom ?basse|tom ?bas|tombasse|tom ?fl|fl|surdo|timpano) /,
    "floor",
  ],
  [
    / (snare|snr|snar|sn|sd|snares|snaredn|snareup|sndn|snup|sntp|snbt|snbot|snaretop|snarebottom|caisse ?claire|cc|caja|caixa|rullante|kleine ?trommel|snt|snb|sntop|snbtm|sdt|sdb|side ?drum) /,
    "snare",
  ],
  [/ (ride|rd|rid|rd ?cym|ryd) /, "ride"],
  [
    / (crash|crsh|cr|china|splash|cym|cymb|cymbal|cymbals|becken|piatti|piatto|platillo|platillos|pratos|cymbale|cymbales|stack) /,
    "crash",
  ],
  [
    / (bass|gtr|guitar|guit|git|gitarre|key|keys|keyboard|piano|organ|synth|vox|voc|vocal|vocals|voice|lead|bv|bvs|choir|trumpet|trp|trombone|sax|horn|horns|brass|strings|violin|pad|di|flute|playback|music) /,
    "context",
  ],
];

const tomWord =
  / (tom|toms|rack|racks|rck|rt|tt|timbal|tomtom|haengetom|hangetom|tom ?tom|hitom|lowtom|midtom|racktom|ht|mt|lt|rk) /;
const shortTom = / t (\d) /;

/** What a name says of which tom it is; null where it says nothing. */
interface TomWords {
  /** From high to low: 1 high, 2 middle, 3 low. */
  readonly height: number | null;
  readonly inches: number | null;
  readonly number: number | null;
  readonly floor: boolean;
}
/** Diameters of toms, inches. */
const sizes = [6, 20] as const;

function tomWords(words: string, floor: boolean): TomWords {
  const numbers = [...words.matchAll(/ (\d+)(?= )/g)].map((m) => Number(m[1]));
  const letter = / tom [a-z]? ?(\d) /.exec(words);
  const inches = numbers.find((n) => n >= sizes[0] && n <= sizes[1]) ?? null;
  const number = letter ? Number(letter[1]) : (numbers.find((n) => n >= 1 && n < sizes[0]) ?? null);
  const height = / (hi|high|small|ht|hoch|aigu|alto|hitom|upper|top) /.test(words)
    ? 1
    : / (mid|middle|mt|med|medium|mittel|medio|midtom) /.test(words)
      ? 2
      : / (low|lo|lt|tief|grave|large|big|bajo|lowtom|lower) /.test(words)
        ? 3
        : null;
  return { height, inches, number, floor };
}

/** The tom that a name alone speaks of; others of the delivery may move it (`orderToms`). */
function tomOf({ height, inches, number }: TomWords): Piece {
  if (inches !== null) return inches >= 14 ? "floor" : inches >= 12 ? "tom2" : "tom1";
  if (number !== null) return number >= 4 ? "floor" : (`tom${number}` as Piece);
  return height === 3 ? "floor" : height === 2 ? "tom2" : "tom1";
}

const placeRules: readonly (readonly [RegExp, Place])[] = [
  [/ (trig|trigger|trg|triggers) /, "trigger"],
  [/ (sub|subkick|sub ?kick|ns|speaker) /, "sub"],
  [
    / (bottom|btm|bot|bttm|botm|under|underneath|unten|dessous|sotto|abajo|below|low ?side|dn|down|snb|sdb|snarebottom|snbtm|snbt|snbot|snaredn|sndn|b|resp|bas|res|reso|baixo) /,
    "bottom",
  ],
  [
    / (out|outside|outer|o|front|fr|hole|port|aussen|dehors|fuera|fuori|external|kout|kickout|ext|esterno|fora|resonant) /,
    "out",
  ],
  [/ (in|inside|inner|i|innen|dedans|dentro|internal|kin|kickin|int|beater|interno) /, "in"],
  [/ (side|shell|seite|cote|lado) /, "side"],
  [
    / (top|tp|up|upper|over|oben|dessus|sopra|arriba|above|snt|sdt|snaretop|snareup|snup|sntop|sntp|t|haut|cima|batter) /,
    "top",
  ],
  [/ (st|stereo|pair|xy|ms|ab|ortf|lr|l r) /, "pair"],
  [
    / (left|l|lft|li|links|gauche|izq|izquierda|sx|sinistra|ohl|rooml|rml|ambl|ovl|hat ?side|esq|esquerda|lt) /,
    "left",
  ],
  [
    / (right|r|rgt|re|rechts|droite|der|derecha|dx|destra|ohr|roomr|rmr|ambr|ovr|ride ?side|dir|direita|rt) /,
    "right",
  ],
];

const allowed: Partial<Record<Piece, readonly Place[]>> = {
  kick: ["in", "out", "sub", "trigger", "side"],
  snare: ["top", "bottom", "side", "trigger"],
  overhead: ["left", "right", "pair"],
  room: ["left", "right", "pair"],
};
const restPlaces: readonly Place[] = ["top", "bottom", "trigger", "left", "right", "pair"];

function placeOf(words: string, piece: Piece, channels: number): Place | null {
  if (channels === 2) return "pair";
  const fits = allowed[piece] ?? restPlaces;
  for (const [pattern, place] of placeRules) if (fits.includes(place) && pattern.test(words)) return place;
  return null;
}

/** Guesses piece and place from a file's name alone; `sure` is low when no word was known. */
export const guessLabel = (fileName: string, channels: number): Label => labelOf(wordsOf(fileName), channels);

function labelOf(words: string, channels: number): Label {
  let piece: Piece | null = null;
  const isTom = tomWord.test(words) || shortTom.test(words);
  for (const [pattern, found] of pieceRules) {
    if (!pattern.test(words)) continue;
    // "Floor Tom" is the floor; "Tom L" no overhead; "tom bass" no bass guitar.
    if (isTom && (found === "context" || found === "room")) continue;
    piece = found;
    break;
  }
  // "Over L" is an overhead, "Snare over" the upper snare.
  if (piece === null && / (over|overs) /.test(words)) piece = "overhead";
  // A sub mic alone is the kick's; "sub" beside another drum is not.
  if (piece === null && !isTom && / sub /.test(words)) return { piece: "kick", place: "sub", sure: 0.9 };
  if (isTom && (piece === null || piece === "crash")) piece = tomOf(tomWords(words, false));
  if (piece === null) return { piece: "context", place: channels === 2 ? "pair" : "close", sure: 0.1 };
  // In "T1" the letter stands for the tom and not for its top.
  let place = placeOf(isTom ? words.replace(shortTom, " $1 ") : words, piece, channels);
  // "Snare Trig" is a trigger of the snare, not a sample.
  if (/ (trig|trigger|trg) /.test(words) && channels === 1) place = "trigger";
  return { piece, place: place ?? "close", sure: place ? 0.97 : 0.9 };
}

/**
 * Words of a delivery without what all files share ("Take3_", "_T4") and without numbers that only count the files ("07 Kick").
 */
function deliveryWords(files: readonly string[]): string[] {
  let tokens = files.map((f) => wordsOf(f).trim().split(" "));
  if (files.length < 4) return tokens.map((t) => ` ${t.join(" ")} `);
  // A take mark is one word: "T4" and not the fourth tom, when most files carry it.
  const mark = (f: string) => /[ _-](t|tk|take)[ _-]?(\d+)(?=\.[^.]*$|$)/i.exec(f)?.[0].toLowerCase();
  const marks = files.map(mark);
  const common = marks.find(
    (m) => m !== undefined && marks.filter((x) => x === m).length > 0.6 * files.length,
  );
  if (common) {
    const length = wordsOf(common).trim().split(" ").length;
    tokens = tokens.map((t, i) => (marks[i] === common ? t.slice(0, -length) : t));
  }
  const shared = (word: string) => tokens.filter((t) => t.includes(word)).length > 0.8 * files.length;
  tokens = tokens.map((t) => t.filter((w, n) => t.length === 1 || t.indexOf(w) !== n || !shared(w)));
  for (const end of [0, -1]) {
    const numbers = tokens.map((t) => (t.length > 1 && /^\d+$/.test(t.at(end)!) ? t.at(end)! : null));
    const given = numbers.filter((n) => n !== null);
    if (given.length > 0.75 * files.length && new Set(given).size === given.length)
      tokens = tokens.map((t, i) => (numbers[i] === null ? t : end === 0 ? t.slice(1) : t.slice(0, -1)));
  }
  return tokens.map((t) => ` ${t.join(" ")} `);
}

/**
 * Labels of a whole delivery: what one name leaves open, the others settle. A plain "Kick" beside a "Kick out" is the
 * inner one, a plain "Snare" beside a bottom mic the top one; a plain second overhead completes the pair; toms are put in
 * order from high to low by their heights, sizes and numbers.
 */
export function guessLabels(files: readonly { file: string; channels: number }[]): Label[] {
  const words = deliveryWords(files.map((f) => f.file));
  const labels = files.map((f, i) => labelOf(words[i]!, f.channels));
  const has = (piece: Piece, place: Place) => labels.some((l) => l.piece === piece && l.place === place);
  for (const label of labels) {
    if (label.place !== "close") continue;
    if (label.piece === "kick" && (has("kick", "out") || has("kick", "sub")) && !has("kick", "in"))
      label.place = "in";
    else if (label.piece === "kick" && has("kick", "in") && !has("kick", "out")) label.place = "out";
    else if (label.piece === "snare" && has("snare", "bottom") && !has("snare", "top")) label.place = "top";
    else if (label.piece === "snare" && has("snare", "top") && !has("snare", "bottom"))
      label.place = "bottom";
    else if (label.piece === "kick" && !has("kick", "in")) label.place = "in";
    else if (label.piece === "snare" && !has("snare", "top")) label.place = "top";
  }
  completePairs(words, labels);
  orderToms(words, labels);
  return labels;
}

/** "OH 1" and "OH 2", or "OH A" and "OH B", are left and right. */
function completePairs(words: readonly string[], labels: Label[]): void {
  for (const piece of ["overhead", "room"] as const) {
    const open = labels.flatMap((l, i) => (l.piece === piece && l.place === "close" ? [i] : []));
    if (
      open.length !== 2 ||
      labels.some((l) => l.piece === piece && (l.place === "left" || l.place === "right"))
    )
      continue;
    const ends = open.map((i) => / (1|2|a|b) $/.exec(words[i]!)?.[1]);
    if (ends[0] === ends[1] || ends.includes(undefined)) continue;
    const first = ends[0]! < ends[1]! ? 0 : 1;
    labels[open[first]!]!.place = "left";
    labels[open[1 - first]!]!.place = "right";
  }
}

const isTomPiece = (piece: Piece): boolean => /^tom|^floor$/.test(piece);

/**
 * Toms of a delivery from high to low: by height words, sizes or numbers, whatever all of them have. Files of one tom (top
 * and bottom) stay together. A low or large one is the floor tom when no other is called so.
 */
function orderToms(words: readonly string[], labels: Label[]): void {
  const toms = labels.flatMap((l, i) =>
    isTomPiece(l.piece) && l.sure >= 0.5
      ? [
          {
            i,
            ...tomWords(
              words[i]!,
              l.piece === "floor" &&
                / (floor|flr|ft|flt|fl|standtom|basse|surdo|piso|floortom) |tom ?bas/.test(words[i]!),
            ),
          },
        ]
      : [],
  );
  if (toms.length === 0) return;
  const all = (key: "height" | "inches" | "number") => toms.every((t) => t.floor || t[key] !== null);
  const key = all("height") ? "height" : all("inches") ? "inches" : all("number") ? "number" : null;
  const rank = (t: (typeof toms)[number]): number =>
    t.floor
      ? 100 + (t.number ?? 0)
      : key
        ? t[key]!
        : (t.height ?? t.number ?? (t.inches === null ? 1 : (t.inches - 8) / 2));
  const groups: (typeof toms)[] = [];
  for (const t of [...toms].sort((a, b) => rank(a) - rank(b))) {
    const last = groups[groups.length - 1];
    const same =
      last && rank(last[0]!) === rank(t) && last.every((o) => labels[o.i]!.place !== labels[t.i]!.place);
    if (same) last.push(t);
    else groups.push([t]);
  }
  const hasFloor = toms.some((t) => t.floor);
  groups.forEach((group, n) => {
    const { floor, height, inches, number } = group[0]!;
    const lowest = n === groups.length - 1 && (groups.length > 1 || height === 3);
    const isFloor =
      floor ||
      (!hasFloor &&
        lowest &&
        (height === 3 ||
          (inches !== null && inches >= 13) ||
          (number !== null && number >= 3 && key !== "number")));
    const piece = isFloor ? "floor" : (`tom${Math.min(3, n + 1)}` as Piece);
    // "Tom 2" keeps its number when the numbers are all that is known.
    const named =
      key === "number" && number !== null && number <= 3 && !floor ? (`tom${number}` as Piece) : piece;
    for (const t of group) labels[t.i]!.piece = named;
  });
}
