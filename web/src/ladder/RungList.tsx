import type { ClimbViewModel } from '../api/client';
import type { Layout, Row, Step } from './layout';
import { fit, textWidth } from '../parts/measure';
import { Pressable } from '../parts/Pressable';
import { ReasonText, horizontalPosition } from './ReasonText';

/** One rung with what stands on it. */
export function RungStep(props: {
  layout: Layout;
  step: Step;
  drawing: ClimbViewModel;
  chosen?: string;
  drafted?: Set<string>;
  onChoose: (p: string) => void;
}) {
  const { layout, step, drawing } = props;
  const { rung } = step;
  const middle = step.bottom - 3 - (layout.row * Math.max(1, step.rows.length)) / 2;
  const empty = step.rows.length === 0 && step.index !== 0;
  const labelX = horizontalPosition(layout, 'left', middle) - 24;
  const room = labelX - 2;
  const left = horizontalPosition(layout, 'left', step.bottom);
  const right = horizontalPosition(layout, 'right', step.bottom);
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
          d={`M${horizontalPosition(layout, 'left', step.top + 4) + 2} ${step.top + 4}L${left + 2} ${step.bottom}H${right - 2}L${horizontalPosition(layout, 'right', step.top + 4) - 2} ${step.top + 4}Z`}
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
          drafted={props.drafted?.has(row.statement.policy) ?? false}
          onPress={() => props.onChoose(row.statement.policy)}
        />
      ))}
      {step.lock && <LockBar layout={layout} y={step.top} />}
    </g>
  );
}

/** The bar of a lock, through both rails. */
function LockBar({ layout, y }: { layout: Layout; y: number }) {
  const from = horizontalPosition(layout, 'left', y) - 9;
  const to = horizontalPosition(layout, 'right', y) + 16;
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

function BuiltIn({ layout, step, drawing }: { layout: Layout; step: Step; drawing: ClimbViewModel }) {
  const y = step.bottom - 3 - layout.row / 2;
  const left = horizontalPosition(layout, 'left', y);
  const right = horizontalPosition(layout, 'right', y);
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
      <ReasonText layout={layout} y={y} from={right + 12} strong={step.decides} reason={drawing.builtIn.reason} />
    </g>
  );
}

function StatementRow(props: {
  layout: Layout;
  row: Row;
  cut: boolean;
  pressed: boolean;
  drafted: boolean;
  onPress: () => void;
}) {
  const { layout, row, cut, pressed } = props;
  const { statement, y } = row;
  const left = horizontalPosition(layout, 'left', y);
  const right = horizontalPosition(layout, 'right', y);
  const heavy = row.decides;
  const idle = cut || !row.inPlay;
  const ink = heavy ? 'var(--on-decide)' : props.drafted ? 'var(--draft)' : idle ? 'var(--ink2)' : 'var(--ink)';
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
        stroke={props.drafted && !heavy ? 'var(--draft)' : pressed && !heavy ? 'var(--decide)' : 'none'}
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
      <ReasonText
        layout={layout}
        y={y}
        from={right + 14}
        strong={heavy}
        reason={statement.reason}
        via={statement.via}
      />
    </Pressable>
  );
}
