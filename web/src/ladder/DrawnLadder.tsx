import { useMemo, type KeyboardEvent } from 'react';
import type { ClimbViewModel } from '../api/client';
import { layOut, type Layout } from './layout';
import { RungStep } from './RungList';
import { AnswerHeader, CapBeam, GatePlate } from './AnswerHeader';
import { horizontalPosition } from './ReasonText';

interface Props {
  drawing: ClimbViewModel;
  width: number;
  /** Height that the drawing may spread to. */
  room: number;
  chosen?: string;
  /** The policies that a draft touches; their statements are drawn in the draft's colour. */
  drafted?: Set<string>;
  onChoose: (policy: string) => void;
  /** Climbs to another setting, at which a gate looks. */
  onClimb?: (setting: string) => void;
}

/**
 * The ladder of one account and one setting. The value climbs along the left rail, from the statement that decides through
 * caps and gates to the answer on top; what lost stands on its rung with the words that say why.
 */
export function DrawnLadder({ drawing, width, room, chosen, drafted, onChoose, onClimb }: Props) {
  const layout = useMemo(() => layOut(drawing, width, room), [drawing, width, room]);
  const deciding = drawing.statements.find((s) => s.verdict === 'decides');
  const byDraft = deciding !== undefined && (drafted?.has(deciding.policy) ?? false);
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
      // What a draft decides is drawn in the draft's colour, from the statement up to the answer.
      style={{ fontFamily: 'var(--font-sans)', ...(byDraft ? { '--decide': 'var(--draft)' } : {}) }}
    >
      <Rails layout={layout} />
      <Riser layout={layout} partial={drawing.partial} />
      <AnswerHeader layout={layout} drawing={drawing} />
      {layout.plates.map((plate, i) => (
        <GatePlate key={i} layout={layout} plate={plate} onClimb={onClimb} />
      ))}
      {layout.beams.map((beam) => (
        <CapBeam key={beam.statement.policy} layout={layout} beam={beam} chosen={chosen} onChoose={onChoose} />
      ))}
      {layout.steps.map((step) => (
        <RungStep
          key={step.index}
          layout={layout}
          step={step}
          drawing={drawing}
          chosen={chosen}
          drafted={drafted}
          onChoose={onChoose}
        />
      ))}
    </svg>
  );
}

function Rails({ layout }: { layout: Layout }) {
  const { railTop, railFoot, lockY } = layout;
  const solid = lockY ?? railTop;
  return (
    <g aria-hidden fill="none" stroke="var(--ink)">
      {(['left', 'right'] as const).map((side) => (
        <g key={side}>
          <path
            d={`M${horizontalPosition(layout, side, railFoot)} ${railFoot}L${horizontalPosition(layout, side, solid)} ${solid}`}
            strokeWidth={3}
          />
          {lockY !== undefined && (
            <path
              d={`M${horizontalPosition(layout, side, lockY)} ${lockY}L${horizontalPosition(layout, side, railTop)} ${railTop}`}
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

/**
 * The way of the value, beside the left rail: from where it is decided up to the answer, or to the gate that stops it. What a
 * gate leaves of it goes on beside that, thinner.
 */
function Riser({ layout, partial }: { layout: Layout; partial: boolean }) {
  const off = 13;
  const at = (y: number) => horizontalPosition(layout, 'left', Math.max(y, layout.railTop)) - off;
  const shut = [...layout.plates].reverse().find((p) => !p.gate.met);
  const end = shut ? shut.y + 15 : layout.answerY + 17;
  const foot = layout.decidesY;
  const turn = layout.railTop;
  return (
    <g aria-hidden fill="none" stroke="var(--decide)" strokeWidth={4}>
      <path
        d={`M${horizontalPosition(layout, 'left', foot) + 2} ${foot}H${at(foot)}L${at(turn)} ${Math.min(turn, foot)}V${end}`}
        strokeLinejoin="round"
      />
      {shut && partial && (
        <path d={`M${at(turn)} ${end}l-6 -8V${layout.answerY + 17}`} strokeWidth={2} strokeLinejoin="round" />
      )}
      {shut && <path d={`M${at(0) - 7} ${end}h14`} stroke="var(--shut)" strokeWidth={4} />}
    </g>
  );
}
