import { useMemo, type KeyboardEvent, type ReactNode } from 'react';
import type { Drawing } from '../api/client';
import { layOut, leanAt, type Beam, type Layout, type Plate, type Row, type Step } from './layout';
import { fit, textWidth, wrap } from './measure';

interface Props {
  drawing: Drawing;
  width: number;
  /** Height that the drawing may spread to. */
  room: number;
  chosen?: string;
  onChoose: (policy: string) => void;
}

/**
 * The ladder of one account and one setting. The value climbs along the left rail, from the statement that decides through
 * caps and gates to the answer on top; what lost stands on its rung with the words that say why.
 */
export function DrawnLadder({ drawing, width, room, chosen, onChoose }: Props) {
  const layout = useMemo(() => layOut(drawing, width, room), [drawing, width, room]);
  const walk = (event: KeyboardEvent<SVGSVGElement>) => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    const stops = [...event.currentTarget.querySelectorAll<SVGElement>('[tabindex="0"]')];
    const at = stops.indexOf(document.activeElement as unknown as SVGElement);
    const next = stops[at + (event.key === 'ArrowDown' ? 1 : -1)];
    if (next) {
      event.preventDefault();
      next.focus();
    }
  };
  return (
    // The keys move between the statements, which are buttons of their own.

    <svg
      width={layout.width}
      height={layout.height}
      viewBox={`0 0 ${layout.width} ${layout.height}`}
      role="list"
      aria-label={`The ladder of ${drawing.account} for ${drawing.setting}, from the top`}
      onKeyDown={walk}
      className="block select-none"
      style={{ fontFamily: 'var(--font-sans)' }}
    >
      <Rails layout={layout} />
      <Riser layout={layout} />
      <Answer layout={layout} drawing={drawing} />
      {layout.plates.map((plate, i) => (
        <GatePlate key={i} layout={layout} plate={plate} />
      ))}
      {layout.beams.map((beam) => (
        <CapBeam key={beam.statement.policy} layout={layout} beam={beam} chosen={chosen} onChoose={onChoose} />
      ))}
      {layout.steps.map((step) => (
        <RungStep key={step.index} layout={layout} step={step} drawing={drawing} chosen={chosen} onChoose={onChoose} />
      ))}
    </svg>
  );
}

const x = (layout: Layout, side: 'left' | 'right', y: number) => layout[side] + leanAt(layout, y);

function Rails({ layout }: { layout: Layout }) {
  const { railTop, railFoot, lockY } = layout;
  const solid = lockY ?? railTop;
  return (
    <g aria-hidden fill="none" stroke="var(--ink)">
      {(['left', 'right'] as const).map((side) => (
        <g key={side}>
          <path d={`M${x(layout, side, railFoot)} ${railFoot}L${x(layout, side, solid)} ${solid}`} strokeWidth={3} />
          {lockY !== undefined && (
            <path
              d={`M${x(layout, side, lockY)} ${lockY}L${x(layout, side, railTop)} ${railTop}`}
              strokeWidth={1.5}
              stroke="var(--line2)"
              strokeDasharray="3 5"
            />
          )}
        </g>
      ))}
    </g>
  );
}

/** The way of the value, beside the left rail: from where it is decided up to the answer, or to the gate that stops it. */
function Riser({ layout }: { layout: Layout }) {
  const off = 13;
  const at = (y: number) => x(layout, 'left', Math.max(y, layout.railTop)) - off;
  const shut = [...layout.plates].reverse().find((p) => !p.gate.met);
  const end = shut ? shut.y + 15 : layout.answerY + 17;
  const foot = layout.decidesY;
  const turn = layout.railTop;
  return (
    <g aria-hidden fill="none" stroke="var(--decide)" strokeWidth={4}>
      <path
        d={`M${x(layout, 'left', foot) + 2} ${foot}H${at(foot)}L${at(turn)} ${Math.min(turn, foot)}V${end}`}
        strokeLinejoin="round"
      />
      {shut && <path d={`M${at(0) - 7} ${end}h14`} stroke="var(--shut)" strokeWidth={4} />}
    </g>
  );
}

