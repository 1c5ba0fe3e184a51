import type { ClimbViewModel } from '../api/client';

/** A point or size in the drawing, in CSS pixels. */
type Px = number;

type Drawn = ClimbViewModel['statements'][number];

/** One statement as it stands on its rung. */
export interface Row {
  statement: Drawn;
  /** The middle of the row. */
  y: Px;
  decides: boolean;
  adds: boolean;
  inPlay: boolean;
}

/** One rung with what stands on it, between two heights of the drawing. */
export interface Step {
  rung: ClimbViewModel['rungs'][number];
  index: number;
  top: Px;
  /** Where the rung itself lies; what stands on it is above. */
  bottom: Px;
  rows: Row[];
  decides: boolean;
  /** Above a lock: nothing here counts. */
  cut: boolean;
  /** On this rung a lock bars the rails. */
  lock: boolean;
}

/** A cap as a beam across the top. */
export interface Beam {
  statement: Drawn;
  y: Px;
  binds: boolean;
}

/** A gate as a plate over the ladder. */
export interface Plate {
  gate: ClimbViewModel['gates'][number];
  y: Px;
}

/** The ladder laid out: everything that is drawn, with its place. */
export interface Layout {
  width: Px;
  height: Px;
  /** The rails at the foot; at the top they have moved by {@link lean}. */
  left: Px;
  right: Px;
  lean: Px;
  steps: Step[];
  beams: Beam[];
  plates: Plate[];
  /** The place of the value in force, on top of it all. */
  answerY: Px;
  /** Where the rails end. */
  railTop: Px;
  railFoot: Px;
  /** The height of one statement. */
  row: Px;
  /** Where the value starts to climb. */
  decidesY: Px;
  /** The lock's height, where there is one. */
  lockY?: Px;
}

/** The height of one statement, before there is room to stretch. */
export const ROW = 29;
const THIN = 25;
const PADDING = 7;
const BEAM = 32;
const PLATE = 46;
const ANSWER = 46;
const FOOT = 16;

const MOST_STRETCH = 1.45;

/**
 * Lays a drawing out for a width. The height follows from what there is to draw; where there is more room, the rungs spread.
 * Linear in the statements.
 */
export function layOut(drawing: ClimbViewModel, width: Px, room: Px = 0): Layout {
  const tight = place(drawing, width, 1);
  const rungs = tight.railFoot - tight.railTop;
  const stretch = Math.min(MOST_STRETCH, Math.max(1, (room - (tight.height - rungs)) / rungs));
  return stretch === 1 ? tight : place(drawing, width, stretch);
}

function place(drawing: ClimbViewModel, width: Px, stretch: number): Layout {
  const row = Math.round(ROW * Math.min(stretch, 1.15));
  const padding = Math.round(PADDING * stretch * stretch * stretch);
  const thin = Math.round(THIN * stretch);
  const labels = Math.min(150, Math.max(104, width * 0.205));
  const reasons = Math.min(230, Math.max(150, width * 0.29));
  const lean = 12;
  const left = labels + 18;
  const right = Math.max(left + 190, width - reasons - lean - 16);
  const sets = drawing.statements.filter((s) => !s.cap);
  const caps = drawing.statements.filter((s) => s.cap);
  const lock = lockRung(drawing);

  let y = 8 + ANSWER;
  const answerY = 8 + ANSWER / 2 - 4;
  const plates = [...drawing.gates].reverse().map((gate) => {
    const plate = { gate, y: y + PLATE / 2 };
    y += PLATE;
    return plate;
  });
  if (plates.length > 0) y += 4;
  // The strictest cap lies lowest, where the value meets it first.
  const beams = [...caps]
    .sort((a, b) => Number(a.verdict === 'binds') - Number(b.verdict === 'binds'))
    .map((statement) => {
      const beam = { statement, y: y + BEAM / 2, binds: statement.verdict === 'binds' };
      y += BEAM;
      return beam;
    });
  const railTop = y + 4;
  y += 10;
  const steps: Step[] = [];
  for (let index = drawing.rungs.length - 1; index >= 0; index--) {
    const rung = drawing.rungs[index];
    if (!rung) continue;
    const standing = index === 0 ? [] : sets.filter((s) => s.rung === index);
    const count = index === 0 ? 1 : standing.length;
    const top = y;
    const rows = standing.map((statement, i) => ({
      statement,
      y: top + padding + row * i + row / 2,
      decides: statement.verdict === 'decides',
      adds: statement.verdict === 'adds',
      inPlay: !['paused', 'early', 'ended', 'excepted'].includes(statement.verdict),
    }));
    y += count === 0 ? thin : padding + row * count + 3;
    steps.push({
      rung,
      index,
      top,
      bottom: y,
      rows,
      decides: drawing.decidingRung === index,
      cut: lock !== undefined && index > lock,
      lock: lock === index,
    });
  }
  const deciding = steps.find((s) => s.decides);
  const decidesY = deciding?.rows.find((r) => r.decides)?.y ?? (deciding ? deciding.bottom - 3 - row / 2 : y);
  const lockStep = steps.find((s) => s.lock);
  return {
    width,
    height: y + FOOT + 6,
    left,
    right,
    lean,
    steps,
    beams,
    plates,
    answerY,
    railTop,
    railFoot: y + FOOT,
    row,
    decidesY,
    lockY: lockStep?.top,
  };
}

/** The rung of the lowest lock that counts. */
function lockRung(drawing: ClimbViewModel): number | undefined {
  const locking = drawing.statements.filter(
    (s) => s.lock && !s.cap && (s.verdict === 'decides' || s.verdict === 'tie' || s.verdict === 'adds'),
  );
  return locking.length > 0 ? Math.min(...locking.map((s) => s.rung)) : undefined;
}

/** How far a rail has leaned over at a height. */
export function leanAt(layout: Layout, y: Px): Px {
  return (layout.lean * (layout.railFoot - y)) / (layout.railFoot - layout.railTop || 1);
}
