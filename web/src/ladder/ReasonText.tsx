import { leanAt, type Layout } from './layout';
import { wrap } from '../parts/measure';

/** Where a rail stands at a height of the drawing. */
export const horizontalPosition = (layout: Layout, side: 'left' | 'right', y: number) =>
  layout[side] + leanAt(layout, y);

/** The few words beside a statement that say what became of it. */
export function ReasonText(props: {
  layout: Layout;
  y: number;
  from: number;
  strong: boolean;
  reason: string;
  via?: string;
}) {
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
