import type { ClimbViewModel } from '../api/client';
import { RungMark, rungWords } from '../parts/marks';
import type { Beam, Layout, Plate } from './layout';
import { fit, textWidth, wrap } from '../parts/measure';
import { Pressable } from '../parts/Pressable';
import { ReasonText, horizontalPosition } from './ReasonText';

/** The value in force, on top of it all. */
export function AnswerHeader({ layout, drawing }: { layout: Layout; drawing: ClimbViewModel }) {
  const y = layout.answerY;
  const from = horizontalPosition(layout, 'left', layout.railTop) - 22;
  const blocked = drawing.gates.some((g) => !g.met);
  const lead = drawing.partial ? 'in effect, in part' : blocked ? 'in effect, blocked' : 'in effect';
  const leadWidth = textWidth(lead, 13) + 30;
  // As wide as the ladder, and wider for a long value where there is room.
  const wanted = leadWidth + textWidth(drawing.value, 17, 700) + 20;
  const width = Math.min(layout.width - from - 4, Math.max(layout.right - layout.left + 34, wanted));
  const ink = blocked ? 'var(--ink)' : 'var(--on-decide)';
  return (
    <g
      role="listitem"
      aria-label={`In effect: ${drawing.value}${drawing.partial ? ' (in part)' : blocked ? ' (blocked)' : ''}`}
    >
      <rect
        x={from}
        y={y - 16}
        width={width}
        height={32}
        rx={3}
        fill={blocked ? 'var(--sheet)' : 'var(--decide)'}
        stroke={blocked && !drawing.partial ? 'var(--shut)' : 'var(--decide)'}
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

/** A gate as a plate, open or closed, with its evidence; one that looks at another setting shows from what height that comes. */
export function GatePlate(props: { layout: Layout; plate: Plate; onClimb?: (setting: string) => void }) {
  const { layout, onClimb } = props;
  const { gate, y } = props.plate;
  const from = horizontalPosition(layout, 'left', layout.railTop) - 22;
  const width = layout.width - from - 4;
  const colour = gate.met ? 'var(--open)' : 'var(--shut)';
  const { on } = gate;
  const room = on ? width - 66 - GLYPH : width - 66;
  const lines = wrap(gate.evidence, room, 13, 1);
  const drawn = (
    <>
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
      {on && (
        <foreignObject x={from + width - GLYPH} y={y - 10} width={15} height={20}>
          <div className="flex">
            <RungMark rung={on.rung} />
          </div>
        </foreignObject>
      )}
    </>
  );
  return (
    <g role="listitem" aria-label={`Gate ${gate.met ? 'open' : 'closed'}: ${gate.need}; ${gate.evidence}`}>
      {on && onClimb ? (
        <Pressable
          label={`Climb the ladder of ${on.title}, which is ${on.value}, ${rungWords(on.rung)}`}
          onPress={() => onClimb(on.setting)}
        >
          {drawn}
        </Pressable>
      ) : (
        drawn
      )}
    </g>
  );
}

const GLYPH = 28;

/** A cap as a beam that the value climbs into. */
export function CapBeam({
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
  const from = horizontalPosition(layout, 'left', layout.railTop) - 22;
  const to = horizontalPosition(layout, 'right', layout.railTop) + 12;
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
        <ReasonText layout={layout} y={y} from={to + 12} strong={binds} reason={statement.reason} via={statement.via} />
      </Pressable>
    </g>
  );
}
