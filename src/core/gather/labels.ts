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
  [/ (click|metronome|cue|talk ?back|tb|ref|reference|mix|master|guide|video) /, "context"],
  [/ (loop|loops|brk|breakbeat) /, "loop"],
  [/ (smp|sample|samples|sampled|one ?shot|layer) /, "sample"],
  [
    / (oh|ohs|ovh|ovhd|ovr|overhead|overheads|over ?head|over ?heads|galgen|aerien|aereo|aereos|panoramici) (?:.* )?/,
    "overhead",
  ],
  [/ (ohl|ohr|oh ?l|oh ?r|ovl|ovr) /, "overhead"],
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
    / (kick|kik|kck|kk|kd|bd|bdr|kicks|gc|cassa|fusstrommel|sub ?kick|subkick|kickin|kickout|kin|kout|basedrum|kickdrum|grancassa|grossecaisse) /,
    "kick",
  ],
  [
    / (hi ?hat|hi ?hats|hh|hat|hats|hihat|hihats|high ?hat|charley|charleston|charles|hi ?h|hht|contratempo|chimbal) /,
    "hat",
  ],
  [
    / (floor|flr|ft|flt|flour|stand ?tom|standtom|goliath|timbal ?base|timbal ?de ?piso|floortom|floor ?tom|tom ?basse|tom ?fl|fl|surdo|timpano) /,
    "floor",
  ],
  [
    / (snare|snr|sn|sd|snares|snaretop|snarebottom|caisse ?claire|cc|caja|caixa|rullante|kleine ?trommel|snt|snb|sntop|snbtm|sdt|sdb|side ?drum) /,
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

const tomWord = / (tom|toms|rack|rck|rt|tt|timbal|tomtom|haengetom|hangetom|tom ?tom|ht|mt|lt|rk) /;
const shortTom = / t (\d) /;

/** Which tom: by the number behind the word, its height or its size in inches. */
function tomOf(words: string): Piece {
  const height = / (hi|high|small|ht|hoch|aigu|alto) /.test(words)
    ? 1
    : / (mid|middle|mt|med|medium|mittel|medio) /.test(words)
      ? 2
      : 0;
  const low = / (low|lo|lt|tief|grave|large|big|bajo) /.test(words);
  const numbers = [...words.matchAll(/ ?(?:tom|toms|rack|rck|rt|tt|t|tomtom|timbal|rk) (\d+) /g)].map((m) =>
    Number(m[1]),
  );
  const n = numbers[0] ?? 0;
  if (n >= 14) return "floor";
  if (n === 13) return "tom2";
  if (n === 12) return "tom2";
  if (n >= 8) return "tom1";
  if (n === 4) return "floor";
  if (n >= 1) return `tom${Math.min(3, n)}` as Piece;
  if (low) return "floor";
  return height === 2 ? "tom2" : "tom1";
}

const placeRules: readonly (readonly [RegExp, Place])[] = [
  [/ (trig|trigger|trg|triggers) /, "trigger"],
  [/ (sub|subkick|sub ?kick|ns|speaker) /, "sub"],
  [
    / (bottom|btm|bot|bttm|botm|under|underneath|unten|dessous|sotto|abajo|below|low ?side|dn|down|snb|sdb|snarebottom|snbtm|b|resp|bas|res|reso|baixo) /,
    "bottom",
  ],
  [
    / (out|outside|outer|o|aussen|dehors|fuera|fuori|external|front|kout|kickout|ext|esterno|fora|resonant) /,
    "out",
  ],
  [/ (in|inside|inner|i|innen|dedans|dentro|internal|kin|kickin|int|beater|interno) /, "in"],
  [/ (side|shell|seite|cote|lado) /, "side"],
  [
    / (top|tp|up|upper|over|oben|dessus|sopra|arriba|above|snt|sdt|snaretop|sntop|t|haut|cima|batter) /,
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
export function guessLabel(fileName: string, channels: number): Label {
  const words = wordsOf(fileName);
  let piece: Piece | null = null;
  const isTom = tomWord.test(words) || shortTom.test(words);
  for (const [pattern, found] of pieceRules) {
    if (!pattern.test(words)) continue;
    // "Floor Tom" is the floor; "Tom L" no overhead; "tom bass" no bass guitar.
    if (isTom && (found === "context" || found === "room")) continue;
    piece = found;
    break;
  }
  if (isTom && (piece === null || piece === "crash")) piece = tomOf(words);
  if (piece === null) return { piece: "context", place: channels === 2 ? "pair" : "close", sure: 0.1 };
  // In "T1" the letter stands for the tom and not for its top.
  let place = placeOf(isTom ? words.replace(shortTom, " $1 ") : words, piece, channels);
  // "Snare Trig" is a trigger of the snare, not a sample.
  if (/ (trig|trigger|trg) /.test(words) && channels === 1) place = "trigger";
  return { piece, place: place ?? "close", sure: place ? 0.97 : 0.9 };
}

/**
 * Labels of a whole delivery: what one name leaves open, the others settle. A plain "Kick" beside a "Kick out" is the
 * inner one, a plain "Snare" beside a bottom mic the top one; a plain second overhead completes the pair.
 */
export function guessLabels(files: readonly { file: string; channels: number }[]): Label[] {
  const labels = files.map((f) => guessLabel(f.file, f.channels));
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
  completePairs(files, labels);
  completeToms(labels);
  return labels;
}

/** "OH 1" and "OH 2" are left and right. */
function completePairs(files: readonly { file: string; channels: number }[], labels: Label[]): void {
  for (const piece of ["overhead", "room"] as const) {
    const open = labels.flatMap((l, i) => (l.piece === piece && l.place === "close" ? [i] : []));
    if (
      open.length !== 2 ||
      labels.some((l) => l.piece === piece && (l.place === "left" || l.place === "right"))
    )
      continue;
    const numbers = open.map((i) => / (1|2) $/.exec(wordsOf(files[i]!.file))?.[1]);
    if (numbers[0] === "1" && numbers[1] === "2") {
      labels[open[0]!]!.place = "left";
      labels[open[1]!]!.place = "right";
    }
  }
}

/** Two different files that came out as the same tom: the later ones move down to the next free one. */
function completeToms(labels: Label[]): void {
  const order: Piece[] = ["tom1", "tom2", "tom3"];
  const seen = new Set<string>();
  for (const label of labels) {
    if (!order.includes(label.piece)) continue;
    let at = order.indexOf(label.piece);
    while (at < 2 && seen.has(`${order[at]}/${label.place}`)) at++;
    label.piece = order[at]!;
    seen.add(`${label.piece}/${label.place}`);
  }
}