function Answer({ layout, drawing }: { layout: Layout; drawing: Drawing }) {
  const y = layout.answerY;
  const from = x(layout, 'left', layout.railTop) - 22;
  const blocked = drawing.gates.some((g) => !g.met);
  const lead = blocked ? 'in force, behind a closed gate' : 'in force';
  const leadWidth = textWidth(lead, 13) + 30;
  // As wide as the ladder, and wider for a long value where there is room.
  const wanted = leadWidth + textWidth(drawing.value, 17, 700) + 20;
  const width = Math.min(layout.width - from - 4, Math.max(layout.right - layout.left + 34, wanted));
  const ink = blocked ? 'var(--ink)' : 'var(--on-decide)';
  return (
    <g role="listitem" aria-label={`In force: ${drawing.value}${blocked ? ', the fallback behind a closed gate' : ''}`}>
      <rect
        x={from}
        y={y - 16}
        width={width}
        height={32}
        rx={3}
        fill={blocked ? 'var(--sheet)' : 'var(--decide)'}
        stroke={blocked ? 'var(--shut)' : 'var(--decide)'}
        strokeWidth={2}
      />
      <text x={from + 14} y={y + 5} fontSize={13} fill={ink}>
        {lead}
      </text>
      <text x={from + width - 14} y={y + 6} fontSize={17} fontWeight={700} textAnchor="end" fill={ink}>
        {fit(drawing.value, width - leadWidth - 14, 17, 700)}
        <title>{drawing.value}</title>
      </text>
    </g>
  );
}

function GatePlate({ layout, plate }: { layout: Layout; plate: Plate }) {
  const { gate, y } = plate;
  const from = x(layout, 'left', layout.railTop) - 22;
  const width = layout.width - from - 4;
  const colour = gate.met ? 'var(--open)' : 'var(--shut)';
  const lines = wrap(gate.evidence, width - 66, 13, 1);
  return (
    <g role="listitem" aria-label={`Gate ${gate.met ? 'open' : 'closed'}: ${gate.need}; ${gate.evidence}`}>
      <rect
        x={from}
        y={y - 19}
        width={width}
        height={39}
        rx={3}
        fill="var(--paper)"
        stroke={gate.met ? 'var(--line2)' : colour}
        strokeWidth={gate.met ? 1 : 2}
      />
      <g stroke={colour} strokeWidth={2.5} fill="none" aria-hidden>
        {gate.met ? (
          <path d={`M${from + 5} ${y - 12}v25M${from + 15} ${y - 12}v25`} />
        ) : (
          <path
            d={`M${from + 4} ${y - 6}h22M${from + 4} ${y + 7}h22M${from + 10} ${y - 12}v25M${from + 20} ${y - 12}v25`}
          />
        )}
      </g>
      <text x={from + 36} y={y - 3} fontSize={13} fill="var(--ink)">
        <tspan fontWeight={700}>{fit(gate.need, width - 130, 13, 700)}</tspan>
        <tspan fill={colour} fontWeight={600} dx={8}>
          {gate.met ? 'open' : 'closed'}
        </tspan>
        <title>{gate.need}</title>
      </text>
      {lines.map((line, i) => (
        <text key={i} x={from + 36} y={y + 13} fontSize={13} fill="var(--ink2)">
          {line}
          <title>{gate.evidence}</title>
        </text>
      ))}
    </g>
  );
}

function Pressable(props: { label: string; pressed: boolean; onPress: () => void; children: ReactNode }) {
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={props.label}
      aria-pressed={props.pressed}
      className="cursor-pointer"
      onClick={props.onPress}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return;
        e.preventDefault();
        props.onPress();
      }}
    >
      {props.children}
    </g>
  );
}

function CapBeam({
  layout,
  beam,
  chosen,
  onChoose,
}: {
  layout: Layout;
  beam: Beam;
  chosen?: string;
  onChoose: (p: string) => void;
}) {
  const { statement, y, binds } = beam;
  const from = x(layout, 'left', layout.railTop) - 22;
  const to = x(layout, 'right', layout.railTop) + 12;
  const pressed = chosen === statement.policy;
  const value = fit(`cap ${statement.value}`, (to - from) * 0.66, 13, 600);
  return (
    <g role="listitem" aria-label={`Cap: ${statement.name}, ${statement.value}, ${statement.reason}`}>
      <Pressable
        label={`${statement.name} caps at ${statement.value}: ${statement.reason}`}
        pressed={pressed}
        onPress={() => onChoose(statement.policy)}
      >
        <rect
          x={from}
          y={y - 12}
          width={to - from}
          height={24}
          fill={binds ? 'var(--ink)' : 'var(--well)'}
          stroke={pressed ? 'var(--decide)' : binds ? 'var(--ink)' : 'var(--line2)'}
          strokeWidth={pressed ? 2 : 1}
        />
        <text
          x={from + 12}
          y={y + 5}
          fontSize={13}
          fontWeight={binds ? 600 : 400}
          fill={binds ? 'var(--sheet)' : 'var(--ink)'}
        >
          {fit(statement.name, to - from - textWidth(value, 13, 600) - 34, 13, 600)}
          <title>{statement.name}</title>
        </text>
        <text
          x={to - 10}
          y={y + 5}
          fontSize={13}
          fontWeight={600}
          textAnchor="end"
          fill={binds ? 'var(--sheet)' : 'var(--ink)'}
        >
          {value}
          <title>{statement.value}</title>
        </text>
        <Reason layout={layout} y={y} from={to + 12} strong={binds} reason={statement.reason} via={statement.via} />
      </Pressable>
    </g>
  );
}

function Reason(props: { layout: Layout; y: number; from: number; strong: boolean; reason: string; via?: string }) {
  const room = props.layout.width - props.from - 2;
  const lines = wrap(props.reason, room, 13, 2, props.strong ? 700 : 400);
  return (
    <text
      x={props.from}
      y={props.y + 4.5 - (lines.length - 1) * 7.5}
      fontSize={13}
      fontWeight={props.strong ? 700 : 400}
      fill={props.strong ? 'var(--decide)' : 'var(--ink)'}
    >
      {lines.map((line, i) => (
        <tspan key={i} x={props.from} dy={i === 0 ? 0 : 15}>
          {line}
        </tspan>
      ))}
      <title>{props.via ? `${props.reason} · ${props.via}` : props.reason}</title>
    </text>
  );
}

function RungStep(props: {
  layout: Layout;
  step: Step;
  drawing: Drawing;
  chosen?: string;
  onChoose: (p: string) => void;
}) {
  const { layout, step, drawing } = props;
  const { rung } = step;
  const middle = step.bottom - 3 - (layout.row * Math.max(1, step.rows.length)) / 2;
  const empty = step.rows.length === 0 && step.index !== 0;
  const labelX = x(layout, 'left', middle) - 24;
  const room = labelX - 2;
  const left = x(layout, 'left', step.bottom);
  const right = x(layout, 'right', step.bottom);
  const says = step.rows.map((r) => `${r.statement.name} says ${r.statement.value}, ${r.statement.reason}`).join('; ');
  const builtInWords = `the catalogue says ${drawing.builtIn.value}`;
  return (
    <g
      role="listitem"
      aria-label={`${rung.name}, ${rung.place}: ${step.index === 0 ? builtInWords : says || 'nothing is said here'}`}
    >
      {step.rows.length > 1 && (
        <path
          aria-hidden
          d={`M${x(layout, 'left', step.top + 4) + 2} ${step.top + 4}L${left + 2} ${step.bottom}H${right - 2}L${x(layout, 'right', step.top + 4) - 2} ${step.top + 4}Z`}
          fill="var(--paper)"
        />
      )}
      <path
        aria-hidden
        d={`M${left} ${step.bottom}H${right}`}
        stroke={step.cut ? 'var(--line2)' : step.decides ? 'var(--decide)' : empty ? 'var(--line2)' : 'var(--ink)'}
        strokeWidth={step.decides ? 4 : empty || step.cut ? 1 : 2}
        strokeDasharray={step.cut ? '3 5' : undefined}
      />
      {empty ? (
        <text x={labelX} y={step.bottom - 5} fontSize={12.5} textAnchor="end" fill="var(--ink2)">
          {fit(rung.height === 'unit' ? rung.place : rung.name, room, 12.5)}
          <title>{`${rung.name}: ${rung.place}`}</title>
        </text>
      ) : (
        <text x={labelX} y={middle - 2} fontSize={13} textAnchor="end" fill="var(--ink)">
          <tspan x={labelX} fontWeight={700}>
            {rung.name}
          </tspan>
          <tspan x={labelX} dy={15} fill="var(--ink2)" fontSize={12.5}>
            {fit(rung.place, room, 12.5)}
          </tspan>
          <title>{`${rung.name}: ${rung.place}`}</title>
        </text>
      )}
      {step.index === 0 && <BuiltIn layout={layout} step={step} drawing={drawing} />}
      {step.rows.map((row) => (
        <StatementRow
          key={row.statement.policy}
          layout={layout}
          row={row}
          cut={step.cut || row.statement.verdict === 'cut'}
          pressed={props.chosen === row.statement.policy}
          onPress={() => props.onChoose(row.statement.policy)}
        />
      ))}
      {step.lock && <LockBar layout={layout} y={step.top} />}
    </g>
  );
}

/** The bar of a lock, through both rails. */
function LockBar({ layout, y }: { layout: Layout; y: number }) {
  const from = x(layout, 'left', y) - 9;
  const to = x(layout, 'right', y) + 16;
  return (
    <g aria-hidden>
      <path d={`M${from} ${y}H${to}`} stroke="var(--ink)" strokeWidth={6} />
      <path d={`M${from} ${y - 7}v14M${to} ${y - 7}v14`} stroke="var(--ink)" strokeWidth={3} />
      <text x={to + 8} y={y - 6} fontSize={12.5} fill="var(--ink2)">
        {fit('locked: nothing above counts', layout.width - to - 10, 12.5)}
      </text>
    </g>
  );
}

function BuiltIn({ layout, step, drawing }: { layout: Layout; step: Step; drawing: Drawing }) {
  const y = step.bottom - 3 - layout.row / 2;
  const left = x(layout, 'left', y);
  const right = x(layout, 'right', y);
  const ink = step.decides ? 'var(--on-decide)' : 'var(--ink)';
  const { follows } = drawing.builtIn;
  return (
    <g>
      {step.decides && (
        <rect
          x={left - 3}
          y={y - layout.row / 2}
          width={right - left + 6}
          height={layout.row}
          rx={2}
          fill="var(--decide)"
          aria-hidden
        />
      )}
      <text x={left + 14} y={y + 5} fontSize={step.decides ? 15 : 14} fontWeight={step.decides ? 700 : 400} fill={ink}>
        {follows ? fit(`follows ${follows.title}`, (right - left) * 0.62, 14) : 'the catalogue'}
      </text>
      <text
        x={right - 14}
        y={y + 5}
        fontSize={step.decides ? 15 : 14}
        fontWeight={step.decides ? 700 : 500}
        textAnchor="end"
        fill={ink}
      >
        {fit(follows ? follows.value : drawing.builtIn.value, (right - left) * (follows ? 0.3 : 0.55), 14, 600)}
        <title>{follows ? `${follows.title} is ${follows.value}` : drawing.builtIn.value}</title>
      </text>
      <Reason layout={layout} y={y} from={right + 12} strong={step.decides} reason={drawing.builtIn.reason} />
    </g>
  );
}

function StatementRow(props: { layout: Layout; row: Row; cut: boolean; pressed: boolean; onPress: () => void }) {
  const { layout, row, cut, pressed } = props;
  const { statement, y } = row;
  const left = x(layout, 'left', y);
  const right = x(layout, 'right', y);
  const heavy = row.decides;
  const idle = cut || !row.inPlay;
  const ink = heavy ? 'var(--on-decide)' : idle ? 'var(--ink2)' : 'var(--ink)';
  const size = heavy ? 15 : 14;
  const weight = heavy ? 700 : 400;
  const room = right - left - 28;
  // The name comes first; the value gets what is left, and two fifths at least.
  const forValue = Math.max(room * 0.4, room - textWidth(statement.name, size, weight + 200) - 12);
  const value = fit(statement.value, forValue, size, weight + 200);
  const nameRoom = room - textWidth(value, size, weight + 200) - 12;
  return (
    <Pressable
      label={`${statement.name} says ${statement.value}${statement.lock ? ', locked' : ''}; by ${statement.via}: ${statement.reason}`}
      pressed={pressed}
      onPress={props.onPress}
    >
      <rect
        x={left - 3}
        y={y - layout.row / 2 + 1}
        width={right - left + 6}
        height={layout.row - 2}
        rx={2}
        fill={heavy ? 'var(--decide)' : row.adds ? 'var(--well)' : 'transparent'}
        stroke={pressed && !heavy ? 'var(--decide)' : 'none'}
        strokeWidth={2}
      />
      <text
        x={left + 14}
        y={y + 5}
        fontSize={size}
        fontWeight={weight}
        fill={ink}
        textDecoration={idle ? 'line-through' : undefined}
      >
        {fit(statement.name, nameRoom, size, weight)}
        <title>{`${statement.name} · ${statement.via}`}</title>
      </text>
      <text x={right - 14} y={y + 5} fontSize={size} fontWeight={heavy ? 700 : 500} textAnchor="end" fill={ink}>
        {value}
        <title>{statement.value}</title>
      </text>
      <Reason layout={layout} y={y} from={right + 14} strong={heavy} reason={statement.reason} via={statement.via} />
    </Pressable>
  );
}
